/** What of a picture is not empty, as a rectangle. */

import type { Window } from '../image/window'

/** Coverage or light below this is nothing that anybody sees. */
const least = 1 / 512

/**
 * @param light premultiplied RGBA, row by row
 * @param window where it lies
 * @returns null where all of it is empty
 */
export function boxOfCoverage(light: Float32Array, { x, y, width, height }: Window): Window | null {
  let [left, right, top, bottom] = [width, -1, height, -1]
  for (let row = 0; row < height; row++)
    for (let column = 0; column < width; column++) {
      const at = (row * width + column) * 4
      if (!(Math.max(light[at], light[at + 1], light[at + 2], light[at + 3]) > least)) continue
      left = Math.min(left, column)
      right = Math.max(right, column)
      top = Math.min(top, row)
      bottom = row
    }
  return right < 0 ? null : { x: x + left, y: y + top, width: right - left + 1, height: bottom - top + 1 }
}
