/** The part of a picture that is not empty. */

import type { Plane } from '../../core/image/planes'
import type { Window } from '../../core/image/window'

/** @returns the smallest window outside which all samples are 0; one pixel of an empty picture, since no file has none */
export function contentOf(planes: readonly Plane[], window: Window): Window {
  let [left, right, top, bottom] = [window.width, -1, window.height, -1]
  for (const { samples, type } of planes) {
    // Both zeros of a half; of a float, they are equal anyway.
    const isNothing = type === 'half' ? (sample: number) => (sample & 0x7fff) === 0 : (sample: number) => sample === 0
    for (let y = 0; y < window.height; y++) {
      const line = y * window.width
      let first = 0
      while (first < window.width && isNothing(samples[line + first])) first++
      if (first === window.width) continue
      let last = window.width - 1
      while (isNothing(samples[line + last])) last--
      left = Math.min(left, first)
      right = Math.max(right, last)
      top = Math.min(top, y)
      bottom = Math.max(bottom, y)
    }
  }
  if (right < 0) return { x: window.x, y: window.y, width: 1, height: 1 }
  return { x: window.x + left, y: window.y + top, width: right - left + 1, height: bottom - top + 1 }
}
