/** Where the middle of an element's coverage lies, so that a sample can move along with it. */

import type { Window } from '../image/window'

/** Less coverage than this many pixels is nothing to follow. */
const leastPixels = 0.5

/**
 * The mean of pixel centres weighted by alpha; alpha counts from 0 to 1, and what is no number counts nothing.
 *
 * @param light premultiplied RGBA, row by row
 * @param window where it lies
 * @returns a place in the window's pixels (i + 0.5); null where nothing is covered
 */
export function centreOfCoverage(
  light: Float32Array,
  { x: left, y: top, width, height }: Window,
): { readonly x: number; readonly y: number } | null {
  let [sum, across, down] = [0, 0, 0]
  for (let row = 0; row < height; row++) {
    for (let column = 0; column < width; column++) {
      const alpha = light[(row * width + column) * 4 + 3]
      if (!(alpha > 0)) continue
      const weight = Math.min(1, alpha)
      sum += weight
      across += weight * (left + column + 0.5)
      down += weight * (top + row + 0.5)
    }
  }
  return sum < leastPixels ? null : { x: across / sum, y: down / sum }
}
