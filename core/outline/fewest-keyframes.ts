/** Outlines of many frames by as few keyframes as stay close to all of them. */

import { outlineBetween } from './between'
import type { Outline } from './place'

/** How far the points of two outlines lie apart at most, in pixels. */
function farthest(a: Outline, b: Outline): number {
  return a.reduce((most, { x, y }, i) => Math.max(most, Math.hypot(x - b[i].x, y - b[i].y)), 0)
}

/**
 * From one keyframe on the next is as late as all outlines between are within the tolerance of what goes on evenly between both.
 *
 * @param frames in order, each with an outline of the same points
 * @param tolerance pixels
 * @returns the frames that are kept: the first, the last, and some between
 */
export function fewestKeyframes(
  frames: readonly { readonly frame: number; readonly outline: Outline }[],
  tolerance: number,
): readonly number[] {
  const kept: number[] = []
  let from = 0
  while (from < frames.length) {
    kept.push(frames[from].frame)
    let next = from + 1
    while (next + 1 < frames.length && isCloseTo(frames.slice(from, next + 2), tolerance)) next++
    from = next
  }
  return kept
}

function isCloseTo(
  frames: readonly { readonly frame: number; readonly outline: Outline }[],
  tolerance: number,
): boolean {
  const [first, last] = [frames[0], frames[frames.length - 1]]
  return frames
    .slice(1, -1)
    .every(
      ({ frame, outline }) =>
        farthest(
          outline,
          outlineBetween(first.outline, last.outline, (frame - first.frame) / (last.frame - first.frame)),
        ) <= tolerance,
    )
}
