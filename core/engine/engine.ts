/**
 * From steps and a window to pixels: brings the frames in, runs the phases over workers, keeps what may be wanted again.
 *
 * Windows are made one at a time, each by all workers. What is asked for of the same window at the same time (the picture,
 * the scope of it, the scope of an element) is made together, so that what they share is computed once. Urgent ones go
 * first: an idle one that is being made is put off and made again later. A picture that does not fit is made in bands.
 */

import { framesOf, type Step } from '../graph/steps'
import { emptyWindow, pixelCount, type Window } from '../image/window'
import type { Counting } from '../kernels/counting'
import { cutWindow } from '../image/cut'
import { measureWindow, type Wanted, type WindowReading } from '../measure/window-statistics'
import { windowsTogether } from './windows-together'
import type { ViewSettings } from '../kernels/kernels'
import { ArenaFullError } from './arena'
import { compile, type Storage } from './compile'
import { ComputedGoneError, withComputed } from './computed'
import { Crew } from './crew'
import { FramesWanted } from './frames-wanted'
import { Holdings, type KeptBuffer, type KeptFrame } from './holdings'
import { joinedBands, summedCounts } from './outputs'
import { outputBytes, tilesFor, type Output, type Phase, type Placed } from './program'
import type { LoadBounds, LoadFrame } from './source-frame'
import type { WorkerPort } from './worker-messages'

export interface EngineOptions {
  /** compiled from the built kernels.wasm */
  readonly module: WebAssembly.Module
  /** shared, with `initial` equal to `maximum`: it must not grow */
  readonly memory: WebAssembly.Memory
  readonly workers: number
  /** starts a worker; called again when one dies */
  readonly spawn: () => WorkerPort
  readonly load: LoadFrame
  /** with it, small windows bring only the parts of frames that they are made of */
  readonly bounds?: LoadBounds
}

export interface PictureOptions {
  readonly signal?: AbortSignal
  /** made when nothing else is wanted, and put off when something is */
  readonly idle?: boolean
  /** nothing of it will be wanted again: what was made on the way is not kept */
  readonly once?: boolean
}

/** What the memory's budget does to pictures at present. */
export interface MemoryState {
  readonly budgetBytes: number
  /** into how many bands the last picture was cut, since it did not fit in one piece */
  readonly bands: number
  /** frames that are brought in ahead of need have no room */
  readonly aheadWaits: boolean
}

/** The picture is not wanted any more. */
export class CancelledError extends Error {
  override readonly name = 'CancelledError'
}

type Bytes = Uint8Array<ArrayBuffer>

interface Job {
  readonly step: Step
  readonly window: Window
  readonly output: Output
  readonly idle: boolean
  readonly once: boolean
  readonly signal?: AbortSignal
  readonly resolve: (bytes: Bytes) => void
  readonly reject: (error: unknown) => void
  /** made together with others it failed, and it may be another's fault */
  separate: boolean
}

/** Frames that are brought in ahead of need. */
interface Ahead {
  readonly putOff: AbortController
  readonly ended: Promise<unknown>
}

/** A picture is not cut into bands lower than this. */
const leastBand = 16
/**
 * Turns of the microtask queue before the next window is begun: enough for whoever hears of a picture to show it and to ask
 * for the next one, so that what belongs together is made together.
 */
const turnsToListen = 16

export class Engine {
  private readonly holdings: Holdings
  private readonly wanted: FramesWanted
  private readonly crew: Crew
  private readonly urgent: Job[] = []
  private readonly idle: Job[] = []
  private current: { readonly idle: boolean; readonly putOff: AbortController } | null = null
  private listening = false
  private readonly ahead = new Set<Ahead>()
  /** keys of the steps of the last picture that was made and may be made again a little changed */
  private before: ReadonlySet<string> = new Set()
  /** keys of steps that are read instead of made */
  private computed: ReadonlySet<string> = new Set()
  private memory: MemoryState
  private readonly memoryListeners = new Set<() => void>()
  private closed = false

  constructor(private readonly options: EngineOptions) {
    this.holdings = new Holdings(options.memory.buffer, options.load)
    this.wanted = new FramesWanted(this.holdings, options.bounds)
    this.memory = { budgetBytes: options.memory.buffer.byteLength, bands: 1, aheadWaits: false }
    this.crew = new Crew(
      options,
      (bytes) => this.holdings.allocate(bytes),
      (address) => this.holdings.release(address),
    )
  }

  /** @returns premultiplied scene-linear RGBA of the window, four floats a pixel */
  async light(step: Step, window: Window, options?: PictureOptions): Promise<Float32Array<ArrayBuffer>> {
    return new Float32Array((await this.picture(step, window, { kind: 'light' }, options)).buffer)
  }

  /** @returns 8-bit RGBA of the window for the screen */
  view(step: Step, window: Window, view: ViewSettings, options?: PictureOptions): Promise<Bytes> {
    return this.picture(step, window, { kind: 'view', view }, options)
  }

  /** @returns red, green and blue planes of half floats, one after the other */
  async halves(step: Step, window: Window, options?: PictureOptions): Promise<Uint16Array<ArrayBuffer>> {
    return new Uint16Array((await this.picture(step, window, { kind: 'halves' }, options)).buffer)
  }

  /** @returns how many pixels of the window lie where, as `counting` says */
  async counts(
    step: Step,
    window: Window,
    counting: Counting,
    options?: PictureOptions,
  ): Promise<Uint32Array<ArrayBuffer>> {
    return new Uint32Array((await this.picture(step, window, { kind: 'counts', counting }, options)).buffer)
  }

  /**
   * Measures windows of a step: of frames only the parts are read that the windows are made of, each once.
   *
   * @returns in the order of the windows
   */
  async measure(
    step: Step,
    windows: readonly Window[],
    wanted: Wanted = {},
    options?: PictureOptions,
  ): Promise<WindowReading[]> {
    const held: ReadonlyMap<string, KeptFrame>[] = []
    try {
      const read = withComputed(step, this.computed)
      const groups = windowsTogether(windows)
      const bands = await Promise.allSettled(groups.map(({ around }) => this.wanted.bring([read], [around])))
      for (const band of bands) if (band.status === 'fulfilled') held.push(band.value)
      const failed = bands.find((band) => band.status === 'rejected')
      // What is gone is made again with the first window.
      if (failed && !(failed.reason instanceof ComputedGoneError)) throw failed.reason
      const readings = new Map<Window, WindowReading>()
      for (const { around, windows: own } of groups) {
        const light = await this.light(step, around, { ...options, once: true })
        for (const window of own) readings.set(window, measureWindow(cutWindow(light, around, window), window, wanted))
      }
      return windows.map((window) => readings.get(window) as WindowReading)
    } finally {
      for (const band of held) for (const kept of band.values()) this.holdings.letGo(kept)
    }
  }

  /**
   * Where a step's pixels lie at most: beyond it is empty, or nothing is known of it.
   *
   * @throws what loading throws
   */
  bounds(step: Step): Promise<Window> {
    return this.wanted.boundsOf(step)
  }

  /** Steps of these keys are read instead of made from now on. */
  readComputed(keys: ReadonlySet<string>): void {
    this.computed = keys
  }

  /**
   * Brings a step's frames in ahead of need, as far as there is room: a picture that is being made goes first.
   *
   * @throws what loading throws
   */
  async prefetch(step: Step): Promise<void> {
    const putOff = new AbortController()
    const bringing = this.holdings
      .bring(framesOf([withComputed(step, this.computed)]), () => whenAborted(putOff.signal))
      .then(
        (held) => {
          for (const kept of held.values()) this.holdings.letGo(kept)
          this.noteMemory({ aheadWaits: false })
        },
        (error: unknown) => {
          if (error instanceof ArenaFullError) this.noteMemory({ aheadWaits: true })
          // They are brought when the picture is made.
          if (!putOff.signal.aborted && !(error instanceof ArenaFullError)) throw error
        },
      )
    const ahead: Ahead = { putOff, ended: bringing.catch(() => undefined) }
    this.ahead.add(ahead)
    await bringing.finally(() => this.ahead.delete(ahead))
  }

  /** Starts the workers before there is work for them, so that the first picture need not wait for it. */
  startWorkers(): void {
    this.crew.startAll()
  }

  /** The same object until it changes. */
  readonly memoryState = (): MemoryState => this.memory

  /** @returns what ends the listening */
  readonly onMemory = (listener: () => void): (() => void) => {
    this.memoryListeners.add(listener)
    return () => void this.memoryListeners.delete(listener)
  }

  /** Bytes of the arena in use, kept things included. */
  usedBytes(): number {
    return this.holdings.usedBytes()
  }

  close(): void {
    this.closed = true
    for (const job of [...this.urgent.splice(0), ...this.idle.splice(0)]) job.reject(closedError())
    this.current?.putOff.abort()
    this.crew.close()
  }

  private picture(
    step: Step,
    window: Window,
    output: Output,
    { signal, idle = false, once = false }: PictureOptions = {},
  ): Promise<Bytes> {
    return new Promise((resolve, reject) => {
      if (this.closed) return reject(closedError())
      const job: Job = { step, window, output, idle, once, signal, resolve, reject, separate: false }
      if (idle) this.idle.push(job)
      else {
        this.urgent.push(job)
        if (this.current?.idle) this.current.putOff.abort()
      }
      void this.next()
    })
  }

  private async next(): Promise<void> {
    if (this.current || this.listening) return
    this.listening = true
    for (let turn = 0; turn < turnsToListen; turn++) await null
    this.listening = false
    const jobs = this.take()
    if (jobs.length === 0) return
    this.current = { idle: jobs[0].idle, putOff: new AbortController() }
    await this.settle(jobs, this.current.putOff.signal)
    this.current = null
    void this.next()
  }

  /** What is to be made next: one wish, and with it those of the same window that wait as well. */
  private take(): Job[] {
    const first = this.urgent.shift()
    if (!first) return this.idle.splice(0, 1)
    if (first.separate || first.once) return [first]
    const together = this.urgent.filter(
      (job) => !job.separate && !job.once && !job.signal?.aborted && sameWindow(job.window, first.window),
    )
    for (const job of together) this.urgent.splice(this.urgent.indexOf(job), 1)
    return [first, ...together]
  }

  /** Makes the jobs' outputs, or says why not; those that are called off by another's signal wait again. */
  private async settle(jobs: readonly Job[], putOff: AbortSignal): Promise<void> {
    const signals = jobs.flatMap((job) => job.signal ?? [])
    const signal = signals.length > 0 ? AbortSignal.any([putOff, ...signals]) : putOff
    try {
      const made = await this.make(jobs, signal)
      jobs.forEach((job, i) => job.resolve(made[i]))
    } catch (error) {
      for (const job of [...jobs].reverse()) {
        if (this.closed) job.reject(closedError())
        else if (job.signal?.aborted) job.reject(new CancelledError(calledOff))
        else if (signal.aborted) (job.idle ? this.idle : this.urgent).unshift(job)
        else if (jobs.length > 1) this.urgent.unshift(Object.assign(job, { separate: true }))
        else job.reject(error)
      }
    }
  }

  private async make(jobs: readonly Job[], signal: AbortSignal): Promise<Bytes[]> {
    try {
      return await this.makeNow(jobs, signal)
    } catch (error) {
      if (!(error instanceof ArenaFullError) || this.ahead.size === 0) throw error
    }
    // What is brought in for later pictures takes the room: it waits.
    const putOff = [...this.ahead]
    for (const one of putOff) one.putOff.abort()
    await Promise.all(putOff.map(({ ended }) => ended))
    return this.make(jobs, signal)
  }

  private async makeNow(jobs: readonly Job[], signal: AbortSignal): Promise<Bytes[]> {
    throwIfAborted(signal)
    const reading = jobs.map((job) => ({ ...job, step: withComputed(job.step, this.computed) }))
    const steps = reading.map(({ step }) => step)
    let held: ReadonlyMap<string, KeptFrame>
    try {
      held = await this.wanted.bring(steps, [jobs[0].window], () => whenAborted(signal))
    } catch (error) {
      if (!(error instanceof ComputedGoneError) || !this.computed.has(error.key)) throw error
      // It is made as if it had never been kept computed.
      this.computed = new Set([...this.computed].filter((key) => key !== error.key))
      return this.makeNow(jobs, signal)
    }
    try {
      const bands = { made: 0 }
      const made = await this.makeWindow(reading, jobs[0].window, held, signal, bands)
      if (!jobs[0].once && bands.made > 0) this.noteMemory({ bands: bands.made })
      return made
    } finally {
      for (const kept of held.values()) this.holdings.letGo(kept)
    }
  }

  /** In one piece if the memory allows, else in two halves, one above the other. */
  private async makeWindow(
    jobs: readonly Job[],
    window: Window,
    held: ReadonlyMap<string, KeptFrame>,
    signal: AbortSignal,
    bands: { made: number },
  ): Promise<Bytes[]> {
    if (pixelCount(window) === 0) return jobs.map(({ output }) => new Uint8Array(outputBytes(output, window)))
    try {
      const made = await this.makePiece(jobs, window, held, signal)
      bands.made++
      return made
    } catch (error) {
      if (!(error instanceof ArenaFullError) || window.height < 2 * leastBand) throw error
    }
    const height = window.height >> 1
    const upper = await this.makeWindow(jobs, { ...window, height }, held, signal, bands)
    const rest = { ...window, y: window.y + height, height: window.height - height }
    const lower = await this.makeWindow(jobs, rest, held, signal, bands)
    return jobs.map(({ output }, i) => joinedBands(output, upper[i], lower[i]))
  }

  private async makePiece(
    jobs: readonly Job[],
    window: Window,
    held: ReadonlyMap<string, KeptFrame>,
    signal: AbortSignal,
  ): Promise<Bytes[]> {
    const { holdings } = this
    const { once } = jobs[0]
    const used: KeptBuffer[] = []
    const made = new Map<string, KeptBuffer>()
    const storage: Storage = {
      frames: new Map([...held].map(([key, kept]) => [key, kept.frame])),
      frameBounds: ({ key }) => held.get(key)?.frame.bounds ?? this.wanted.known(key) ?? emptyWindow,
      find: (key, wanted) => {
        const found = holdings.findBuffer(key, wanted)
        if (!found) return null
        used.push(found)
        return found.buffer
      },
      make: (key, wanted) => {
        const kept = holdings.makeBuffer(wanted)
        made.set(key, kept)
        return kept.buffer
      },
      madeBefore: (key) => this.before.has(key),
      mapBlocks: (key, frame) => holdings.blocksOf(key, frame),
    }
    const roots = [...new Map(jobs.map(({ step }) => [step.key, step])).values()]
    const placed = new Map<Job, Placed>()
    try {
      const program = compile(roots, window, storage)
      for (const job of jobs) placed.set(job, this.place(job.output, window))
      const outputs = roots.map(({ key }, i): Phase => {
        const stored = jobs.filter(({ step }) => step.key === key).flatMap((job) => placed.get(job) ?? [])
        const rows = program.rows[i]
        return { phase: 'output', rows, placed: stored, window, ...tilesFor(rows, window) }
      })
      await this.crew.run([...program.phases, ...outputs], signal)
      throwIfAborted(signal)
      if (!once) {
        this.before = keysOf(roots)
        for (const [key, kept] of made) holdings.keepBuffer(key, kept)
      }
      return [...placed.values()].map((one) => this.finished(one, window))
    } finally {
      for (const { address } of placed.values()) holdings.release(address)
      for (const kept of [...used, ...made.values()]) holdings.letGo(kept)
    }
  }

  private noteMemory(change: Partial<MemoryState>): void {
    const { bands = this.memory.bands, aheadWaits = this.memory.aheadWaits } = change
    if (bands === this.memory.bands && aheadWaits === this.memory.aheadWaits) return
    this.memory = { ...this.memory, bands, aheadWaits }
    for (const listener of this.memoryListeners) listener()
  }

  /** Room for an output; every worker counts for itself. */
  private place(output: Output, window: Window): Placed {
    const shares = output.kind === 'counts' ? this.options.workers : 1
    return { output, address: this.holdings.allocate(shares * outputBytes(output, window)) }
  }

  private finished({ output, address }: Placed, window: Window): Bytes {
    const { buffer } = this.options.memory
    const bytes = outputBytes(output, window)
    return output.kind === 'counts'
      ? summedCounts(buffer, address, bytes, this.options.workers)
      : (new Uint8Array(buffer, address, bytes).slice() as Bytes)
  }
}

function sameWindow(a: Window, b: Window): boolean {
  return a.x === b.x && a.y === b.y && a.width === b.width && a.height === b.height
}

function keysOf(roots: readonly Step[]): Set<string> {
  const keys = new Set<string>()
  const visit = (step: Step): void => {
    if (keys.has(step.key)) return
    keys.add(step.key)
    step.inputs.forEach(visit)
  }
  roots.forEach(visit)
  return keys
}

const calledOff = 'The picture was called off.'

function closedError(): Error {
  return new Error('The engine was closed.')
}

function throwIfAborted(signal: AbortSignal): void {
  if (signal.aborted) throw new CancelledError(calledOff)
}

/** Never comes true; fails as soon as the signal says so. */
function whenAborted(signal: AbortSignal): Promise<never> {
  const promise = new Promise<never>((_resolve, reject) => {
    const stop = () => reject(new CancelledError(calledOff))
    if (signal.aborted) stop()
    else signal.addEventListener('abort', stop, { once: true })
  })
  // Mostly nobody waits any more when it fails.
  promise.catch(() => undefined)
  return promise
}
