/** For the tests and the bench: a chart of dark and light squares, photographed through a lens that is known. */

import type { Matrix3 } from '../../graph/steps'
import { bent, straightener, type Lens } from '../../motion/lens'
import { inverseOf, throughMatrix } from '../../motion/mapping'
import type { Spot } from '../../motion/placing'
import { randomOf } from '../../test/random'
import type { Plane } from '../../track/spline'

export interface SeenChart {
  readonly frame: { readonly width: number; readonly height: number }
  readonly lens: Lens
  /** from places on the chart, whose squares have sides of 1, to the straight picture */
  readonly motion: Matrix3
  /** squares across and down; corners lie between them */
  readonly squares: readonly [across: number, down: number]
  readonly noise?: number
  /** a paper margin of so many squares around; beyond it lies a dark table */
  readonly margin?: number
  readonly seed?: number
}

const { floor } = Math
const finer = 12

/** By 12 x 12 looks a pixel: an edge that runs along the pixels is off by a 24th of one at the most. */
export function photographOf({ frame, lens, motion, squares, noise = 0, margin = 0.4, seed = 1 }: SeenChart): Plane {
  const { width, height } = frame
  const { normal } = randomOf(seed)
  const straight = straightener(lens)
  const back = inverseOf(motion) as Matrix3
  const [across, down] = squares
  // Where on the board the corners of pixels are; within one all goes evenly.
  const stride = width + 1
  const [us, vs] = [new Float64Array(stride * (height + 1)), new Float64Array(stride * (height + 1))]
  for (let i = 0; i < us.length; i++) {
    const place = straight(i % stride, floor(i / stride))
    const at = place && throughMatrix(back, place[0], place[1])
    us[i] = at ? at[0] : -1e6
    vs[i] = at ? at[1] : -1e6
  }
  const values = new Float64Array(width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * stride + x
      let sum = 0
      for (let k = 0; k < finer * finer; k++) {
        const [p, q] = [((k % finer) + 0.5) / finer, (floor(k / finer) + 0.5) / finer]
        const u = (1 - q) * ((1 - p) * us[i] + p * us[i + 1]) + q * ((1 - p) * us[i + stride] + p * us[i + stride + 1])
        const v = (1 - q) * ((1 - p) * vs[i] + p * vs[i + 1]) + q * ((1 - p) * vs[i + stride] + p * vs[i + stride + 1])
        const onSquares = u >= 0 && v >= 0 && u < across && v < down
        const onPaper = u >= -margin && v >= -margin && u < across + margin && v < down + margin
        const isDark = (floor(u) + floor(v)) % 2 === 0
        sum += onSquares ? (isDark ? 0.03 : 0.6) : onPaper ? 0.6 : 0.05
      }
      values[y * width + x] = sum / (finer * finer) + noise * normal()
    }
  return { values, width, height }
}

/** Where its corners are seen. */
export const cornersSeen = ({ lens, motion, squares: [across, down] }: SeenChart): Spot[] =>
  Array.from({ length: (across - 1) * (down - 1) }, (_, i) => {
    const place = throughMatrix(motion, 1 + (i % (across - 1)), 1 + floor(i / (across - 1)))
    return bent(lens, place as Spot)
  })
