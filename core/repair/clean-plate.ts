/** Clean plate: what a camera saw without what passed in front of it, joined from many frames. */

import type { Window } from '../image/window'
import { evening, unchanged, type Evening } from './evened'
import type { Joined, Samples } from './joined'
import { noiseOverFrames, type NoiseByLight } from './noise-over-frames'

/** How pictures of the frames are had, lying over each other as they should. */
export interface FramesToJoin {
  readonly frames: readonly number[]
  readonly frameSize: { readonly width: number; readonly height: number }
  /** scene-linear RGBA of a part of a frame, at the given scale */
  light(frame: number, window: Window, scale: 1 | 4): Promise<Float32Array>
  /** likewise, 1 where the frame is covered by what is not the plate; null: nothing is known of it */
  covered(frame: number, window: Window): Promise<Float32Array | null>
  joined(samples: Samples, noise: readonly NoiseByLight[], signal?: AbortSignal): Promise<Joined>
}

export interface CleanPlate {
  /** scene-linear RGBA of the frame */
  readonly light: Float32Array
  /** how many frames each pixel is the mean of */
  readonly count: Uint16Array
  /** by which each frame was evened, a channel each */
  readonly evenings: readonly (readonly Evening[])[]
}

export interface CleanPlateOptions {
  /** whether gain and veil of each frame are made those of the first */
  readonly even: boolean
  readonly signal?: AbortSignal
  /** 0 to 1 */
  readonly progress?: (share: number) => void
}

/** Frames of which neighbours are compared to know the noise. */
const mostPairs = 6
/** Of all frames together while a band of rows is joined. */
const mostBytes = 96 * 2 ** 20
const leastRows = 16
/** How much of the work looking at the frames as a whole is. */
const lookingShare = 0.1
/** Frames that are looked at at once. */
const atOnce = 2

/**
 * @throws TooFewFramesError with fewer than three frames; what looking at frames throws
 */
export async function cleanPlate(from: FramesToJoin, options: CleanPlateOptions): Promise<CleanPlate> {
  const { frames, frameSize } = from
  const { even, signal, progress = () => undefined } = options
  if (frames.length < 3)
    throw new TooFewFramesError(
      `A clean plate is joined from at least 3 frames, and there ${frames.length === 1 ? 'is 1' : `are ${frames.length}`}. Take a longer range or a smaller step.`,
    )
  const evenings = even ? await eveningsOf(from, progress, signal) : frames.map(() => [unchanged, unchanged, unchanged])
  signal?.throwIfAborted()
  const noise = await noiseOf(from, evenings)
  const light = new Float32Array(frameSize.width * frameSize.height * 4)
  const count = new Uint16Array(frameSize.width * frameSize.height)
  let joining: Promise<void> = Promise.resolve()
  const rows = Math.max(leastRows, Math.floor(mostBytes / (frames.length * (frameSize.width + 2) * 16)))
  for (let y = 0; y < frameSize.height; y += rows) {
    const height = Math.min(rows, frameSize.height - y)
    const window = { x: -1, y: y - 1, width: frameSize.width + 2, height: height + 2 }
    const seen = await eachInOrder(frames, atOnce, async (frame, f) => {
      signal?.throwIfAborted()
      const picture = await from.light(frame, window, 1)
      extended(picture, window, frameSize)
      const covered = await from.covered(frame, window)
      progress(lookingShare + ((1 - lookingShare) * (y + (height * (f + 1)) / frames.length)) / frameSize.height)
      return { picture: evened(picture, evenings[f]), covered }
    })
    const samples = {
      ...{ width: frameSize.width, height },
      light: seen.map(({ picture }) => picture),
      covered: seen.map(({ covered }) => covered),
    }
    // The next rows are read while these are joined.
    await joining
    joining = from.joined(samples, noise, signal).then((band) => {
      light.set(band.light, y * frameSize.width * 4)
      count.set(band.count, y * frameSize.width)
    })
    joining.catch(() => undefined)
  }
  await joining
  progress(1)
  return { light, count, evenings }
}

/** There are too few frames to join. */
export class TooFewFramesError extends Error {
  override readonly name = 'TooFewFramesError'
}

const channelOf = (light: Float32Array, c: number): Float32Array => {
  const out = new Float32Array(light.length / 4)
  for (let i = 0; i < out.length; i++) out[i] = light[4 * i + c]
  return out
}

async function eveningsOf(
  { frames, frameSize, light }: FramesToJoin,
  progress: (share: number) => void,
  signal?: AbortSignal,
): Promise<readonly (readonly Evening[])[]> {
  const small = { x: 0, y: 0, width: Math.floor(frameSize.width / 4), height: Math.floor(frameSize.height / 4) }
  const first = await light(frames[0], small, 4)
  return eachInOrder(frames, atOnce, async (frame, f) => {
    signal?.throwIfAborted()
    const seen = f === 0 ? first : await light(frame, small, 4)
    progress((lookingShare * (f + 1)) / frames.length)
    return [0, 1, 2].map((c) => (f === 0 ? unchanged : evening(channelOf(seen, c), channelOf(first, c))))
  })
}

/** Some at a time; what comes of them is in their order. */
async function eachInOrder<T, R>(
  things: readonly T[],
  many: number,
  make: (thing: T, index: number) => Promise<R>,
): Promise<R[]> {
  const out: R[] = []
  let next = 0
  const run = async () => {
    for (let i = next++; i < things.length; i = next++) out[i] = await make(things[i], i)
  }
  await Promise.all(Array.from({ length: many }, run))
  return out
}

function evened(light: Float32Array, [r, g, b]: readonly Evening[]): Float32Array {
  if (r === unchanged && g === unchanged && b === unchanged) return light
  for (let i = 0; i < light.length; i += 4) {
    const a = light[i + 3]
    light[i] = light[i] * r.gain + r.veil * a
    light[i + 1] = light[i + 1] * g.gain + g.veil * a
    light[i + 2] = light[i + 2] * b.gain + b.veil * a
  }
  return light
}

/** Beyond the frame its outermost pixels go on. */
function extended(light: Float32Array, window: Window, { width, height }: FramesToJoin['frameSize']): void {
  for (let row = 0; row < window.height; row++)
    for (let column = 0; column < window.width; column++) {
      const [x, y] = [window.x + column, window.y + row]
      const [ix, iy] = [Math.min(width - 1, Math.max(0, x)), Math.min(height - 1, Math.max(0, y))]
      if (ix === x && iy === y) continue
      const inside = ((iy - window.y) * window.width + ix - window.x) * 4
      light.copyWithin((row * window.width + column) * 4, inside, inside + 4)
    }
}

async function noiseOf(from: FramesToJoin, evenings: CleanPlate['evenings']): Promise<readonly NoiseByLight[]> {
  const { frames, frameSize } = from
  const height = Math.min(frameSize.height, Math.max(8, Math.floor(200_000 / frameSize.width)))
  const window = { x: 0, y: Math.floor((frameSize.height - height) / 2), width: frameSize.width, height }
  const step = Math.max(1, Math.floor((frames.length - 1) / mostPairs))
  const pairs: (readonly [Float32Array, Float32Array])[] = []
  for (let f = 0; f + 1 < frames.length && pairs.length < mostPairs; f += step) {
    const [a, b] = [
      evened(await from.light(frames[f], window, 1), evenings[f]),
      evened(await from.light(frames[f + 1], window, 1), evenings[f + 1]),
    ]
    pairs.push([a, b])
  }
  return [0, 1, 2].map((c) => noiseOverFrames(pairs.map(([a, b]) => [channelOf(a, c), channelOf(b, c)] as const)))
}
