/** How much light a shadow leaves, and how strong the occlusion beside it is: found from pictures with each of them at its ends. */

import type { Sure } from './propose'
import { shadowSums, terms, type DoneByShadow, type FrameSums, type Sums } from './shadow-sums'
import { ninetyPercent } from './students-t'

export interface NearestShadow {
  readonly ratio: readonly [Sure, Sure, Sure]
  /** null where no occlusion was given */
  readonly occlusion: Sure | null
}

/** Fewer do not tell. */
const leastPixels = 1000

/**
 * Lamps are shadowed and the sky is occluded: what is left is the sum of both, so a line through it, channel by channel, tells
 * how much of the light is the lamps' and how much the sky's. Blends multiply, which takes too much where both are away;
 * what strength of the occlusion comes nearest so is found afterwards. How sure it is comes from how the result differs when
 * each frame, or each object, is left out in turn (jackknife): pixels of a frame share what the two settings cannot explain,
 * and no two objects take away the same of lamps of several colours.
 *
 * @returns null where they change too little
 */
export function nearestShadow(frames: readonly DoneByShadow[]): NearestShadow | null {
  const sums = shadowSums(frames)
  if (sums.reduce((count, one) => count + one.count, 0) < leastPixels) return null
  const free = frames.some(({ occludes }) => occludes)
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

const added = (frames: readonly Sums[]): readonly Float64Array[] =>
  [0, 1, 2].map((c) =>
    frames.reduce((sum, one) => sum.map((value, i) => value + one.products[c][i]), new Float64Array(terms * terms)),
  )

function solved(frames: readonly FrameSums[], free: boolean): Solved {
  const everywhere = added(frames)
  const opens = frames.map(({ open }) => open)
  const tellsRatio = opens.reduce((sum, { count }) => sum + count, 0) < leastPixels ? everywhere : added(opens)
  const at = (products: Float64Array, i: number, j: number) => products[i * terms + j]
  /** As light goes: off + ratio times what the shadow takes + the sky's share times what the occlusion takes of lit ground. */
  const ratio = tellsRatio.map((p) => {
    const [own, light] = [at(p, 1, 1), -at(p, 1, 0)]
    if (!free) return light / own
    const [skyHere, skyTold] = [at(p, 1, 2) + at(p, 1, 3), at(p, 2, 1) + at(p, 3, 1)]
    const sky = at(p, 2, 2) + at(p, 2, 3) + at(p, 3, 2) + at(p, 3, 3)
    const ofSky = -at(p, 2, 0) - at(p, 3, 0)
    const apart = own * sky - skyHere * skyTold
    return apart > leastTold * own * sky ? (light * sky - ofSky * skyHere) / apart : light / own
  })
  if (!free) return { ratio, occlusion: 0 }
  // As it is blended: off + ratio times shadow + occlusion (occlusion + ratio both).
  let [across, squares] = [0, 0]
  everywhere.forEach((p, c) => {
    const r = ratio[c]
    across += at(p, 2, 0) + r * (at(p, 3, 0) + at(p, 2, 1)) + r * r * at(p, 3, 1)
    squares += at(p, 2, 2) + r * (at(p, 2, 3) + at(p, 3, 2)) + r * r * at(p, 3, 3)
  })
  return { ratio, occlusion: squares > 0 ? -across / squares : 0 }
}

/** Shadow and occlusion that lie on the same ground by the same shares cannot be told apart. */
const leastTold = 1e-6
