/** A part of a picture. */

import { contains, type Window } from './window'

/**
 * @param light RGBA of `from` @param window a part of it
 * @throws RangeError where it is not
 */
export function cutWindow(light: Float32Array, from: Window, window: Window): Float32Array {
  if (!contains(from, window)) throw new RangeError('The part lies outside the picture.')
  const out = new Float32Array(window.width * window.height * 4)
  for (let y = 0; y < window.height; y++) {
    const at = ((window.y - from.y + y) * from.width + window.x - from.x) * 4
    out.set(light.subarray(at, at + window.width * 4), y * window.width * 4)
  }
  return out
}
