/** Source frames on their way into the engine: which channels are wanted, and how a frame is reduced. */

import type { Plane, Planes } from '../image/planes'
import { reduceWindow, type Window } from '../image/window'
import { halfTable } from '../kernels/half'
import { linearFromSrgb } from '../kernels/srgb'
import type { FrameRequest } from '../plan/steps'
import type { Claims } from '../shot'

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
 * @returns the names to read: red, green, blue and alpha where it is claimed and there; or the one channel of a matte
 */
export function channelsFor(
  request: Pick<FrameRequest, 'takes' | 'claims' | 'path' | 'part'>,
  available: readonly string[],
): string[] {
  if (request.takes === 'matte') {
    const name = ['Y', 'A', 'R', 'Z'].find((wanted) => available.includes(wanted)) ?? available[0]
    if (name !== undefined) return [name]
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
export function reduceFrame(planes: Planes, claims: Claims, takes: 'rgba' | 'matte', scale: number): SourceFrame {
  if (scale === 1) return { ...planes, decoded: false }
  const { dataWindow } = planes
  const target = reduceWindow(dataWindow, scale)
  const working = workingPlanes(planes, claims, takes)
  const counts = countsFor(dataWindow, target, scale)
  const hasAlpha = takes === 'rgba' && planes.planes.length === 4
  return {
    decoded: true,
    dataWindow: target,
    displayWindow: reduceWindow(planes.displayWindow, scale),
    planes: working.map(({ name, samples }): Plane => {
      const sums = new Float64Array(target.width * target.height)
      for (let y = 0; y < dataWindow.height; y++) {
        const row = (Math.floor((dataWindow.y + y) / scale) - target.y) * target.width
        for (let x = 0; x < dataWindow.width; x++)
          sums[row + Math.floor((dataWindow.x + x) / scale) - target.x] += samples[y * dataWindow.width + x]
      }
      const whole = 1 / (scale * scale)
      const reduced = new Float32Array(sums.length)
      for (let i = 0; i < sums.length; i++) reduced[i] = hasAlpha ? sums[i] * whole : sums[i] / counts[i]
      return { name, type: 'float', samples: reduced }
    }),
  }
}

function workingPlanes(
  { planes }: Planes,
  claims: Claims,
  takes: 'rgba' | 'matte',
): { name: string; samples: Float32Array }[] {
  const floats = planes.map(({ name, type, samples }) => {
    const out = new Float32Array(samples.length)
    if (type === 'half') for (let i = 0; i < out.length; i++) out[i] = halfTable[samples[i]]
    else out.set(samples)
    return { name, samples: out }
  })
  if (takes === 'matte') return floats
  const [r, g, b, a] = floats
  for (const { samples } of [r, g, b]) {
    if (claims.encoding === 'srgb') for (let i = 0; i < samples.length; i++) samples[i] = linearFromSrgb(samples[i])
    if (a && claims.alpha === 'straight') for (let i = 0; i < samples.length; i++) samples[i] *= a.samples[i]
  }
  return floats
}

function countsFor(from: Window, to: Window, scale: number): Uint16Array {
  const counts = new Uint16Array(to.width * to.height)
  for (let y = 0; y < from.height; y++) {
    const row = (Math.floor((from.y + y) / scale) - to.y) * to.width
    for (let x = 0; x < from.width; x++) counts[row + Math.floor((from.x + x) / scale) - to.x]++
  }
  return counts
}
