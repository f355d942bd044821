/** How curves lie in their drawing: those of one unit share a scale. */

import { keyframesOf } from '../../../../core/motion/curve'
import type { ChosenKeyframe, FrameRange, KeyedCurve } from '../../../../core/shot'
import { countOf, shareOf } from './time-axis'

/** Curves are told apart by their dashes: colour means selection. */
export const dashes = ['', '6 3', '2 3', '8 3 2 3', '1 4', '10 4']
export const drawnHeight = 186
const margin = 10

export interface Scale {
  x(frame: number): number
  y(value: number): number
  readonly perFrame: number
  readonly perValue: number
}

/** Curves of one unit share a scale: pixels are not beside degrees. */
export type Scales = ReadonlyMap<string, Scale>

export function scalesOf(curves: readonly KeyedCurve[], frames: FrameRange, width: number): Scales {
  const units = [...new Set(curves.map(({ known }) => known.unit))]
  return new Map(
    units.map((unit) => [
      unit,
      scaleOf(
        curves.filter(({ known }) => known.unit === unit),
        frames,
        width,
      ),
    ]),
  )
}

function scaleOf(curves: readonly KeyedCurve[], frames: FrameRange, width: number): Scale {
  const values = curves.flatMap(({ curve }) => keyframesOf(curve).map(({ value }) => value))
  const [least, most] = [Math.min(...values, Infinity), Math.max(...values, -Infinity)]
  const room = most - least || Math.max(1, Math.abs(most))
  const [low, high] = [least - room * 0.15, most + room * 0.15]
  const perValue = (drawnHeight - 2 * margin) / (high - low)
  return {
    x: (frame) => shareOf(frame, frames) * width,
    y: (value) => drawnHeight - margin - (value - low) * perValue,
    perFrame: width / countOf(frames),
    perValue,
  }
}

export const isChosen = (chosen: readonly ChosenKeyframe[], curve: string, frame: number) =>
  chosen.some((one) => one.curve === curve && one.frame === frame)
