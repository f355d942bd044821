/** Whether an outline crosses itself: it covers all that it winds round, which is seldom what was meant. */

import type { Outline } from './place'
import { spotAfter } from './place'

/** Straight pieces from point to point, for looking at. */
const pieces = 8

export function crossesItself(outline: Outline): boolean {
  const spots = outline.flatMap((_, at) =>
    Array.from({ length: pieces }, (_unused, i) => spotAfter(outline, at, i / pieces)),
  )
  const many = spots.length
  const side = (a: readonly number[], b: readonly number[], c: readonly number[]) =>
    (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
  for (let i = 0; i < many; i++) {
    const [a, b] = [spots[i], spots[(i + 1) % many]]
    for (let j = i + 2; j < many; j++) {
      if (i === 0 && j === many - 1) continue
      const [c, d] = [spots[j], spots[(j + 1) % many]]
      if (side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0) return true
    }
  }
  return false
}
