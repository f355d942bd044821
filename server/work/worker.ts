/** Takes items of long work and does them, several at once: in the server, or in a process of its own. */

import { randomBytes } from 'node:crypto'
import { hostname } from 'node:os'
import type { WorkKindName } from '../../core/work'
import { HeldUpError, type AnyWorkKind } from './kind'
import type { Notifications } from './notifications'
import { isDatabaseAway, isPassing } from './passing'
import type { TakenItem, WorkStore } from './work-store'

export interface WorkerOptions {
  readonly store: WorkStore
  readonly notifications: Notifications
  readonly kinds: readonly AnyWorkKind[]
  /** items under way at once */
  readonly atOnce: number
  readonly complain: (sentence: string) => void
}

interface UnderWay {
  readonly item: TakenItem
  readonly abort: AbortController
  share: number
  told: number
  readonly ended: Promise<void>
}

const lookAgainMs = 2000
const keepMs = 2500
const databaseAgainMs = 500
/** An item that fails so often in passing ways has failed. */
const mostTries = 3
const tryAgainSeconds = 2

export class Worker {
  /** another one after every start: what an earlier process had is not this one's */
  readonly name = `${hostname()}-${process.pid}-${randomBytes(4).toString('hex')}`
  private readonly underWay = new Set<UnderWay>()
  private readonly kinds: ReadonlyMap<WorkKindName, AnyWorkKind>
  private stopping = false
  private wake: () => void = () => undefined
  private loop: Promise<void> | null = null
  private keeping: NodeJS.Timeout | null = null
  private away = false

  constructor(private readonly options: WorkerOptions) {
    this.kinds = new Map(options.kinds.map((kind) => [kind.kind, kind]))
  }

  start(): void {
    const { notifications } = this.options
    notifications.on('work', () => this.wake())
    notifications.on('back', () => this.wake())
    notifications.on('changed', (id) => {
      if ([...this.underWay].some(({ item }) => item.workId === id)) void this.callOffLost()
    })
    this.keeping = setInterval(() => void this.callOffLost(), keepMs)
    this.loop = this.takeAndRun()
  }

  /** What is under way goes back, and is begun again by whoever comes next. */
  async stop(): Promise<void> {
    this.stopping = true
    this.wake()
    for (const { abort } of this.underWay) abort.abort()
    await this.loop
    await Promise.all([...this.underWay].map(({ ended }) => ended))
    if (this.keeping) clearInterval(this.keeping)
  }

  private async takeAndRun(): Promise<void> {
    const { store, atOnce } = this.options
    while (!this.stopping) {
      const woken = new Promise<void>((resolve) => (this.wake = resolve))
      const free = atOnce - this.underWay.size
      const taken = free > 0 ? await this.asked(() => store.take(this.name, [...this.kinds.keys()], free)) : []
      for (const item of taken ?? []) this.begin(item)
      if (taken?.length === free && free > 0) continue
      await Promise.race([woken, new Promise((resolve) => setTimeout(resolve, lookAgainMs).unref())])
    }
  }

  private begin(item: TakenItem): void {
    const abort = new AbortController()
    const entry: UnderWay = {
      item,
      abort,
      share: 0,
      told: 0,
      ended: Promise.resolve()
        .then(() => this.run(item, abort.signal, (share) => (entry.share = share)))
        .finally(() => {
          this.underWay.delete(entry)
          this.wake()
        }),
    }
    this.underWay.add(entry)
  }

  private async run(item: TakenItem, signal: AbortSignal, progress: (share: number) => void): Promise<void> {
    const { store } = this.options
    const kind = this.kinds.get(item.kind)
    try {
      if (!kind) throw new Error(`This program knows no work of the kind "${item.kind}".`)
      const attempt = `${this.name}-${item.attempt}`
      const result = await kind.run(item.input, item.number, { signal, attempt, again: item.attempt > 1, progress })
      await this.untilAnswered(() => store.finish(item, (result ?? {}) as object))
    } catch (error) {
      await this.untilAnswered(() => this.afterError(item, signal, error)).catch((worse: unknown) =>
        this.options.complain(`Work could not be put back: ${worse instanceof Error ? worse.message : String(worse)}`),
      )
    }
  }

  private async afterError(item: TakenItem, signal: AbortSignal, error: unknown): Promise<void> {
    const { store } = this.options
    const sentence = error instanceof Error ? error.message : String(error)
    if (signal.aborted) {
      if (this.stopping) await store.putBack(item, 0, null)
    } else if (isDatabaseAway(error)) {
      // The item asked the database for something; that it was away is no fault of the work.
      await store.putBack(item, 0, null)
    } else if (error instanceof HeldUpError) await store.putBack(item, error.seconds, sentence)
    else if (isPassing(error) && item.tries + 1 < mostTries) await store.putBack(item, tryAgainSeconds, sentence, true)
    else await store.fail(item, sentence)
  }

  /** Keeps what is under way, and calls off what is this worker's no longer. */
  private async callOffLost(): Promise<void> {
    const entries = [...this.underWay]
    if (entries.length === 0) return
    const moved = entries.filter(({ share, told }) => share - told >= 0.01)
    const kept = await this.asked(() => this.options.store.keep(this.name, moved))
    if (!kept) return
    for (const entry of moved) entry.told = entry.share
    for (const { item, abort } of entries)
      if (!kept.some((one) => one.workId === item.workId && one.number === item.number && one.attempt === item.attempt))
        abort.abort()
  }

  /** The database may be away for a while; that is no fault of the work. */
  private async asked<T>(question: () => Promise<T>): Promise<T | null> {
    try {
      const answer = await question()
      this.away = false
      return answer
    } catch (error) {
      if (!this.away && !this.stopping)
        this.options.complain(
          `The database does not answer (${error instanceof Error ? error.message : String(error)}). Trying again.`,
        )
      this.away = true
      await new Promise((resolve) => setTimeout(resolve, databaseAgainMs))
      return null
    }
  }

  /** @throws what is no absence of the database */
  private async untilAnswered(question: () => Promise<unknown>): Promise<void> {
    for (;;) {
      try {
        await question()
        return
      } catch (error) {
        if (!isDatabaseAway(error)) throw error
        if (this.stopping) return
        await new Promise((resolve) => setTimeout(resolve, databaseAgainMs))
      }
    }
  }
}
