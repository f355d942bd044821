/** From a step and a window to pixels: brings the frames in, spreads the tiles over workers, keeps what was brought. */

import { LRUCache } from 'lru-cache'
import { pixelCount, type Window } from '../image/window'
import { bytesPerSample } from '../image/planes'
import type { ViewSettings } from '../kernels/kernels'
import { framesOf, type FrameRequest, type Step } from '../plan/steps'
import { Arena, ArenaFullError } from './arena'
import type { ResidentFrame } from './evaluate'
import type { LoadFrame, SourceFrame } from './source-frame'
import { scratchBytes, type FromWorker, type Output, type TileJob, type WorkerPort } from './worker-messages'

export interface EngineOptions {
  /** shared, with `initial` equal to `maximum`: it must not grow */
  readonly memory: WebAssembly.Memory
  readonly workers: readonly WorkerPort[]
  readonly load: LoadFrame
}

/** The picture is not wanted any more. */
export class CancelledError extends Error {
  override readonly name = 'CancelledError'
}

interface Resident {
  readonly frame: ResidentFrame
  readonly addresses: readonly number[]
  users: number
  /** dropped from the cache; freed when its last user is done */
  gone: boolean
}

interface Pending {
  waiting: number
  failure: string | null
  readonly finish: () => void
}

/** Most bytes of source frames kept, as a share of the memory; the rest is for pictures being made. */
const shareForFrames = 0.8

export class Engine {
  private readonly arena: Arena
  private readonly frames: LRUCache<string, Resident>
  private readonly loading = new Map<string, Promise<Resident>>()
  private readonly jobs = new Map<number, Pending>()
  private nextJob = 1
  private queue: Promise<unknown> = Promise.resolve()
  private broken: string | null = null

  constructor(private readonly options: EngineOptions) {
    const { memory, workers } = options
    const budget = memory.buffer.byteLength
    // Address 0 stays unused, so that 0 can mean "none".
    this.arena = new Arena(64, budget)
    this.frames = new LRUCache<string, Resident>({
      maxSize: Math.floor(budget * shareForFrames),
      sizeCalculation: ({ frame }) => Math.max(1, residentBytes(frame)),
      dispose: (resident) => {
        resident.gone = true
        this.freeIfUnused(resident)
      },
    })
    for (const worker of workers) {
      worker.onMessage((message) => this.hear(message))
      worker.onFailure((reason) => this.fail(reason))
      worker.post({ kind: 'start', memory, scratch: this.arena.allocate(scratchBytes), scratchBytes })
    }
  }

  /** @returns premultiplied scene-linear RGBA of the window, four floats a pixel */
  async light(step: Step, window: Window, signal?: AbortSignal): Promise<Float32Array> {
    const bytes = await this.compute(step, window, { kind: 'light' }, signal)
    return new Float32Array(bytes.buffer)
  }

  /** @returns 8-bit RGBA of the window for the screen */
  async view(step: Step, window: Window, view: ViewSettings, signal?: AbortSignal): Promise<Uint8Array<ArrayBuffer>> {
    return this.compute(step, window, { kind: 'view', view }, signal)
  }

  close(): void {
    this.fail('The engine was closed.')
    for (const worker of this.options.workers) worker.terminate()
  }

  private async compute(
    step: Step,
    window: Window,
    output: Output,
    signal?: AbortSignal,
  ): Promise<Uint8Array<ArrayBuffer>> {
    const residents = await this.hold(step, signal)
    try {
      // One picture at a time: it has all workers, and the next one waits its turn.
      const turn = this.queue.then(() => this.runJob(step, window, output, residents, signal))
      this.queue = turn.catch(() => undefined)
      return await turn
    } finally {
      for (const resident of residents.values()) {
        resident.users--
        this.freeIfUnused(resident)
      }
    }
  }

  private async hold(step: Step, signal?: AbortSignal): Promise<Map<string, Resident>> {
    const held = new Map<string, Resident>()
    const results = await Promise.allSettled(
      framesOf(step).map(async ({ key, request }) => {
        const resident = await this.residentToStay(key, request, signal)
        resident.users++
        held.set(key, resident)
      }),
    )
    const failed = results.find((result) => result.status === 'rejected')
    if (!failed) return held
    for (const resident of held.values()) {
      resident.users--
      this.freeIfUnused(resident)
    }
    throw failed.reason
  }

  private async runJob(
    step: Step,
    window: Window,
    output: Output,
    residents: ReadonlyMap<string, Resident>,
    signal?: AbortSignal,
  ): Promise<Uint8Array<ArrayBuffer>> {
    if (this.broken !== null) throw new Error(this.broken)
    if (signal?.aborted) throw new CancelledError('The picture was called off.')
    const bytes = pixelCount(window) * (output.kind === 'view' ? 4 : 16)
    if (bytes === 0) return new Uint8Array(0)
    const address = this.allocate(bytes)
    const control = this.allocate(8)
    const flags = new Int32Array(this.options.memory.buffer, control, 2)
    flags.fill(0)
    const stop = () => Atomics.store(flags, 1, 1)
    signal?.addEventListener('abort', stop)
    try {
      const frames = new Map([...residents].map(([key, resident]) => [key, resident.frame]))
      await this.dispatch({ id: this.nextJob++, step, window, frames, output, address, control })
      if (signal?.aborted) throw new CancelledError('The picture was called off.')
      return new Uint8Array(this.options.memory.buffer, address, bytes).slice() as Uint8Array<ArrayBuffer>
    } finally {
      signal?.removeEventListener('abort', stop)
      this.arena.release(address)
      this.arena.release(control)
    }
  }

  private dispatch(job: TileJob): Promise<void> {
    return new Promise((resolve, reject) => {
      const pending: Pending = {
        waiting: this.options.workers.length,
        failure: null,
        finish: () => (pending.failure === null ? resolve() : reject(new Error(pending.failure))),
      }
      this.jobs.set(job.id, pending)
      for (const worker of this.options.workers) worker.post({ kind: 'job', job })
    })
  }

  private hear(message: FromWorker): void {
    if (message.kind === 'ready') return
    const pending = this.jobs.get(message.id)
    if (!pending) return
    if (message.kind === 'failed') pending.failure ??= message.message
    if (--pending.waiting > 0) return
    this.jobs.delete(message.id)
    pending.finish()
  }

  private fail(reason: string): void {
    this.broken ??= reason
    for (const [id, pending] of this.jobs) {
      this.jobs.delete(id)
      pending.failure ??= reason
      pending.finish()
    }
  }

  /** Another picture's frames may push this one out before it is put to use; then it is brought again. */
  private async residentToStay(key: string, request: FrameRequest, signal?: AbortSignal): Promise<Resident> {
    for (let attempt = 0; attempt < 5; attempt++) {
      const resident = await this.resident(key, request, signal)
      if (!resident.gone) return resident
    }
    throw new ArenaFullError(0, this.arena.largestFree(), this.arena.budget)
  }

  private async resident(key: string, request: FrameRequest, signal?: AbortSignal): Promise<Resident> {
    const found = this.frames.get(key)
    if (found) return found
    const underWay = this.loading.get(key)
    if (underWay) return underWay
    // The load itself is not called off with the picture: the next picture mostly wants the same frame.
    const promise = this.options
      .load(request)
      .then((frame) => this.keep(key, request, frame))
      .finally(() => this.loading.delete(key))
    this.loading.set(key, promise)
    const resident = await promise
    if (signal?.aborted) throw new CancelledError('The picture was called off.')
    return resident
  }

  private keep(key: string, request: FrameRequest, source: SourceFrame): Resident {
    const addresses: number[] = []
    const seen = new Map<unknown, number>()
    const planes = source.planes.map(({ type, samples }) => {
      let address = seen.get(samples)
      if (address === undefined) {
        address = this.allocate(samples.length * bytesPerSample[type])
        addresses.push(address)
        seen.set(samples, address)
        new Uint8Array(this.options.memory.buffer, address, samples.byteLength).set(
          new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength),
        )
      }
      return { type, address }
    })
    const claims = source.decoded ? ({ encoding: 'linear', alpha: 'premultiplied' } as const) : request.claims
    const frame: ResidentFrame = {
      dataWindow: source.dataWindow,
      displayWindow: source.displayWindow,
      takes: request.takes,
      claims,
      planes,
    }
    const resident: Resident = { frame, addresses, users: 0, gone: false }
    const bytes = residentBytes(frame)
    if (bytes > this.frames.maxSize) {
      for (const address of addresses) this.arena.release(address)
      throw new ArenaFullError(bytes, this.arena.largestFree(), this.arena.budget)
    }
    this.frames.set(key, resident)
    return resident
  }

  /** Makes room by dropping the frames used longest ago. */
  private allocate(bytes: number): number {
    for (;;) {
      try {
        return this.arena.allocate(bytes)
      } catch (error) {
        if (!(error instanceof ArenaFullError) || this.frames.size === 0) throw error
        this.frames.pop()
      }
    }
  }

  private freeIfUnused(resident: Resident): void {
    if (!resident.gone || resident.users > 0) return
    for (const address of resident.addresses) this.arena.release(address)
  }
}

function residentBytes(frame: ResidentFrame): number {
  return frame.planes.reduce((sum, plane) => sum + pixelCount(frame.dataWindow) * bytesPerSample[plane.type], 0)
}
