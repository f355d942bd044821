/** For tests: a rectangle of the scene as a camera sees it. */

import type { Spot } from '../placing'

/** Corners of a rectangle before a camera, turned about all three of its axes (radians). @param middle where the camera looks, pixels */
export function rectangleBefore(
  width: number,
  height: number,
  focal: number,
  turns: readonly [number, number, number],
  middle: Spot,
) {
  const [a, b, c] = turns
  return [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ].map(([i, j]): Spot => {
    let [x, y, z] = [(i * width) / 2, (j * height) / 2, 0]
    ;[x, y] = [x * Math.cos(c) - y * Math.sin(c), x * Math.sin(c) + y * Math.cos(c)]
    ;[y, z] = [y * Math.cos(a) - z * Math.sin(a), y * Math.sin(a) + z * Math.cos(a)]
    ;[x, z] = [x * Math.cos(b) + z * Math.sin(b), -x * Math.sin(b) + z * Math.cos(b)]
    const depth = z + 4 * Math.max(width, height)
    return [middle[0] + (focal * x) / depth, middle[1] + (focal * y) / depth]
  })
}
