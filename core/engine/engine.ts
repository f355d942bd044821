/**
 * From a step and a window to pixels: brings the frames in, runs the phases over workers, keeps what may be wanted again.
 *
 * Pictures are made one at a time, each by all workers. Urgent ones go first: an idle one that is being made is put off and
 * made again later. All memory is one arena with a budget; source frames and buffers stay in it, by content key, until the
 * room is needed. A picture that does not fit is made in bands.
 */

import { LRUCache } from 'lru-cache'
import { decodeSteps, primariesSteps } from '../colour'
import { framesOf, inputsOf, type FrameRequest, type FrameStep, type Step } from '../graph/steps'
import { bytesPerSample } from '../image/planes'
import { contains, pixelCount, type Window } from '../image/window'
import type { ColourStep } from '../kernels/colour-program'
import { firstFreeByte, type ViewSettings } from '../kernels/kernels'
import { Arena, ArenaFullError } from './arena'
import { bufferBytes, compile, type Storage } from './compile'
import { MapBlocks } from './map-blocks'
import {
  bytesPerOutputPixel,
  tileHeight,
  tileWidth,
  type Output,
  type PackedBuffer,
  type Phase,
  type ResidentFrame,
} from './program'
import type { LoadFrame, SourceFrame } from './source-frame'
import { Crew } from './crew'
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
}

export interface PictureOptions {
  readonly signal?: AbortSignal
  /** made when nothing else is wanted, and put off when something is */
  readonly idle?: boolean
  /** nothing of it will be wanted again: what was made on the way is not kept */
  readonly once?: boolean
}

/** The picture is not wanted any more. */
export class CancelledError extends Error {
  override readonly name = 'CancelledError'
}

/** Something in the arena that stays until its room is needed. */
interface Kept {
  readonly addresses: readonly number[]
  readonly bytes: number
  users: number
  /** dropped from the cache; freed when its last user is done */
  gone: boolean
}
interface KeptFrame extends Kept {
  readonly frame: ResidentFrame
}
interface KeptBuffer extends Kept {
  readonly buffer: PackedBuffer
}

interface Job {
  readonly step: Step
  readonly window: Window
  readonly output: Output
  readonly idle: boolean
  readonly once: boolean
  readonly signal?: AbortSignal
  readonly resolve: (bytes: Uint8Array<ArrayBuffer>) => void
  readonly reject: (error: unknown) => void
}

/** Most bytes of kept frames and of kept buffers, as shares of the memory; the rest is for pictures being made. */
const shareForFrames = 0.6
const shareForBuffers = 0.3
/** A picture is not cut into bands lower than this. */
const leastBand = 16

export class Engine {
  private readonly arena: Arena
  private readonly crew: Crew
  private readonly frames: LRUCache<string, KeptFrame>
  private readonly buffers: LRUCache<string, KeptBuffer>
  private readonly mapBlocks = new LRUCache<string, MapBlocks>({ max: 20 })
  private readonly loading = new Map<string, Promise<KeptFrame>>()
  private readonly urgent: Job[] = []
  private readonly idle: Job[] = []
  private current: { readonly job: Job; readonly putOff: AbortController } | null = null
  /** keys of the steps of the last picture that was made and may be made again a little changed */
  private before: ReadonlySet<string> = new Set()
  private closed = false

  constructor(private readonly options: EngineOptions) {
    const { memory } = options
    const budget = memory.buffer.byteLength
    this.arena = new Arena(firstFreeByte, budget)
    this.frames = this.cache<KeptFrame>(budget * shareForFrames)
    this.buffers = this.cache<KeptBuffer>(budget * shareForBuffers)
    this.crew = new Crew(
      options,
      (bytes) => this.allocate(bytes),
      (address) => this.arena.release(address),
    )
  }

  /** @returns premultiplied scene-linear RGBA of the window, four floats a pixel */
  async light(step: Step, window: Window, options?: PictureOptions): Promise<Float32Array<ArrayBuffer>> {
    return new Float32Array((await this.picture(step, window, { kind: 'light' }, options)).buffer)
  }

  /** @returns 8-bit RGBA of the window for the screen */
  view(step: Step, window: Window, view: ViewSettings, options?: PictureOptions): Promise<Uint8Array<ArrayBuffer>> {
    return this.picture(step, window, { kind: 'view', view }, options)
  }

  /** @returns red, green and blue planes of half floats, one after the other */
  async halves(step: Step, window: Window, options?: PictureOptions): Promise<Uint16Array<ArrayBuffer>> {
    return new Uint16Array((await this.picture(step, window, { kind: 'halves' }, options)).buffer)
  }

  /** Brings a step's frames in ahead of need. @throws what loading throws */
  async prefetch(step: Step): Promise<void> {
    const held = await this.hold(step)
    for (const kept of held.values()) this.letGo(kept)
  }

  /** Bytes of the arena in use, kept things included. */
  usedBytes(): number {
    return this.arena.usedBytes()
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
  ): Promise<Uint8Array<ArrayBuffer>> {
    return new Promise((resolve, reject) => {
      if (this.closed) return reject(closedError())
      const job: Job = { step, window, output, idle, once, signal, resolve, reject }
      if (idle) this.idle.push(job)
      else {
        this.urgent.push(job)
        if (this.current?.job.idle) this.current.putOff.abort()
      }
      this.next()
    })
  }

  private next(): void {
    if (this.current) return
    const job = this.urgent.shift() ?? this.idle.shift()
    if (!job) return
    const putOff = new AbortController()
    this.current = { job, putOff }
    const signal = job.signal ? AbortSignal.any([job.signal, putOff.signal]) : putOff.signal
    this.make(job, signal)
      .then(job.resolve, (error: unknown) => {
        if (this.closed) job.reject(closedError())
        else if (putOff.signal.aborted && !job.signal?.aborted) this.idle.unshift(job)
        else job.reject(error)
      })
      .finally(() => {
        this.current = null
        this.next()
      })
  }

  private async make(job: Job, signal: AbortSignal): Promise<Uint8Array<ArrayBuffer>> {
    throwIfAborted(signal)
    const held = await this.hold(job.step, signal)
    try {
      return await this.makeWindow(job, job.window, held, signal)
    } finally {
      for (const kept of held.values()) this.letGo(kept)
    }
  }

  /** In one piece if the memory allows, else in two halves, one above the other. */
  private async makeWindow(
    job: Job,
    window: Window,
    held: ReadonlyMap<string, KeptFrame>,
    signal: AbortSignal,
  ): Promise<Uint8Array<ArrayBuffer>> {
    if (pixelCount(window) === 0) return new Uint8Array(0)
    try {
      return await this.makePiece(job, window, held, signal)
    } catch (error) {
      if (!(error instanceof ArenaFullError) || window.height < 2 * leastBand) throw error
    }
    const height = window.height >> 1
    const upper = await this.makeWindow(job, { ...window, height }, held, signal)
    const rest = { ...window, y: window.y + height, height: window.height - height }
    return joined(job.output, upper, await this.makeWindow(job, rest, held, signal))
  }

  private async makePiece(
    job: Job,
    window: Window,
    held: ReadonlyMap<string, KeptFrame>,
    signal: AbortSignal,
  ): Promise<Uint8Array<ArrayBuffer>> {
    const { step, output, once } = job
    const used: KeptBuffer[] = []
    const made = new Map<string, KeptBuffer>()
    const storage: Storage = {
      frames: new Map([...held].map(([key, kept]) => [key, kept.frame])),
      find: (key, wanted) => {
        const found = this.buffers.get(key)
        if (!found || !contains(found.buffer.window, wanted)) return null
        found.users++
        used.push(found)
        return found.buffer
      },
      make: (key, wanted) => {
        const bytes = bufferBytes(wanted)
        const buffer = { address: this.allocate(bytes), window: wanted }
        made.set(key, { buffer, addresses: [buffer.address], bytes, users: 1, gone: false })
        return buffer
      },
      madeBefore: (key) => this.before.has(key),
      mapBlocks: (key, frame) => this.blocksOf(key, frame),
    }
    let address = 0
    let complete = false
    try {
      const program = compile(step, window, storage)
      const bytes = pixelCount(window) * bytesPerOutputPixel[output.kind]
      address = this.allocate(bytes)
      const last: Phase = { phase: 'output', rows: program.rows, output, address, window, tileWidth, tileHeight }
      await this.crew.run([...program.phases, last], signal)
      throwIfAborted(signal)
      complete = true
      if (!once) this.before = keysOf(step)
      return new Uint8Array(this.options.memory.buffer, address, bytes).slice() as Uint8Array<ArrayBuffer>
    } finally {
      if (address > 0) this.arena.release(address)
      for (const kept of used) this.letGo(kept)
      for (const [key, kept] of made) {
        if (complete && !once && kept.bytes <= this.buffers.maxSize) this.buffers.set(key, kept)
        else kept.gone = true
        this.letGo(kept)
      }
    }
  }

  private blocksOf(key: string, frame: ResidentFrame): MapBlocks {
    let found = this.mapBlocks.get(key)
    if (!found) this.mapBlocks.set(key, (found = new MapBlocks(this.options.memory.buffer, frame)))
    return found
  }

  /** The step's frames if all are in memory: small windows are made quicker than promises are kept. */
  private holdAtOnce(frames: readonly FrameStep[]): Map<string, KeptFrame> | null {
    const held = new Map<string, KeptFrame>()
    for (const { key } of frames) {
      const kept = this.frames.get(key)
      if (!kept) return null
      held.set(key, kept)
    }
    for (const kept of held.values()) kept.users++
    return held
  }

  private async hold(step: Step, signal?: AbortSignal): Promise<Map<string, KeptFrame>> {
    const frames = framesOf(step)
    const atOnce = this.holdAtOnce(frames)
    if (atOnce) return atOnce
    const held = new Map<string, KeptFrame>()
    const aborted = signal && whenAborted(signal)
    const results = await Promise.allSettled(
      frames.map(async ({ key, request }) => {
        const kept = await this.frameToStay(key, request, aborted)
        kept.users++
        held.set(key, kept)
      }),
    )
    const failed = results.find((result) => result.status === 'rejected')
    if (!failed) return held
    for (const kept of held.values()) this.letGo(kept)
    throw failed.reason
  }

  /** Another picture's frames may push this one out before it is put to use; then it is brought again. */
  private async frameToStay(key: string, request: FrameRequest, aborted?: Promise<never>): Promise<KeptFrame> {
    for (let attempt = 0; attempt < 5; attempt++) {
      const kept = await (aborted ? Promise.race([this.frame(key, request), aborted]) : this.frame(key, request))
      if (!kept.gone) return kept
    }
    throw new ArenaFullError(0, this.arena.largestFree(), this.arena.budget)
  }

  private frame(key: string, request: FrameRequest): Promise<KeptFrame> {
    const found = this.frames.get(key)
    if (found) return Promise.resolve(found)
    let promise = this.loading.get(key)
    if (!promise) {
      // The load itself is not called off with the picture: the next picture mostly wants the same frame.
      promise = this.options
        .load(request)
        .then((frame) => this.keep(key, request, frame))
        .finally(() => this.loading.delete(key))
      this.loading.set(key, promise)
    }
    return promise
  }

  private keep(key: string, request: FrameRequest, source: SourceFrame): KeptFrame {
    const addresses: number[] = []
    const seen = new Map<unknown, number>()
    let bytes = 0
    const planes = source.planes.map(({ type, samples }) => {
      let address = seen.get(samples)
      if (address === undefined) {
        address = this.allocate(samples.length * bytesPerSample[type])
        addresses.push(address)
        bytes += samples.byteLength
        seen.set(samples, address)
        new Uint8Array(this.options.memory.buffer, address, samples.byteLength).set(
          new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength),
        )
      }
      return { type, address }
    })
    const { dataWindow, displayWindow } = source
    const frame: ResidentFrame = {
      dataWindow,
      displayWindow,
      takes: request.takes,
      decode: source.decoded || request.takes !== 'rgba' ? [] : stepsToLight(request, planes.length),
      planes,
    }
    const kept: KeptFrame = { frame, addresses, bytes: Math.max(1, bytes), users: 0, gone: false }
    if (kept.bytes > this.frames.maxSize) {
      for (const address of addresses) this.arena.release(address)
      throw new ArenaFullError(kept.bytes, this.arena.largestFree(), this.arena.budget)
    }
    this.frames.set(key, kept)
    return kept
  }

  /** Makes room by dropping what was used longest ago: buffers first, since they are made quicker than frames are read. */
  private allocate(bytes: number): number {
    for (;;) {
      try {
        return this.arena.allocate(bytes)
      } catch (error) {
        if (!(error instanceof ArenaFullError)) throw error
        if (this.buffers.size > 0) this.buffers.pop()
        else if (this.frames.size > 0) this.frames.pop()
        else throw error
      }
    }
  }

  private cache<K extends Kept>(bytes: number): LRUCache<string, K> {
    return new LRUCache<string, K>({
      maxSize: Math.floor(bytes),
      sizeCalculation: (kept) => kept.bytes,
      dispose: (kept) => {
        kept.gone = true
        this.freeIfUnused(kept)
      },
    })
  }

  private letGo(kept: Kept): void {
    kept.users--
    this.freeIfUnused(kept)
  }

  private freeIfUnused(kept: Kept): void {
    if (!kept.gone || kept.users > 0) return
    for (const address of kept.addresses) this.arena.release(address)
  }
}

function keysOf(root: Step): Set<string> {
  const keys = new Set<string>()
  const visit = (step: Step): void => {
    if (keys.has(step.key)) return
    keys.add(step.key)
    inputsOf(step).forEach(visit)
  }
  visit(root)
  return keys
}

function closedError(): Error {
  return new Error('The engine was closed.')
}

function throwIfAborted(signal?: AbortSignal): void {
  if (signal?.aborted) throw new CancelledError('The picture was called off.')
}

/** Never comes true; fails as soon as the signal says so. */
function whenAborted(signal: AbortSignal): Promise<never> {
  const promise = new Promise<never>((_resolve, reject) => {
    const stop = () => reject(new CancelledError('The picture was called off.'))
    if (signal.aborted) stop()
    else signal.addEventListener('abort', stop, { once: true })
  })
  // Mostly nobody waits any more when it fails.
  promise.catch(() => undefined)
  return promise
}

function stepsToLight({ claims, working }: FrameRequest, planes: number): ColourStep[] {
  const steps: ColourStep[] = [...decodeSteps(claims.encoding), ...primariesSteps(claims.primaries, working)]
  if (claims.alpha === 'straight' && planes === 4) steps.push({ do: 'premultiply' })
  return steps
}

/** Two bands, one above the other; half-float output is joined plane by plane. */
function joined(output: Output, upper: Uint8Array, lower: Uint8Array): Uint8Array<ArrayBuffer> {
  const whole = new Uint8Array(upper.length + lower.length)
  const planes = output.kind === 'halves' ? 3 : 1
  const [above, below] = [upper.length / planes, lower.length / planes]
  for (let c = 0; c < planes; c++) {
    whole.set(upper.subarray(c * above, (c + 1) * above), c * (above + below))
    whole.set(lower.subarray(c * below, (c + 1) * below), c * (above + below) + above)
  }
  return whole
}
