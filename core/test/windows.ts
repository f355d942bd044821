/** For the tests: windows inside another, and what of a picture lies in one. */

import fc from 'fast-check'
import type { Window } from '../image/window'

/** Any window that lies inside. */
export function windowsIn(all: Window, mostWidth: number, mostHeight: number): fc.Arbitrary<Window> {
  return fc
    .tuple(
      fc.nat(all.width - 1),
      fc.nat(all.height - 1),
      fc.integer({ min: 1, max: mostWidth }),
      fc.integer({ min: 1, max: mostHeight }),
    )
    .map(([x, y, width, height]) => ({
      x: all.x + x,
      y: all.y + y,
      width: Math.min(width, all.width - x),
      height: Math.min(height, all.height - y),
    }))
}

export const sameBits = (a: Float32Array, b: Float32Array) => Buffer.from(a.buffer).equals(Buffer.from(b.buffer))

/** @param light RGBA of `all` @returns that of the window inside it */
export function lightIn(light: Float32Array, all: Window, window: Window): Float32Array {
  const out = new Float32Array(window.width * window.height * 4)
  for (let row = 0; row < window.height; row++) {
    const from = ((window.y - all.y + row) * all.width + window.x - all.x) * 4
    out.set(light.subarray(from, from + window.width * 4), row * window.width * 4)
  }
  return out
}

/** The largest difference between two pictures of the same size. */
export const mostDifference = (a: Float32Array, b: Float32Array): number => mostOff(a, (i) => b[i])

/** The same beside what each value ought to be; `undefined` where nothing is asked. A value that is no number is infinitely far off. */
export function mostOff(found: Float32Array, expected: (i: number) => number | undefined): number {
  let most = 0
  for (let i = 0; i < found.length; i++) {
    const ought = expected(i)
    if (ought === undefined) continue
    const off = found[i] > ought ? found[i] - ought : ought - found[i]
    if (!(off <= most)) most = off >= 0 ? off : Infinity
  }
  return most
}
