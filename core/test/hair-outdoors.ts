/** For tests and the bench: a figure with hair before a wall with patches of light and of another colour, and what is known of it. */

import { filmedHair } from './filmed-hair'
import { randomOf } from './random'

const { cos, floor, max, min, round, sin } = Math

export interface HairOutdoors {
  readonly width: number
  readonly height: number
  /** scene-linear, one channel a plane */
  readonly planes: readonly [Float32Array, Float32Array, Float32Array]
  readonly alpha: Float32Array
  /** the figure's own light, RGBA, premultiplied */
  readonly figure: Float32Array
  /** 0 outside, 1 inside, NaN between */
  readonly known: Float32Array
  /** share of the frame that is between */
  readonly band: number
}

/**
 * @param wide pixels around what is partly covered that are not known either
 * @param frame of the camera's noise
 */
export function hairOutdoors(
  width: number,
  height: number,
  seed: number,
  noise = 0.004,
  wide = round(width / 160),
  frame = 0,
): HairOutdoors {
  const { alpha, figure } = filmedHair(width, height, seed, 0)
  const { normal } = randomOf(1000 * seed + frame)
  const planes = [0, 1, 2].map(() => new Float32Array(width * height)) as [Float32Array, Float32Array, Float32Array]
  const scale = 640 / width
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const [u, v] = [x * scale, y * scale]
      const shade = 1 + 0.35 * sin(u / 60 + seed) * cos(v / 45)
      const patch = sin(u / 23 + v / 31) > 0.3
      for (let c = 0; c < 3; c++) {
        const wall = [0.32, 0.36, 0.44][c] * shade + (patch ? [0.05, -0.03, -0.12][c] : 0)
        planes[c][i] = max(0, figure[4 * i + c] + (1 - alpha[i]) * wall + noise * normal())
      }
    }
  // The least and the most of a square around each pixel: along rows, then down columns.
  const over = (
    of: Float32Array,
    far: (a: number, b: number) => number,
    step: number,
    count: number,
    at: (i: number) => number,
  ) =>
    of.map((value, i) => {
      let found = value
      for (let k = -wide; k <= wide; k++) found = far(found, of[i + step * (min(count - 1, max(0, at(i) + k)) - at(i))])
      return found
    })
  const spread = (far: (a: number, b: number) => number) =>
    over(
      over(alpha, far, 1, width, (i) => i % width),
      far,
      width,
      height,
      (i) => floor(i / width),
    )
  const [least, most] = [spread(min), spread(max)]
  const known = least.map((low, i) => (low > 0.999 ? 1 : most[i] < 0.001 ? 0 : NaN))
  const unknown = known.reduce((count, value) => count + (value === value ? 0 : 1), 0)
  return { width, height, planes, alpha, figure, known, band: unknown / known.length }
}

/** Mean error of coverage in the band. */
export const errorInBand = ({ alpha, known }: HairOutdoors, found: ArrayLike<number>): number => {
  let [sum, count] = [0, 0]
  for (let i = 0; i < known.length; i++)
    if (known[i] !== known[i]) {
      sum += Math.abs(found[i] - alpha[i])
      count++
    }
  return sum / count
}
