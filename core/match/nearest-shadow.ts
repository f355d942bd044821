/** How much light a shadow leaves, and how strong the occlusion beside it is: found from pictures with each of them at its ends. */

import type { Sure } from './propose'
import { ninetyPercent } from './students-t'

/** One frame's pictures, RGBA: light is bilinear in both settings, since each acts evenly on what is behind it. */
export interface ShadowCorners {
  /** with a ratio of 0 and of 1, the occlusion away */
  readonly ratio: readonly [Float32Array, Float32Array]
  /** the same two with the occlusion at its full strength; absent where there is none to be found */
  readonly occluded?: readonly [Float32Array, Float32Array]
  /** as it was photographed */
  readonly wanted: Float32Array
  /** frames of one object throw one shadow */
  readonly object: string
  readonly counts: (pixel: number) => boolean
}

export interface NearestShadow {
  readonly ratio: readonly [Sure, Sure, Sure]
  /** null where no occlusion was given */
  readonly occlusion: Sure | null
}

/** Below this much of a difference neither does anything there. */
const leastApart = 1e-4
const leastPixels = 100

/**
 * Least squares of all channels together. How sure it is comes from how the result differs when each frame, or each object, is
 * left out in turn (jackknife): pixels of a frame share what the two settings cannot explain, and where lamps of several
 * colours are shadowed, no two objects take away the same of each.
 *
 * @returns null where they change too little
 */
export function nearestShadow(frames: readonly ShadowCorners[]): NearestShadow | null {
  const sums = frames.map(sumsOf)
  if (sums.reduce((count, one) => count + one.count, 0) < leastPixels) return null
  const free = frames.some(({ occluded }) => occluded)
  const all = solved(sums, free)
  const objects = [...new Set(frames.map(({ object }) => object))]
  const without = (left: (i: number) => boolean) => {
    const rest = sums.filter((_, i) => !left(i))
    return solved(rest, free)
  }
  const byFrame = sums.map((_, i) => without((k) => k === i))
  const byObject = objects.map((object) => without((k) => frames[k].object === object))
  const sure = (of: (one: Solved) => number): Sure => {
    const value = of(all)
    const bar = (others: readonly Solved[]) => {
      const n = others.length
      const squares = others.reduce((sum, one) => sum + (of(one) - value) ** 2, 0)
      return ninetyPercent(Math.max(3, n - 1)) * Math.sqrt(((n - 1) / n) * squares)
    }
    // One frame alone says nothing of how frames differ, and one object nothing of how objects do.
    if (frames.length < 2) return { value, bar: Infinity }
    return { value, bar: Math.max(bar(byFrame), objects.length > 1 ? bar(byObject) : 0) }
  }
  return {
    ratio: [sure(({ ratio }) => ratio[0]), sure(({ ratio }) => ratio[1]), sure(({ ratio }) => ratio[2])],
    occlusion: free ? sure(({ occlusion }) => occlusion) : null,
  }
}

interface Solved {
  readonly ratio: readonly number[]
  readonly occlusion: number
}

/** Products of the four differences, summed, by channel: `[i][j]` of i, j in off, ratio, occlusion, both. */
interface Sums {
  readonly count: number
  readonly products: readonly Float64Array[]
}

const terms = 4

function sumsOf({ ratio: [zeros, ones], occluded, wanted, counts }: ShadowCorners): Sums {
  const products = [0, 1, 2].map(() => new Float64Array(terms * terms))
  let count = 0
  for (let i = 0; 4 * i < wanted.length; i++) {
    if (!counts(i)) continue
    for (let c = 0; c < 3; c++) {
      const at = 4 * i + c
      const zero = zeros[at]
      const [a, b] = [zero - wanted[at], ones[at] - zero]
      const d = occluded ? occluded[0][at] - zero : 0
      const e = occluded ? occluded[1][at] - occluded[0][at] - b : 0
      if (!(Math.abs(b) > leastApart) || !Number.isFinite(a + b + d + e)) continue
      count++
      const into = products[c]
      into[0] += a * a
      into[1] += a * b
      into[2] += a * d
      into[3] += a * e
      into[5] += b * b
      into[6] += b * d
      into[7] += b * e
      into[10] += d * d
      into[11] += d * e
      into[15] += e * e
    }
  }
  for (const into of products)
    for (let i = 0; i < terms; i++) for (let j = 0; j < i; j++) into[i * terms + j] = into[j * terms + i]
  return { count, products }
}

function solved(frames: readonly Sums[], free: boolean): Solved {
  const products = [0, 1, 2].map((c) =>
    frames.reduce((sum, one) => sum.map((value, i) => value + one.products[c][i]), new Float64Array(terms * terms)),
  )
  const at = (c: number, i: number, j: number) => products[c][i * terms + j]
  /** For an occlusion o: the picture is off + o occlusion + ratio (ratio + o both). */
  const ratioAt = (c: number, o: number) => {
    const across = at(c, 0, 1) + o * (at(c, 0, 3) + at(c, 2, 1)) + o * o * at(c, 2, 3)
    const squares = at(c, 1, 1) + 2 * o * at(c, 1, 3) + o * o * at(c, 3, 3)
    return { ratio: -across / squares, gained: (across * across) / squares }
  }
  const cost = (o: number) =>
    [0, 1, 2].reduce(
      (sum, c) => sum + at(c, 0, 0) + 2 * o * at(c, 0, 2) + o * o * at(c, 2, 2) - ratioAt(c, o).gained,
      0,
    )
  let occlusion = 0
  if (free) {
    const tried = Array.from({ length: 101 }, (_, i) => cost(i / 100))
    const best = tried.indexOf(Math.min(...tried))
    const [a, b, c] = [tried[best - 1], tried[best], tried[best + 1]]
    const inside = a !== undefined && c !== undefined && a + c > 2 * b
    occlusion = best / 100 + (inside ? (0.01 * (a - c)) / (2 * (a + c - 2 * b)) : 0)
  }
  return { ratio: [0, 1, 2].map((c) => ratioAt(c, occlusion).ratio), occlusion }
}
