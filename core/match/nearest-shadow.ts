/** How much light a shadow leaves, and how strong the occlusion beside it is: found from pictures with each of them at its ends. */

import type { Sure } from './propose'
import { ninetyPercent } from './students-t'

/** One frame's pictures, RGBA: light is bilinear in both settings, since each acts evenly on what is behind it. */
export interface ShadowCorners {
  /** with a ratio of 0 and of 1, the occlusion away */
  readonly ratio: readonly [Float32Array, Float32Array]
  /** the same two with the occlusion at its full strength; absent where there is none to be found */
  readonly occluded?: readonly [Float32Array, Float32Array]
  /** the occlusion pass itself, 1 where the sky is open; with `occluded` */
  readonly sky?: Float32Array
  /** as it was photographed */
  readonly wanted: Float32Array
  /** pixels of a line */
  readonly width: number
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
const leastBlocks = 30
/**
 * Means over so many pixels across and down are compared: grain of the plate is in what is darkened as well as in what is left,
 * and would be taken for light that the shadow takes away. Settings act evenly, so that means obey them as pixels do.
 */
const block = 8
/** Nearer to what stands there passes are least true: it touches the ground, or a shadow hides below it. */
const leastSky = 0.5

/**
 * Lamps are shadowed and the sky is occluded: what is left is the sum of both, so least squares over it, channel by channel,
 * tell how much of the light is the lamps' and how much the sky's. Blends multiply, which takes too much where both are away;
 * what strength of the occlusion comes nearest so is found afterwards. How sure it is comes from how the result differs when
 * each frame, or each object, is left out in turn (jackknife): pixels of a frame share what the two settings cannot explain,
 * and no two objects take away the same of lamps of several colours.
 *
 * @returns null where they change too little
 */
export function nearestShadow(frames: readonly ShadowCorners[]): NearestShadow | null {
  const sums = frames.map(sumsOf)
  if (sums.reduce((count, one) => count + one.count, 0) < leastBlocks) return null
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
  /** where enough of the sky is seen */
  readonly open: { readonly count: number; readonly products: readonly Float64Array[] }
}

const terms = 4

function sumsOf({ width, counts, ...pictures }: ShadowCorners): Sums {
  const height = pictures.wanted.length / 4 / width
  const cells = new Cells(width, height, counts)
  const means = (light: Float32Array) => cells.means(light)
  const [zeros, ones] = pictures.ratio.map(means)
  const wanted = means(pictures.wanted)
  const occluded = pictures.occluded?.map(means)
  const sky = pictures.sky && means(pictures.sky)
  const newProducts = () => [0, 1, 2].map(() => new Float64Array(terms * terms))
  const [products, openProducts] = [newProducts(), newProducts()]
  let [count, openCount] = [0, 0]
  for (let i = 0; i < cells.count; i++) {
    if (!cells.isEnough(i)) continue
    for (let c = 0; c < 3; c++) {
      const at = 3 * i + c
      const zero = zeros[at]
      const [a, b] = [zero - wanted[at], ones[at] - zero]
      const d = occluded ? occluded[0][at] - zero : 0
      const e = occluded ? occluded[1][at] - occluded[0][at] - b : 0
      if (!(Math.max(Math.abs(b), Math.abs(d)) > leastApart) || !Number.isFinite(a + b + d + e)) continue
      count++
      addProducts(products[c], a, b, d, e)
      if (sky && !(sky[at] > leastSky)) continue
      openCount++
      addProducts(openProducts[c], a, b, d, e)
    }
  }
  for (const into of [...products, ...openProducts])
    for (let i = 0; i < terms; i++) for (let j = 0; j < i; j++) into[i * terms + j] = into[j * terms + i]
  return { count, products, open: { count: openCount, products: openProducts } }
}

/** The frame's blocks: of each the mean of the pixels that count. */
class Cells {
  readonly count: number
  /** the block of each pixel; none where it does not count */
  private readonly cellOf: Int32Array
  private readonly pixels: Uint16Array

  constructor(width: number, height: number, counts: (pixel: number) => boolean) {
    const across = Math.ceil(width / block)
    this.count = across * Math.ceil(height / block)
    this.cellOf = new Int32Array(width * height).fill(none)
    this.pixels = new Uint16Array(this.count)
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        if (!counts(i)) continue
        const cell = ((y / block) | 0) * across + ((x / block) | 0)
        this.cellOf[i] = cell
        this.pixels[cell]++
      }
  }

  /** Half a block has enough of them. */
  isEnough(cell: number): boolean {
    return this.pixels[cell] >= (block * block) / 2
  }

  /** @returns three channels of each block */
  means(light: Float32Array): Float64Array {
    const { cellOf, pixels } = this
    const sums = new Float64Array(3 * this.count)
    for (let i = 0; i < cellOf.length; i++) {
      const at = 3 * cellOf[i]
      if (at < 0) continue
      sums[at] += light[4 * i]
      sums[at + 1] += light[4 * i + 1]
      sums[at + 2] += light[4 * i + 2]
    }
    return sums.map((sum, i) => sum / pixels[(i / 3) | 0])
  }
}

const none = -1

function addProducts(into: Float64Array, a: number, b: number, d: number, e: number): void {
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

const added = (frames: readonly { readonly products: readonly Float64Array[] }[]): readonly Float64Array[] =>
  [0, 1, 2].map((c) =>
    frames.reduce((sum, one) => sum.map((value, i) => value + one.products[c][i]), new Float64Array(terms * terms)),
  )

function solved(frames: readonly Sums[], free: boolean): Solved {
  const everywhere = added(frames)
  const opens = frames.map(({ open }) => open)
  const tellsRatio = opens.reduce((sum, { count }) => sum + count, 0) < leastBlocks ? everywhere : added(opens)
  const at = (products: Float64Array, i: number, j: number) => products[i * terms + j]
  /** As light goes: off + ratio times what the shadow takes + the sky's share times what the occlusion takes of lit ground. */
  const ratio = tellsRatio.map((p) => {
    const [own, light] = [at(p, 1, 1), -at(p, 0, 1)]
    if (!free) return light / own
    const both = at(p, 1, 2) + at(p, 1, 3)
    const sky = at(p, 2, 2) + 2 * at(p, 2, 3) + at(p, 3, 3)
    const ofSky = -at(p, 0, 2) - at(p, 0, 3)
    const apart = own * sky - both * both
    return apart > leastTold * own * sky ? (light * sky - ofSky * both) / apart : light / own
  })
  if (!free) return { ratio, occlusion: 0 }
  // As it is blended: off + ratio times shadow + occlusion (occlusion + ratio both).
  let [across, squares] = [0, 0]
  everywhere.forEach((p, c) => {
    const r = ratio[c]
    across += at(p, 0, 2) + r * (at(p, 0, 3) + at(p, 1, 2)) + r * r * at(p, 1, 3)
    squares += at(p, 2, 2) + 2 * r * at(p, 2, 3) + r * r * at(p, 3, 3)
  })
  return { ratio, occlusion: squares > 0 ? -across / squares : 0 }
}

/** Shadow and occlusion that lie on the same ground by the same shares cannot be told apart. */
const leastTold = 1e-6
