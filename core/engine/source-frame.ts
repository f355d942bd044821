/** Source frames on their way into the engine: which channels are wanted, and how a frame is reduced. */

import type { Plane, Planes } from '../image/planes'
import { reduceWindow, type Window } from '../image/window'
import { halfTable } from '../kernels/half'
import { linearFromSrgb } from '../kernels/srgb'
import type { Claims, FrameRequest, Takes } from '../graph/steps'

/** A source frame as it was brought: raw planes, or already decoded to working light because it was reduced. */
export interface SourceFrame extends Planes {
  readonly decoded: boolean
}

/** Brings a frame from a disk or a server. Errors are sentences that name file and frame. */
export type LoadFrame = (request: FrameRequest, signal?: AbortSignal) => Promise<SourceFrame>

/** The file has none of the channels that the element needs. */
export class NoSuchChannelsError extends Error {
  override readonly name = 'NoSuchChannelsError'
}

/**
 * @param available channel names of the part
 * @returns the names to read: red, green, blue and alpha where it is claimed and there; the one channel of a matte; the two
 *   of a map
 */
export function channelsFor(
  request: Pick<FrameRequest, 'takes' | 'claims' | 'path' | 'part'>,
  available: readonly string[],
): string[] {
  if (request.takes === 'matte') {
    const name = ['Y', 'A', 'R', 'Z'].find((wanted) => available.includes(wanted)) ?? available[0]
    if (name !== undefined) return [name]
  } else if (request.takes === 'map') {
    const pair = [
      ['R', 'G'],
      ['U', 'V'],
      ['X', 'Y'],
    ].find((names) => names.every((name) => available.includes(name)))
    if (pair) return pair
  } else if (['R', 'G', 'B'].every((name) => available.includes(name))) {
    return available.includes('A') && request.claims.alpha !== 'none' ? ['R', 'G', 'B', 'A'] : ['R', 'G', 'B']
  } else if (available.includes('Y')) {
    return ['Y', 'Y', 'Y']
  }
  throw new NoSuchChannelsError(
    `${request.path}${request.part === null ? '' : `, part "${request.part}"`} has no picture to take (its channels are ${available.join(', ') || 'none'}). Choose another part or file.`,
  )
}

/**
 * Reduces a frame by box averages of working light, on the grid of the frame (pixel 0 of the result covers 0..scale-1).
 *
 * With alpha, what lies outside the data window counts as empty; without, the average is over the pixels there are.
 * Decoding comes first, since averages are true only in linear light.
 */
export function reduceFrame(planes: Planes, claims: Claims, takes: Takes, scale: number): SourceFrame {
  if (scale === 1) return { ...planes, decoded: false }
  const { dataWindow } = planes
  const target = reduceWindow(dataWindow, scale)
  const hasAlpha = takes === 'rgba' && planes.planes.length === 4
  const shares = hasAlpha ? null : sharesFor(dataWindow, target, scale)
  return {
    decoded: true,
    dataWindow: target,
    displayWindow: reduceWindow(planes.displayWindow, scale),
    planes: workingPlanes(planes, claims, takes).map((plane): Plane => {
      const reduced = boxSums(plane.samples, dataWindow, target, scale)
      const whole = 1 / (scale * scale)
      for (let i = 0; i < reduced.length; i++) reduced[i] *= shares ? shares[i] : whole
      return { name: plane.name, type: 'float', samples: Float32Array.from(reduced) }
    }),
  }
}

/** Sums of the samples that fall into each reduced pixel, row by row from the upper left. */
function boxSums(samples: Plane['samples'], from: Window, to: Window, scale: number): Float64Array {
  const sums = new Float64Array(to.width * to.height)
  const right = from.x + from.width
  const bottom = from.y + from.height
  const isHalf = samples instanceof Uint16Array
  for (let row = 0, out = 0; row < to.height; row++) {
    const y0 = Math.max(from.y, (to.y + row) * scale) - from.y
    const y1 = Math.min(bottom, (to.y + row + 1) * scale) - from.y
    for (let column = 0; column < to.width; column++) {
      const x0 = Math.max(from.x, (to.x + column) * scale) - from.x
      const x1 = Math.min(right, (to.x + column + 1) * scale) - from.x
      let sum = 0
      for (let y = y0; y < y1; y++) {
        const line = y * from.width
        if (isHalf) for (let x = line + x0; x < line + x1; x++) sum += halfTable[samples[x]]
        else for (let x = line + x0; x < line + x1; x++) sum += samples[x]
      }
      sums[out++] = sum
    }
  }
  return sums
}

/** For each reduced pixel, one over the number of source pixels in it. */
function sharesFor(from: Window, to: Window, scale: number): Float64Array {
  const covered = (start: number, length: number, index: number) =>
    Math.min(start + length, (index + 1) * scale) - Math.max(start, index * scale)
  const shares = new Float64Array(to.width * to.height)
  for (let y = 0; y < to.height; y++) {
    const rows = covered(from.y, from.height, to.y + y)
    for (let x = 0; x < to.width; x++) shares[y * to.width + x] = 1 / (rows * covered(from.x, from.width, to.x + x))
  }
  return shares
}

/** Samples in working light: as they are where they already are, else decoded to floats. */
function workingPlanes(
  { planes }: Planes,
  claims: Claims,
  takes: Takes,
): { readonly name: string; readonly samples: Plane['samples'] }[] {
  const straight = claims.alpha === 'straight' && planes.length === 4
  if (takes !== 'rgba' || (claims.encoding === 'linear' && !straight)) return [...planes]
  const [r, g, b, a] = planes.map(({ name, type, samples }) => {
    const out = new Float32Array(samples.length)
    if (type === 'half') for (let i = 0; i < out.length; i++) out[i] = halfTable[samples[i]]
    else out.set(samples)
    return { name, samples: out }
  })
  for (const { samples } of [r, g, b]) {
    if (claims.encoding === 'srgb') for (let i = 0; i < samples.length; i++) samples[i] = linearFromSrgb(samples[i])
    if (straight) for (let i = 0; i < samples.length; i++) samples[i] *= a.samples[i]
  }
  return a ? [r, g, b, a] : [r, g, b]
}
