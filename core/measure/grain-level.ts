/** How strong the grain of a flat region is, by two frames of it. */

import type { Window } from '../image/window'
import { leftOfPlane, type LeftOfPlane } from './plane-left'

export interface GrainLevel {
  /** deviation of red, green, blue in scene-linear light */
  readonly sigma: readonly [number, number, number]
  /** standard error of that */
  readonly error: readonly [number, number, number]
}

const { max, sqrt } = Math
/** More of the pixels at the least or the most light of the region: it is clipped there. */
const mostClipped = 0.05
/** The difference of two frames may tell so much more of a variance than their mean: beyond that something moves. */
const mostMoving = 1.5
/** And the mean so much more than the difference: beyond that it is texture, of which some is in the difference as well. */
const mostTexture = 3

/**
 * Grain is what differs between two frames of the same window, for grain that is new on every frame. Grain has a size: how many pixels
 * count is told by how alike neighbours are in the difference.
 *
 * @param before, after RGBA of the window, scene-linear, row by row
 * @returns null where the region is clipped, textured, moving or no number
 */
export function grainLevel(before: Float32Array, after: Float32Array, window: Window): GrainLevel | null {
  const each = [0, 1, 2].map((c) => levelOf(before, after, window, c))
  const [r, g, b] = each
  if (!r || !g || !b) return null
  return { sigma: [r.sigma, g.sigma, b.sigma], error: [r.error, g.error, b.error] }
}

interface Level {
  readonly sigma: number
  readonly error: number
}

function levelOf(before: Float32Array, after: Float32Array, window: Window, c: number): Level | null {
  if (isClipped(before, c) || isClipped(after, c)) return null
  const mean = leftOfPlane(window, (i) => (before[4 * i + c] + after[4 * i + c]) / 2)
  const difference = leftOfPlane(window, (i) => before[4 * i + c] - after[4 * i + c])
  if (!mean || !difference) return null
  const [byDifference, byMean] = [difference.variance / 2, mean.variance * 2]
  if (byDifference > mostMoving * byMean || byMean > mostTexture * byDifference) return null
  return deviationOf(difference, sqrt(byDifference))
}

/**
 * Grain that stands alone in a picture: what was added to it.
 *
 * @param grain, without RGBA of the window with it and without it
 * @returns null where something is no number
 */
export function grainAdded(grain: Float32Array, without: Float32Array, window: Window): GrainLevel | null {
  const each = [0, 1, 2].map((c) => {
    const added = leftOfPlane(window, (i) => grain[4 * i + c] - without[4 * i + c])
    return added && deviationOf(added, sqrt(added.variance))
  })
  const [r, g, b] = each
  if (!r || !g || !b) return null
  return { sigma: [r.sigma, g.sigma, b.sigma], error: [r.error, g.error, b.error] }
}

function deviationOf({ neighbours, variance, freedom }: LeftOfPlane, sigma: number): Level {
  if (variance === 0) return { sigma: 0, error: 0 }
  // A variance scatters by the squares of the correlations; of neighbours across and down, whose product is that of corners.
  const [across, down] = neighbours.map((sum) => (sum / variance) ** 2)
  const independent = freedom / ((1 + 2 * across) * (1 + 2 * down))
  return { sigma, error: sigma / sqrt(2 * max(1, independent)) }
}

function isClipped(light: Float32Array, c: number): boolean {
  let [least, most, atLeast, atMost] = [Infinity, -Infinity, 0, 0]
  for (let i = c; i < light.length; i += 4) {
    const value = light[i]
    if (value < least) [least, atLeast] = [value, 0]
    if (value > most) [most, atMost] = [value, 0]
    if (value === least) atLeast++
    if (value === most) atMost++
  }
  const limit = max(2, (mostClipped * light.length) / 4)
  return atLeast > limit || atMost > limit
}
