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
/** Farther from a bend the line through both sides does not miss a frame. */
const nearBend = 3

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

/**
 * A course may bend, as a shadow's does when what throws it comes to stand: then the line through both sides misses the frames where
 * it bends, but the line before and the line after meet there, and each frame lies on one of them. Where there is a step they do not meet.
 */
function off(values: readonly (number | null)[], at: number, value: number): number | null {
  const whole = lineThrough(values, at, -around, around)
  if (!whole) return null
  const straight = value - whole.height
  const [before, after] = [lineThrough(values, at, -around, -1), lineThrough(values, at, 1, around)]
  if (!before || !after) return straight
  const meeting = (before.height - after.height) / (after.slope - before.slope)
  if (!(Math.abs(meeting) <= nearBend)) return straight
  const bent = value - (meeting > 0 ? before : after).height
  return Math.abs(bent) < Math.abs(straight) ? bent : straight
}

interface Line {
  readonly slope: number
  /** on the frame itself */
  readonly height: number
}

/** Through frames that lie so far from it, without it. @returns null where there are too few */
function lineThrough(values: readonly (number | null)[], at: number, first: number, last: number): Line | null {
  const others: { readonly x: number; readonly y: number }[] = []
  for (let i = Math.max(0, at + first); i <= Math.min(values.length - 1, at + last); i++) {
    const y = values[i]
    if (i !== at && y !== null) others.push({ x: i - at, y })
  }
  if (others.length < fewestFrames) return null
  const slope = medianOf(others.flatMap((a, i) => others.slice(i + 1).map((b) => (b.y - a.y) / (b.x - a.x))))
  return { slope, height: medianOf(others.map(({ x, y }) => y - slope * x)) }
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
