/** How much noise a region holds. */

import type { Window } from '../image/window'

/**
 * Standard deviation of the noise of a region, whatever shading and edges run through it: the second difference of second
 * differences is blind to planes (Immerkaer, "Fast noise variance estimation", CVIU 64, 1996). Its median, not its mean, so
 * that edges count little. What is no number is left out.
 *
 * @param plane one channel of the window, row by row
 */
export function noiseLevel(plane: Float64Array, { width, height }: Window): number {
  const sizes = new Float64Array(Math.max(0, width - 2) * Math.max(0, height - 2))
  let count = 0
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x
      const corners = plane[i - width - 1] + plane[i - width + 1] + plane[i + width - 1] + plane[i + width + 1]
      const sides = plane[i - 1] + plane[i + 1] + plane[i - width] + plane[i + width]
      const size = Math.abs(corners - 2 * sides + 4 * plane[i])
      if (Number.isFinite(size)) sizes[count++] = size
    }
  if (count === 0) return 0
  // The mask's squares add up to 36; half of a Gaussian lies within 0.6745 deviations.
  return sizes.subarray(0, count).sort()[count >> 1] / 6 / 0.6745
}
