/** How noisy a camera is, by what differs from one frame to the next. */

import { medianOf } from '../algebra/median'

/** Standard deviation of one frame at several levels of light, dark to bright; between them it goes on evenly. */
export interface NoiseByLight {
  readonly light: Float64Array
  readonly deviation: Float64Array
}

const bins = 12
/** More pixels tell no more. */
const mostPlaces = 120_000
/** A bin of fewer differences says nothing. */
const leastInBin = 40
/** The median of absolute differences of two Gaussian values, for a deviation of 1. */
const medianOfDifference = 0.6745 * Math.SQRT2

/**
 * From pairs of neighbouring frames, most of whose pixels show the same: the median does not see what moves.
 *
 * @param pairs the same pixels of two frames, one channel of scene-linear light
 */
export function noiseOverFrames(pairs: readonly (readonly [Float32Array, Float32Array])[]): NoiseByLight {
  const total = pairs.reduce((sum, [a]) => sum + a.length, 0)
  const every = Math.max(1, Math.floor(total / mostPlaces))
  const means: number[] = []
  const differences: number[] = []
  for (const [a, b] of pairs)
    for (let i = 0; i < a.length; i += every) {
      const mean = (a[i] + b[i]) / 2
      if (!Number.isFinite(mean)) continue
      means.push(mean)
      differences.push(Math.abs(a[i] - b[i]))
    }
  const order = Uint32Array.from(means, (_, i) => i).sort((a, b) => means[a] - means[b])
  const light: number[] = []
  const deviation: number[] = []
  for (let bin = 0; bin < bins; bin++) {
    const some = order.subarray(Math.floor((bin * order.length) / bins), Math.floor(((bin + 1) * order.length) / bins))
    if (some.length < leastInBin) continue
    light.push(medianOf(Array.from(some, (i) => means[i])))
    deviation.push(medianOf(Array.from(some, (i) => differences[i])) / medianOfDifference)
  }
  return { light: Float64Array.from(light), deviation: Float64Array.from(deviation) }
}

/** @returns the deviation at a level of light, which goes on beyond the outermost levels */
export function deviationAt({ light, deviation }: NoiseByLight, level: number): number {
  const last = light.length - 1
  if (last < 0) return 0
  if (!(level > light[0])) return deviation[0]
  if (level >= light[last]) return deviation[last]
  let upper = 1
  while (light[upper] < level) upper++
  const share = (level - light[upper - 1]) / (light[upper] - light[upper - 1] || 1)
  return deviation[upper - 1] + share * (deviation[upper] - deviation[upper - 1])
}
