/** How steep a picture is, and which way: what lines and edges are found by. */

import type { Plane } from './spline'

/** Of each pixel: how the softened picture changes across and down, and both together. */
export interface Slopes {
  readonly width: number
  readonly height: number
  readonly across: Float32Array
  readonly down: Float32Array
  readonly steep: Float32Array
}

const { cbrt, ceil, exp, sqrt } = Math

/** Values as the eye spaces them, so that an edge in the dark counts like one in the light: the cube root, straight near black. */
const seen = (light: number) => (light > 0.01 ? cbrt(light) : light * (cbrt(0.01) / 0.01))

/**
 * By derivatives of a Gaussian.
 *
 * @param plane scene-linear brightness
 * @param sigma in pixels
 * @param as light, whose edges lie where they are; or as it is seen, where those in the dark are strong as well
 */
export function slopesOfPicture({ values, width, height }: Plane, sigma: number, as: 'light' | 'seen'): Slopes {
  const reach = ceil(3 * sigma)
  const smooth = Float64Array.from({ length: 2 * reach + 1 }, (_, i) => exp(-((i - reach) ** 2) / (2 * sigma * sigma)))
  const sum = smooth.reduce((total, one) => total + one, 0)
  smooth.forEach((one, i) => (smooth[i] = one / sum))
  const steep = smooth.map((one, i) => (one * (i - reach)) / (sigma * sigma))
  const eyes = new Float32Array(values.length)
  for (let i = 0; i < eyes.length; i++) eyes[i] = as === 'seen' ? seen(values[i]) : values[i]
  const across = both(eyes, width, height, steep, smooth)
  const down = both(eyes, width, height, smooth, steep)
  const out = new Float32Array(across.length)
  for (let i = 0; i < out.length; i++) out[i] = sqrt(across[i] * across[i] + down[i] * down[i])
  return { width, height, across, down, steep: out }
}

/** Weighted sums across, then down; beyond the picture its outermost pixels go on. */
function both(values: Float32Array, width: number, height: number, x: Float64Array, y: Float64Array): Float32Array {
  const between = new Float32Array(values.length)
  const out = new Float32Array(values.length)
  const reach = (x.length - 1) >> 1
  for (let row = 0; row < height; row++)
    for (let column = 0; column < width; column++) {
      let sum = 0
      for (let k = 0; k < x.length; k++) {
        const at = column + k - reach
        sum += x[k] * values[row * width + (at < 0 ? 0 : at >= width ? width - 1 : at)]
      }
      between[row * width + column] = sum
    }
  for (let row = 0; row < height; row++)
    for (let k = 0; k < y.length; k++) {
      const at = row + k - reach
      const from = (at < 0 ? 0 : at >= height ? height - 1 : at) * width
      const weight = y[k]
      for (let column = 0; column < width; column++) out[row * width + column] += weight * between[from + column]
    }
  return out
}
