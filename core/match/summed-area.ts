/** Sums over any rectangle of a picture, from one pass over it (Crow, "Summed-area tables for texture mapping", 1984). */

import type { Window } from '../image/window'

/** One row and column more than the picture. A pixel of which something is no number counts as nothing. */
export function summedArea(light: Float32Array, channel: number, width: number, height: number): Float64Array {
  const table = new Float64Array((width + 1) * (height + 1))
  for (let y = 0; y < height; y++) {
    let row = 0
    for (let x = 0; x < width; x++) {
      const at = (y * width + x) * 4
      const sound = light[at] + light[at + 1] + light[at + 2] + light[at + 3]
      row += Number.isFinite(sound) ? light[at + channel] : 0
      table[(y + 1) * (width + 1) + x + 1] = table[y * (width + 1) + x + 1] + row
    }
  }
  return table
}

/** @returns the sum over a rectangle that lies inside the picture */
export function sumOver(table: Float64Array, width: number, { x, y, width: across, height: down }: Window): number {
  const stride = width + 1
  const [a, b] = [y * stride + x, (y + down) * stride + x]
  return table[b + across] - table[b] - table[a + across] + table[a]
}
