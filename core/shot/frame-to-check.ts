/** Which frame of an outline to look at next: where it departs most from the picture's edge, or lies farthest from any keyframe. */

import { framesOfShape } from './mattes'
import type { Shape } from './matte-types'
import type { FrameRange } from './types'

export interface FrameToCheck {
  readonly frame: number
  /** pixels between the outline and the picture's edge there; null: it is the middle, or the open end, of the widest gap */
  readonly departure: number | null
}

/** Less says nothing: an edge itself is no sharper. */
const leastDeparture = 0.5

/**
 * @param departures pixels from the picture's edge, by frame, where they were measured; those of frames with a keyframe do not count
 * @returns null where every frame has a keyframe
 */
export function frameToCheck(
  shape: Shape,
  range: FrameRange,
  departures: Readonly<Record<number, number | null>> = {},
): FrameToCheck | null {
  const first = Math.max(range.first, shape.from ?? -Infinity)
  const last = Math.min(range.last, shape.to ?? Infinity)
  const keyed = framesOfShape(shape).filter((frame) => frame >= first && frame <= last)
  const worst = Object.entries(departures)
    .map(([frame, departure]) => ({ frame: Number(frame), departure }))
    .filter(({ frame, departure }) => departure !== null && frame >= first && frame <= last && !keyed.includes(frame))
    .sort((a, b) => (b.departure ?? 0) - (a.departure ?? 0))
    .at(0)
  if (worst && (worst.departure ?? 0) > leastDeparture) return worst
  return middleOfWidestGap(keyed, first, last)
}

/** Beyond the first and last keyframe the outline is held: their gaps are looked at where they end. */
function middleOfWidestGap(keyed: readonly number[], first: number, last: number): FrameToCheck | null {
  const gaps = [
    ...(keyed.length === 0 || keyed[0] > first ? [{ frame: first, width: (keyed[0] ?? last) - first }] : []),
    ...keyed.slice(1).map((to, i) => ({ frame: (keyed[i] + to) >> 1, width: (to - keyed[i]) / 2 })),
    ...(keyed.length > 0 && keyed[keyed.length - 1] < last
      ? [{ frame: last, width: last - keyed[keyed.length - 1] }]
      : []),
  ].filter(({ frame, width }) => width > 0 && !keyed.includes(frame))
  const widest = gaps.sort((a, b) => b.width - a.width).at(0)
  return widest ? { frame: widest.frame, departure: null } : null
}
