/**
 * What the engine holds in its memory: source frames and buffers, by content key, until the room is needed for something
 * else. All memory is one arena with a budget.
 */

import { LRUCache } from 'lru-cache'
import { decodeSteps, primariesSteps } from '../colour'
import type { FrameRequest, FrameStep } from '../graph/steps'
import { bytesPerSample } from '../image/planes'
import { contains, type Window } from '../image/window'
import type { ColourStep } from '../kernels/colour-program'
import { firstFreeByte } from '../kernels/kernels'
import { Arena, ArenaFullError } from './arena'
import { bufferBytes } from './compile'
import { MapBlocks } from './map-blocks'
import { computedMap } from './computed-map'
import type { PackedBuffer, ResidentFrame, ResidentPlane } from './program'
import type { LoadFrame, SourceFrame } from './source-frame'

/** Something in the arena that stays until its room is needed. */
export interface Kept {
  readonly addresses: readonly number[]
  readonly bytes: number
  users: number
  /** dropped from the cache; freed when its last user is done */
  released: boolean
}
export interface KeptFrame extends Kept {
  readonly frame: ResidentFrame
}
export interface KeptBuffer extends Kept {
  readonly buffer: PackedBuffer
}

/** A frame on its way. */
interface Loading {
  readonly promise: Promise<KeptFrame>
  readonly abort: AbortController
  /** pictures that wait for it */
  waiting: number
}

interface WantedFrame {
  readonly key: string
  readonly request: FrameRequest
  /** absent: all of it */
  readonly window?: Window
}

const allOfThem: ReadonlyMap<string, Window> = new Map()
const partMark = ' part '

const nameOf = (key: string, part?: Window): string =>
  part ? `${key}${partMark}${part.x} ${part.y} ${part.width} ${part.height}` : key

/** Most bytes of kept frames and of kept buffers, as shares of the memory; the rest is for pictures being made. */
const shareForFrames = 0.6
const shareForBuffers = 0.3

export class Holdings {
  private readonly arena: Arena
  private readonly frames: LRUCache<string, KeptFrame>
  private readonly buffers: LRUCache<string, KeptBuffer>
  private readonly mapBlocks = new LRUCache<string, MapBlocks>({ max: 20 })
  private readonly loading = new Map<string, Loading>()
  /** windows of the parts of frames that are in memory, by the frames' keys */
  private readonly parts = new Map<string, readonly Window[]>()

  constructor(
    private readonly memory: ArrayBufferLike,
    private readonly load: LoadFrame,
  ) {
    const budget = memory.byteLength
    this.arena = new Arena(firstFreeByte, budget)
    this.frames = this.cache<KeptFrame>(budget * shareForFrames, (name) => this.forgetPart(name))
    this.buffers = this.cache<KeptBuffer>(budget * shareForBuffers)
  }

  usedBytes(): number {
    return this.arena.usedBytes()
  }

  /**
   * Makes room by dropping what was used longest ago: buffers first, since they are made quicker than frames are read.
   *
   * @throws ArenaFullError
   */
  allocate(bytes: number): number {
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

  release(address: number): void {
    this.arena.release(address)
  }

  /**
   * Brings frames in; they stay until they are let go.
   *
   * @param whenAborted what it returns fails when the picture is called off
   * @param windows of which frames only a part is needed, by key; of others all is brought
   * @throws what loading throws
   */
  async bring(
    frames: readonly FrameStep[],
    whenAborted?: () => Promise<never>,
    windows: ReadonlyMap<string, Window> = allOfThem,
  ): Promise<Map<string, KeptFrame>> {
    const atOnce = this.holdAtOnce(frames, windows)
    if (atOnce) return atOnce
    const aborted = whenAborted?.()
    const held = new Map<string, KeptFrame>()
    const holding = frames.map(async ({ key, request }) => {
      held.set(key, await this.frameInUse({ key, request, window: windows.get(key) }, aborted))
    })
    this.callOffUnwanted()
    const results = await Promise.allSettled(holding)
    const failed = results.find((result) => result.status === 'rejected')
    if (!failed) return held
    for (const kept of held.values()) this.letGo(kept)
    throw failed.reason
  }

  letGo(kept: Kept): void {
    kept.users--
    this.freeIfUnused(kept)
  }

  /** A buffer made before that holds the key's pixels over at least the window, to be let go after use; or null. */
  findBuffer(key: string, window: Window): KeptBuffer | null {
    const found = this.buffers.get(key)
    if (!found || !contains(found.buffer.window, window)) return null
    found.users++
    return found
  }

  /** @returns room for a buffer, to be let go after use; kept only if `keepBuffer` says so */
  makeBuffer(window: Window): KeptBuffer {
    const bytes = bufferBytes(window)
    const address = this.allocate(bytes)
    return { buffer: { address, window }, addresses: [address], bytes, users: 1, released: true }
  }

  /** The buffer is complete and may be found from now on. */
  keepBuffer(key: string, kept: KeptBuffer): void {
    if (kept.bytes > this.buffers.maxSize) return
    kept.released = false
    this.buffers.set(key, kept)
  }

  blocksOf(key: string, frame: ResidentFrame): MapBlocks {
    let found = this.mapBlocks.get(key)
    if (!found) this.mapBlocks.set(key, (found = new MapBlocks(this.memory, frame)))
    return found
  }

  /** The frames if all are in memory: small windows are made quicker than promises are kept. */
  private holdAtOnce(
    frames: readonly FrameStep[],
    windows: ReadonlyMap<string, Window>,
  ): Map<string, KeptFrame> | null {
    const held = new Map<string, KeptFrame>()
    for (const { key } of frames) {
      const kept = this.inMemory(key, windows.get(key))
      if (!kept) return null
      held.set(key, kept)
    }
    for (const kept of held.values()) kept.users++
    return held
  }

  /** All of a frame, or a part of it that holds the window. */
  inMemory(key: string, window?: Window): KeptFrame | undefined {
    const all = this.frames.get(key)
    if (all || !window) return all
    const part = this.parts.get(key)?.find((one) => contains(one, window))
    return part && this.frames.get(nameOf(key, part))
  }

  /**
   * Another picture's frames may push this one out before it is put to use; then it is brought again.
   *
   * @returns the frame, its user counted in the same turn as it was seen to be there
   */
  private async frameInUse(wanted: WantedFrame, aborted?: Promise<never>): Promise<KeptFrame> {
    for (let attempt = 0; attempt < 5; attempt++) {
      const kept = await this.waitFor(wanted, aborted)
      if (kept.released) continue
      kept.users++
      return kept
    }
    throw new ArenaFullError(0, this.arena.largestFree(), this.arena.budget)
  }

  private async waitFor(wanted: WantedFrame, aborted?: Promise<never>): Promise<KeptFrame> {
    const { key, window } = wanted
    const found = this.inMemory(key, window)
    if (found) return found
    const loading = this.loading.get(nameOf(key, window)) ?? this.begin(wanted)
    loading.waiting++
    try {
      return await (aborted ? Promise.race([loading.promise, aborted]) : loading.promise)
    } finally {
      loading.waiting--
    }
  }

  private begin(wanted: WantedFrame): Loading {
    const abort = new AbortController()
    const name = nameOf(wanted.key, wanted.window)
    const promise = this.frameOf(wanted, abort.signal)
      .then((frame) => this.keepFrame(wanted, frame))
      .finally(() => {
        if (this.loading.get(name)?.abort === abort) this.loading.delete(name)
      })
    // Mostly nobody waits any more when one that was called off fails.
    promise.catch(() => undefined)
    const loading = { promise, abort, waiting: 0 }
    this.loading.set(name, loading)
    return loading
  }

  /** @returns what its request brings; a lens's map is computed here, all of it, since no file holds it */
  private async frameOf({ request, window }: WantedFrame, signal: AbortSignal): Promise<SourceFrame> {
    return request.way ? computedMap(request.way) : this.load(request, signal, window)
  }

  /**
   * A load is not called off together with the picture that wanted it, since the next one mostly wants the same frame; only
   * when other frames are wanted, and nobody waits for this one.
   */
  private callOffUnwanted(): void {
    for (const [key, { waiting, abort }] of this.loading)
      if (waiting === 0) {
        this.loading.delete(key)
        abort.abort()
      }
  }

  /** Puts a frame's samples into the memory; planes that share samples lie there once. @throws ArenaFullError; nothing is taken then */
  private placePlanes({ planes }: SourceFrame): {
    readonly planes: readonly ResidentPlane[]
    readonly addresses: readonly number[]
    readonly bytes: number
  } {
    const placed = new Map<unknown, number>()
    let bytes = 0
    try {
      const resident = planes.map(({ type, samples }): ResidentPlane => {
        const known = placed.get(samples)
        if (known !== undefined) return { type, address: known }
        const address = this.allocate(samples.length * bytesPerSample[type])
        placed.set(samples, address)
        bytes += samples.byteLength
        new Uint8Array(this.memory, address, samples.byteLength).set(
          new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength),
        )
        return { type, address }
      })
      return { planes: resident, addresses: [...placed.values()], bytes }
    } catch (error) {
      for (const address of placed.values()) this.arena.release(address)
      throw error
    }
  }

  private keepFrame({ key, request }: WantedFrame, source: SourceFrame): KeptFrame {
    const { planes, addresses, bytes } = this.placePlanes(source)
    const { dataWindow, bounds } = source
    const frame: ResidentFrame = {
      dataWindow,
      bounds: bounds ?? dataWindow,
      takes: request.takes,
      decode: source.decoded || request.takes !== 'rgba' ? [] : stepsToLight(request, planes.length),
      planes,
    }
    const kept: KeptFrame = { frame, addresses, bytes: Math.max(1, bytes), users: 0, released: false }
    if (kept.bytes > this.frames.maxSize) {
      for (const address of addresses) this.arena.release(address)
      throw new ArenaFullError(kept.bytes, this.arena.largestFree(), this.arena.budget)
    }
    // What came decides: a loader may bring all of it though a part would do.
    if (bounds) this.parts.set(key, [...(this.parts.get(key) ?? []), dataWindow])
    this.frames.set(nameOf(key, bounds && dataWindow), kept)
    return kept
  }

  private forgetPart(name: string): void {
    const [key] = name.split(partMark)
    const left = this.parts.get(key)?.filter((part) => nameOf(key, part) !== name)
    if (left && left.length > 0) this.parts.set(key, left)
    else this.parts.delete(key)
  }

  private cache<K extends Kept>(bytes: number, forget?: (name: string) => void): LRUCache<string, K> {
    return new LRUCache<string, K>({
      maxSize: Math.floor(bytes),
      sizeCalculation: (kept) => kept.bytes,
      dispose: (kept, name) => {
        kept.released = true
        forget?.(name)
        this.freeIfUnused(kept)
      },
    })
  }

  private freeIfUnused(kept: Kept): void {
    if (!kept.released || kept.users > 0) return
    for (const address of kept.addresses) this.arena.release(address)
  }
}

function stepsToLight({ claims, working }: FrameRequest, planes: number): ColourStep[] {
  const steps: ColourStep[] = [...decodeSteps(claims.encoding), ...primariesSteps(claims.primaries, working)]
  if (claims.alpha === 'straight' && planes === 4) steps.push({ do: 'premultiply' })
  return steps
}
