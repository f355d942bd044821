/** Pairs that were read on several frames, each as one pair, with errors that come from how its frames differ. */

import type { PairRead } from './pair'
import type { Rgb, SideReading } from './side-reading'

/** Fewer frames say too little of how they differ. */
const fewestFrames = 4

/**
 * What both sides share from frame to frame (lamps that flicker, a region that slides over its material) is no error: only
 * what the line between them leaves is. It is taken of all pairs together, as a variance that grows with the light, since one
 * pair's few frames tell it badly.
 *
 * @param pairs each with its frames, at least one
 */
export function pairsOverFrames(pairs: readonly (readonly PairRead[])[]): PairRead[] {
  const means = pairs.map((frames): PairRead => ({
    ...frames[0],
    reference: togetherOf(frames.map(({ reference }) => reference)),
    adjusted: togetherOf(frames.map(({ adjusted }) => adjusted)),
  }))
  const enough = pairs.length > 1 && pairs.every((frames) => frames.length >= fewestFrames)
  if (!enough) return means
  const variances = [0, 1, 2].map((c) => scatterOf(pairs, means, c))
  const none: Rgb = [0, 0, 0]
  return means.map((one, i) => ({
    ...one,
    adjusted: { ...one.adjusted, error: none },
    reference: {
      ...one.reference,
      error: [0, 1, 2].map((c) => Math.sqrt(variances[c](one.reference.light[c]) / pairs[i].length)) as unknown as Rgb,
    },
  }))
}

/** @returns the variance of one frame's reading about the line, for a light of the reference */
function scatterOf(pairs: readonly (readonly PairRead[])[], means: readonly PairRead[], c: number) {
  const slope = slopeOf(means, c)
  const scatter = pairs.map((frames, i) => {
    const left = frames.map(
      ({ reference, adjusted }) =>
        reference.light[c] - means[i].reference.light[c] - slope * (adjusted.light[c] - means[i].adjusted.light[c]),
    )
    return left.reduce((sum, one) => sum + one * one, 0) / (left.length - 1)
  })
  const lights = means.map(({ reference }) => Math.max(0, reference.light[c]))
  // Of each alike: its variance is known to the same share.
  const weights = scatter.map((one, i) => 1 / (lights[i] + 0.01) ** 2)
  const sum = (of: (i: number) => number) => weights.reduce((total, weight, i) => total + weight * of(i), 0)
  const [w, x, y] = [sum(() => 1), sum((i) => lights[i]), sum((i) => scatter[i])]
  const [xx, xy] = [sum((i) => lights[i] ** 2), sum((i) => lights[i] * scatter[i])]
  const steep = (w * xy - x * y) / (w * xx - x * x)
  const rise = Number.isFinite(steep) ? Math.min(Math.max(0, steep), xx > 0 ? xy / xx : 0) : 0
  const least = Math.max(0, (y - rise * x) / w)
  return (light: number) => least + rise * Math.max(0, light)
}

function slopeOf(means: readonly PairRead[], c: number): number {
  const xs = means.map(({ adjusted }) => adjusted.light[c])
  const ys = means.map(({ reference }) => reference.light[c])
  const [x, y] = [xs, ys].map((values) => values.reduce((sum, one) => sum + one, 0) / values.length)
  const across = xs.reduce((sum, one) => sum + (one - x) ** 2, 0)
  return across > 0 ? xs.reduce((sum, one, i) => sum + (one - x) * (ys[i] - y), 0) / across : 1
}

function togetherOf(readings: readonly SideReading[]): SideReading {
  const n = readings.length
  const mean = (of: (one: SideReading) => number) => readings.reduce((sum, one) => sum + of(one), 0) / n
  const rgb = (of: (one: SideReading, c: number) => number) => [0, 1, 2].map((c) => mean((one) => of(one, c)))
  return {
    light: rgb(({ light }, c) => light[c]) as unknown as Rgb,
    error: rgb(({ error }, c) => error[c] ** 2).map((variance) => Math.sqrt(variance / n)) as unknown as Rgb,
    coverage: mean(({ coverage }) => coverage),
  }
}
