/** Source frames on their way into the engine: which channels are wanted, and how a frame is reduced. */

import { decoder, matrixBetween, primaries, type EncodingName } from '../colour'
import type { Plane, Planes } from '../image/planes'
import { reduceWindow, type Window } from '../image/window'
import { halfTable } from '../kernels/half'
import type { FrameRequest } from '../graph/steps'

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

/** How a request wants a frame's pixels. */
export type Reading = Pick<FrameRequest, 'claims' | 'working' | 'takes' | 'enlarge' | 'scale'>

/**
 * A frame at the scale that is asked for, decoded to working light where it must be reduced or enlarged for that: averages
 * are true only in linear light. As it is where one of its pixels is one of the picture's.
 *
 * Reduced by box averages on the grid of the frame (pixel 0 of the result covers 0..n-1): with alpha, what lies outside the
 * data window counts as empty; without, the average is over the pixels there are. Enlarged by linear interpolation on the
 * same grid, so that there is no shift.
 */
export function frameAtScale(planes: Planes, reading: Reading): SourceFrame {
  const { enlarge, scale, takes } = reading
  if (enlarge === scale || takes === 'table') return { ...planes, decoded: false }
  return enlarge > scale
    ? enlargeFrame(planes, reading, enlarge / scale)
    : reduceFrame(planes, reading, scale / enlarge)
}

function reduceFrame(planes: Planes, reading: Reading, factor: number): SourceFrame {
  const { dataWindow } = planes
  const target = reduceWindow(dataWindow, factor)
  const hasAlpha = reading.takes === 'rgba' && planes.planes.length === 4
  const shares = hasAlpha ? null : sharesFor(dataWindow, target, factor)
  return {
    decoded: true,
    dataWindow: target,
    displayWindow: reduceWindow(planes.displayWindow, factor),
    planes: workingPlanes(planes, reading).map((plane): Plane => {
      const reduced = boxSums(plane.samples, dataWindow, target, factor)
      const whole = 1 / (factor * factor)
      for (let i = 0; i < reduced.length; i++) reduced[i] *= shares ? shares[i] : whole
      return { name: plane.name, type: 'float', samples: Float32Array.from(reduced) }
    }),
  }
}

const enlargedWindow = ({ x, y, width, height }: Window, factor: number): Window => ({
  x: x * factor,
  y: y * factor,
  width: width * factor,
  height: height * factor,
})

function enlargeFrame(planes: Planes, reading: Reading, factor: number): SourceFrame {
  const { dataWindow } = planes
  return {
    decoded: true,
    dataWindow: enlargedWindow(dataWindow, factor),
    displayWindow: enlargedWindow(planes.displayWindow, factor),
    planes: workingPlanes(planes, reading).map(({ name, samples }): Plane => ({
      name,
      type: 'float',
      samples: interpolated(samples, dataWindow, factor),
    })),
  }
}

/** The outermost pixels go on beyond the window's edge. */
function interpolated(samples: Plane['samples'], { width, height }: Window, factor: number): Float32Array {
  const at = samples instanceof Uint16Array ? (i: number) => halfTable[samples[i]] : (i: number) => samples[i]
  const out = new Float32Array(width * height * factor * factor)
  const place = (i: number, count: number) => {
    const middle = Math.min(count - 1, Math.max(0, (i + 0.5) / factor - 0.5))
    const low = Math.min(Math.floor(middle), Math.max(0, count - 2))
    return [low, Math.min(low + 1, count - 1), middle - low] as const
  }
  for (let y = 0, o = 0; y < height * factor; y++) {
    const [above, below, down] = place(y, height)
    for (let x = 0; x < width * factor; x++, o++) {
      const [left, right, across] = place(x, width)
      const upper = at(above * width + left) * (1 - across) + at(above * width + right) * across
      const lower = at(below * width + left) * (1 - across) + at(below * width + right) * across
      out[o] = upper * (1 - down) + lower * down
    }
  }
  return out
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

/** Light of every half, by the bits, for each encoding that was met. */
const lightOfHalves = new Map<EncodingName, Float32Array>()

function tableFor(encoding: EncodingName): Float32Array {
  let table = lightOfHalves.get(encoding)
  if (!table) {
    const light = decoder(encoding)
    table = new Float32Array(halfTable.length)
    for (let bits = 0; bits < table.length; bits++) table[bits] = light(halfTable[bits])
    lightOfHalves.set(encoding, table)
  }
  return table
}

/** Samples in working light: as they are where they already are, else decoded to floats. */
function workingPlanes(
  { planes }: Planes,
  { claims, working, takes }: Reading,
): { readonly name: string; readonly samples: Plane['samples'] }[] {
  const straight = claims.alpha === 'straight' && planes.length === 4
  if (takes !== 'rgba' || (claims.encoding === 'linear' && claims.primaries === working && !straight))
    return [...planes]
  const [r, g, b, a] = planes.map(({ name, type, samples }, channel) => {
    const out = new Float32Array(samples.length)
    if (type === 'half') {
      const table = channel < 3 ? tableFor(claims.encoding) : halfTable
      for (let i = 0; i < out.length; i++) out[i] = table[samples[i]]
    } else if (channel < 3 && claims.encoding !== 'linear') {
      const light = decoder(claims.encoding)
      for (let i = 0; i < out.length; i++) out[i] = light(samples[i])
    } else out.set(samples)
    return { name, samples: out }
  })
  if (claims.primaries !== working) {
    const [toR, toG, toB] = matrixBetween(primaries[claims.primaries], primaries[working])
    for (let i = 0; i < r.samples.length; i++) {
      const [x, y, z] = [r.samples[i], g.samples[i], b.samples[i]]
      r.samples[i] = toR[0] * x + toR[1] * y + toR[2] * z
      g.samples[i] = toG[0] * x + toG[1] * y + toG[2] * z
      b.samples[i] = toB[0] * x + toB[1] * y + toB[2] * z
    }
  }
  if (straight) for (const { samples } of [r, g, b]) for (let i = 0; i < samples.length; i++) samples[i] *= a.samples[i]
  return a ? [r, g, b, a] : [r, g, b]
}
