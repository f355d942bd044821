/** The workers: shares the tiles of a phase among them, and replaces one that dies, so that its tiles are done again. */

import { pixelCount } from '../image/window'
import type { Phase } from './program'
import { PhaseRunner, tilesOfPhase, windowOf } from './run-phase'
import { controlWords, tileDone, workBytes, type FromWorker, type WorkerPort } from './worker-messages'

export interface CrewOptions {
  readonly module: WebAssembly.Module
  readonly memory: WebAssembly.Memory
  readonly workers: number
  readonly spawn: () => WorkerPort
}

interface Worker {
  port: WorkerPort
  readonly work: number
  busy: boolean
}

interface Running {
  readonly id: number
  readonly phases: readonly Phase[]
  readonly control: number
  readonly words: Int32Array
  failure: string | null
  settle(): void
}

/** A worker that dies more often than this during one phase is not bad luck. */
const mostDeaths = 3
/** Up to so many pixels over all phases, telling a second worker would take longer than computing them; */
const mostPixelsAlone = 120_000
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
    this.workers = Array.from({ length: options.workers }, () => {
      const worker: Worker = { port: options.spawn(), work: allocate(workBytes), busy: false }
      this.start(worker)
      return worker
    })
  }

  /**
   * Runs phases one after the other. Small ones are one worker's, all in one message.
   *
   * Ends when all tiles are done, or called off between tiles. @throws what a tile threw
   */
  async run(phases: readonly Phase[], signal: AbortSignal): Promise<void> {
    const pixels = phases.reduce((sum, phase) => sum + pixelCount(windowOf(phase)), 0)
    if (signal.aborted) return
    if (pixels <= mostPixelsHere) return this.here.run(phases)
    if (phases.length > 1 && pixels <= mostPixelsAlone) return this.share(phases, 1, signal)
    for (const phase of phases) {
      await this.share([phase], tilesOfPhase(phase).length, signal)
      if (signal.aborted) return
    }
  }

  private async share(phases: readonly Phase[], tiles: number, signal: AbortSignal): Promise<void> {
    if (tiles === 0) return
    const control = this.allocate((controlWords + tiles) * 4)
    const words = new Int32Array(this.options.memory.buffer, control, controlWords + tiles)
    words.fill(0)
    const stop = () => Atomics.store(words, 1, 1)
    if (signal.aborted) stop()
    signal.addEventListener('abort', stop)
    this.deaths = 0
    try {
      await new Promise<void>((resolve, reject) => {
        const running: Running = {
          id: this.nextId++,
          phases,
          control,
          words,
          failure: null,
          settle: () => (running.failure === null ? resolve() : reject(new Error(running.failure))),
        }
        this.running = running
        // A single tile wakes a single worker, each in turn.
        const helpers = tiles === 1 ? [this.workers[this.nextWorker++ % this.workers.length]] : this.workers
        for (const worker of helpers) this.post(worker, running, [])
      })
    } finally {
      this.running = null
      signal.removeEventListener('abort', stop)
      this.release(control)
    }
  }

  close(): void {
    this.closed = true
    for (const { port } of this.workers) port.terminate()
    if (this.running) {
      this.running.failure ??= 'The engine was closed.'
      this.running.settle()
    }
  }

  private start(worker: Worker): void {
    const { port, work } = worker
    const { module, memory } = this.options
    port.onMessage((message) => worker.port === port && this.hear(worker, message))
    port.onFailure((reason) => worker.port === port && this.replace(worker, reason))
    port.post({ kind: 'start', module, memory, work })
  }

  private post(worker: Worker, { id, phases, control }: Running, redo: readonly number[]): void {
    worker.busy = true
    worker.port.post({ kind: 'work', job: { id, phases, control, redo } })
  }

  private hear(worker: Worker, message: FromWorker): void {
    if (message.kind === 'ready') return
    const { running } = this
    if (!running || message.id !== running.id) return
    worker.busy = false
    if (message.kind === 'failed') {
      running.failure ??= message.message
      Atomics.store(running.words, 1, 1)
    }
    this.settleWhenDone(running)
  }

  private settleWhenDone(running: Running): void {
    if (this.workers.some((worker) => worker.busy)) return
    const stopped = Atomics.load(running.words, 1) !== 0
    const left = [...running.words.subarray(controlWords).keys()].filter(
      (index) => Atomics.load(running.words, controlWords + index) !== tileDone,
    )
    if (stopped || left.length === 0) running.settle()
    // Only tiles that a dead worker had taken can be left.
    else this.post(this.workers[this.nextWorker++ % this.workers.length], running, left)
  }

  private replace(worker: Worker, reason: string): void {
    if (this.closed) return
    worker.port.terminate()
    worker.port = this.options.spawn()
    this.start(worker)
    const { running } = this
    if (!running || !worker.busy) return
    if (++this.deaths > mostDeaths) {
      running.failure ??= `The workers of the engine keep failing (${reason}). Close other programs, or work at half scale.`
      Atomics.store(running.words, 1, 1)
      worker.busy = false
      this.settleWhenDone(running)
    } else this.post(worker, running, [])
  }
}
