/** What is tracked of a picture: its brightness. */

import type { Window } from '../image/window'
import type { Plane } from './spline'

/** @param light RGBA of the window; what is no number counts as black */
export function brightnessOf(light: Float32Array, { width, height }: Window): Plane {
  const values = new Float64Array(width * height)
  for (let i = 0; i < values.length; i++) {
    const value = (light[4 * i] + light[4 * i + 1] + light[4 * i + 2]) / 3
    // Neither infinite nor no number.
    values[i] = value - value === 0 ? value : 0
  }
  return { values, width, height }
}
