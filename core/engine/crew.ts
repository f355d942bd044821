/** The workers: lets them share the tiles of a picture, and replaces one that dies, so that its tiles are done again. */

import { pixelCount } from '../image/window'
import { outputBytes, type Phase } from './program'
import { PhaseRunner, windowOf } from './run-phase'
import { SharedTiles, sharedTilesBytes } from './shared-tiles'
import { workBytes, type FromWorker, type WorkerPort } from './worker-messages'

export interface CrewOptions {
  readonly module: WebAssembly.Module
  readonly memory: WebAssembly.Memory
  readonly workers: number
  readonly spawn: () => WorkerPort
}

interface Worker {
  readonly number: number
  /** null until there is work for it */
  port: WorkerPort | null
  readonly work: number
  busy: boolean
}

interface Running {
  readonly id: number
  readonly phases: readonly Phase[]
  /** byte address of `tiles`; null when one worker does everything */
  readonly control: number | null
  readonly tiles: SharedTiles | null
  failure: string | null
  /** a worker died while it counted: what it had counted cannot be told from what it had not */
  countsLost: boolean
  settle(): void
}

/** A worker that dies more often than this during one picture is not bad luck. */
const mostDeaths = 3
/** Up to so many pixels over all phases, telling a second worker would take longer than computing them; */
const mostPixelsForOne = 120_000
/** and up to so many, telling any worker would: what is under the pointer is computed on the spot. */
const mostPixelsHere = 40_000

export class Crew {
  private readonly workers: Worker[]
  private readonly here: PhaseRunner
  private running: Running | null = null
  private nextId = 1
  private nextWorker = 0
  private deaths = 0
  private closed = false

  constructor(
    private readonly options: CrewOptions,
    private readonly allocate: (bytes: number) => number,
    private readonly release: (address: number) => void,
  ) {
    this.here = new PhaseRunner(options.module, options.memory, allocate(workBytes))
    this.workers = Array.from({ length: options.workers }, (_, number): Worker => {
      return { number, port: null, work: allocate(workBytes), busy: false }
    })
  }

  /**
   * Runs phases one after the other. Small ones are one worker's.
   *
   * Ends when all tiles are done, or called off between tiles. @throws what a tile threw
   */
  async run(phases: readonly Phase[], signal: AbortSignal): Promise<void> {
    const pixels = phases.reduce((sum, phase) => sum + pixelCount(windowOf(phase)), 0)
    if (signal.aborted || pixels === 0) return
    this.deaths = 0
    do this.clearCounts(phases)
    while (!(await this.once(phases, pixels, signal)) && !signal.aborted)
  }

  private clearCounts(phases: readonly Phase[]): void {
    for (const phase of phases) {
      if (phase.phase !== 'output') continue
      for (const { output, address } of phase.placed) {
        if (output.kind !== 'counts') continue
        const bytes = this.workers.length * outputBytes(output, phase.window)
        new Uint8Array(this.options.memory.buffer, address, bytes).fill(0)
      }
    }
  }

  /** @returns whether it was done; if not, counts were lost and everything is to be done again */
  private async once(phases: readonly Phase[], pixels: number, signal: AbortSignal): Promise<boolean> {
    if (pixels <= mostPixelsHere) this.here.run(phases)
    else if (pixels <= mostPixelsForOne) return this.byOne(phases)
    else return this.share(phases, signal)
    return true
  }

  private byOne(phases: readonly Phase[]): Promise<boolean> {
    // Each in turn.
    return this.runOn([this.workers[this.nextWorker++ % this.workers.length]], phases, null, null)
  }

  private async share(phases: readonly Phase[], signal: AbortSignal): Promise<boolean> {
    const control = this.allocate(sharedTilesBytes(phases))
    const tiles = new SharedTiles(this.options.memory.buffer, control, phases)
    tiles.clear()
    const stop = () => tiles.stop()
    signal.addEventListener('abort', stop)
    try {
      return await this.runOn(this.workers, phases, control, tiles)
    } finally {
      signal.removeEventListener('abort', stop)
      this.release(control)
    }
  }

  private async runOn(
    helpers: readonly Worker[],
    phases: readonly Phase[],
    control: number | null,
    tiles: SharedTiles | null,
  ): Promise<boolean> {
    try {
      return await new Promise<boolean>((resolve, reject) => {
        const running: Running = {
          id: this.nextId++,
          phases,
          control,
          tiles,
          failure: null,
          countsLost: false,
          settle: () => (running.failure === null ? resolve(!running.countsLost) : reject(new Error(running.failure))),
        }
        this.running = running
        for (const worker of helpers) this.post(worker, running)
      })
    } finally {
      this.running = null
    }
  }

  close(): void {
    this.closed = true
    for (const { port } of this.workers) port?.terminate()
    if (this.running) {
      this.running.failure ??= 'The engine was closed.'
      this.running.settle()
    }
  }

  /** Starts the workers ahead of their first work. */
  startAll(): void {
    for (const worker of this.workers) worker.port ??= this.start(worker)
  }

  private start(worker: Worker): WorkerPort {
    const { work, number } = worker
    const { module, memory } = this.options
    const port = this.options.spawn()
    port.onMessage((message) => worker.port === port && this.hear(worker, message))
    port.onFailure((reason) => worker.port === port && this.replace(worker, reason))
    port.post({ kind: 'start', module, memory, work, number })
    return port
  }

  private post(worker: Worker, { id, phases, control }: Running): void {
    worker.busy = true
    worker.port ??= this.start(worker)
    worker.port.post({ kind: 'work', job: { id, phases, control } })
  }

  private hear(worker: Worker, message: FromWorker): void {
    if (message.kind === 'ready') return
    const { running } = this
    if (!running || message.id !== running.id) return
    if (message.kind === 'failed') this.fail(running, message.message)
    this.isDone(worker, running)
  }

  private fail(running: Running, sentence: string): void {
    running.failure ??= sentence
    running.tiles?.stop()
  }

  /** A worker is done when everything is done or called off, so the last one to say so ends the picture. */
  private isDone(worker: Worker, running: Running): void {
    worker.busy = false
    if (!this.workers.some(({ busy }) => busy)) running.settle()
  }

  private replace(worker: Worker, reason: string): void {
    if (this.closed) return
    worker.port?.terminate()
    worker.port = this.start(worker)
    const { running } = this
    if (!running || !worker.busy) return
    if (++this.deaths > mostDeaths)
      this.fail(
        running,
        `The workers of the engine keep failing (${reason}). Close other programs, or work at half scale.`,
      )
    else if (running.phases.some(isCounted)) {
      running.countsLost = true
      running.tiles?.stop()
    } else return this.post(worker, running)
    this.isDone(worker, running)
  }
}

function isCounted(phase: Phase): boolean {
  return phase.phase === 'output' && phase.placed.some(({ output }) => output.kind === 'counts')
}
