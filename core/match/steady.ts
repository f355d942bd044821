/** Whether something that is measured on every frame goes on evenly, or stands out on some of them. */

import { medianOf } from '../algebra/median'
import type { Verdict } from './reading'

export interface SteadyVerdict {
  readonly verdict: Verdict
  /** from what its neighbours let one expect */
  readonly off: number
  /** standard deviation of what is sound, as the frames show it */
  readonly error: number
}

/** Frames to either side that say what is to be expected. */
const around = 5
const fewestFrames = 4

/**
 * Against a straight line through the frames around it, by medians (Theil 1950, Sen 1968), so that a run of bad frames does not
 * make itself the rule.
 *
 * @param values by frame, in order; null where nothing was measured
 * @returns null where there is no value, or too few others
 */
export function steadyVerdicts(values: readonly (number | null)[], tolerance: number): (SteadyVerdict | null)[] {
  return judgedOff(
    values.map((value, i) => (value === null ? null : off(values, i, value))),
    tolerance,
  )
}

function off(values: readonly (number | null)[], at: number, value: number): number | null {
  const others: { readonly x: number; readonly y: number }[] = []
  for (let i = Math.max(0, at - around); i <= Math.min(values.length - 1, at + around); i++) {
    const y = values[i]
    if (i !== at && y !== null) others.push({ x: i - at, y })
  }
  if (others.length < fewestFrames) return null
  const slopes = others.flatMap((a, i) => others.slice(i + 1).map((b) => (b.y - a.y) / (b.x - a.x)))
  const slope = medianOf(slopes)
  return value - medianOf(others.map(({ x, y }) => y - slope * x))
}

/** Of the values `at` frames away, what each counts for where a cubic is laid through them. */
const cubics = [
  [-2, -1, 1, 2, -1 / 6, 4 / 6, 4 / 6, -1 / 6],
  [-1, 1, 2, 3, 1 / 4, 3 / 2, -1, 1 / 4],
  [-3, -2, -1, 1, 1 / 4, -1, 3 / 2, 1 / 4],
] as const

/**
 * A place that moves: against a cubic through four frames around it. A frame that jumps makes its neighbours look as if they had,
 * less so beside what noise would do to them: only the farthest off counts.
 */
export function steadyPlaces(values: readonly (number | null)[], tolerance: number): (SteadyVerdict | null)[] {
  const offs = values.map((value, i) => {
    if (value === null) return null
    for (const cubic of cubics) {
      const known = [0, 1, 2, 3].map((k) => values[i + cubic[k]] ?? null)
      if (known.some((one) => one === null)) continue
      const weights = cubic.slice(4)
      const expected = weights.reduce((sum, weight, k) => sum + weight * (known[k] ?? 0), 0)
      const noise = Math.sqrt(weights.reduce((sum, weight) => sum + weight * weight, 1))
      return { off: value - expected, noise }
    }
    return null
  })
  const size = (i: number) => {
    const one = offs[i]
    return one ? Math.abs(one.off) / one.noise : 0
  }
  const alone = offs.map((one, i) => one && (size(i - 1) > size(i) || size(i + 1) > size(i) ? 0 : one.off))
  return judgedOff(alone, tolerance)
}

function judgedOff(offs: readonly (number | null)[], tolerance: number): (SteadyVerdict | null)[] {
  const sizes = offs.flatMap((one) => (one === null ? [] : [Math.abs(one)]))
  const error = sizes.length === 0 ? 0 : 1.4826 * medianOf(sizes)
  return offs.map((one) => {
    if (one === null) return null
    const size = Math.abs(one)
    const verdict = size - 3 * error > tolerance ? 'drifts' : size + 2 * error < tolerance ? 'agrees' : 'not judged'
    return { verdict, off: one, error }
  })
}
