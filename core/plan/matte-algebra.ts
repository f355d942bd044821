/** What mattes are put together of: nothing, everything, and coverages that know nothing of each other. */

import { constant, mix, type Step } from '../graph/steps'
import { dilate, reduceWindow, type Window } from '../image/window'
import type { MatteWay } from '../shot'
import type { Planning } from './memo'

/** The shot's frame in pixels of the graph. */
export function frameOf(planning: Planning): Window {
  const frameSize = planning.memo.read(planning, ({ shot }) => shot.frameSize)
  return reduceWindow({ x: 0, y: 0, ...frameSize }, planning.scale)
}

/** Everything that can be asked of a matte: the frame and as much again on each side of it. */
export function around(planning: Planning): Window {
  const frame = frameOf(planning)
  return dilate(frame, frame.width, frame.height)
}

export const zero = (window: Window) => constant([0, 0, 0, 0], window)
export const one = (window: Window) => constant([1, 1, 1, 1], window)

export const inverse = (planning: Planning, step: Step | null): Step =>
  step ? mix(one(around(planning)), zero(around(planning)), step, 1) : one(around(planning))

/** Coverages that know nothing of each other: a + b - ab, a (1 - b), ab. */
export function together(planning: Planning, before: Step | null, how: MatteWay, next: Step | null): Step | null {
  const all = around(planning)
  if (how === 'add') return before && next ? mix(before, one(all), next, 1) : (before ?? next)
  if (!before) return null
  if (how === 'subtract') return next ? mix(before, zero(all), next, 1) : before
  return next && mix(zero(all), before, next, 1)
}
