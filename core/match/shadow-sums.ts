/** Sums over the pixels of pictures with a shadow and an occlusion at their ends, from which what both should be follows. */

import { union, type Window } from '../image/window'

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
  /** where all of them lie in the plate */
  readonly window: Window
  /** frames of one object throw one shadow */
  readonly object: string
  readonly counts: (pixel: number) => boolean
}

/**
 * Products of what is told of the settings (rows) with what they do and how far off that is (columns), summed, by channel: `[i * terms + j]`
 * of i, j in off, ratio, occlusion, both. Nothing is told of what is off.
 */
export interface Sums {
  /** pixels */
  readonly count: number
  readonly products: readonly Float64Array[]
}

/** Of a frame: everywhere, and where enough of the sky is seen. */
export interface FrameSums extends Sums {
  readonly open: Sums
}

export const terms = 4
/** What the ratio does, the occlusion, and both together. */
const settings = 3
const perPixel = 3 * settings

/** Below this much of a difference nothing is done there. */
const leastApart = 1e-4
/** Nearer to what stands there passes are least true: it touches the ground, or a shadow hides below it. */
const leastSky = 0.5
/** Pixels to each side around a pixel, less those nearer by, where grain may be alike. */
const ring = { outer: 3, inner: 1 }

/**
 * Grain of the plate is in what the settings do at a pixel as well as in how far off it is: least squares would take it for light that the
 * shadow takes away. So what the settings do is told by what they do there on the object's other frames, or around it where it has one
 * frame only (instrumental variables: Wright 1928).
 */
export function shadowSums(frames: readonly DoneByShadow[]): readonly FrameSums[] {
  const totals = new Map<string, Total>()
  for (const object of new Set(frames.map((one) => one.object))) {
    const own = frames.filter((one) => one.object === object)
    if (own.length > 1) totals.set(object, totalOf(own))
  }
  return frames.map((one) => sumsOf(one, totals.get(one.object)))
}

/** What the settings do on a frame: all that is asked of its pictures, which need not be kept. */
export interface DoneByShadow {
  readonly window: Window
  readonly object: string
  /** whether an occlusion is to be found as well */
  readonly occludes: boolean
  /** 1 where a pixel counts */
  readonly counting: Uint8Array
  /** `perPixel` values of each pixel: of each setting red, green, blue; 0 where it does not count */
  readonly does: Float32Array
  /** three values of each pixel: what it has too much with both settings at 0 */
  readonly off: Float32Array
  /** 1 where enough of the sky is seen */
  readonly open: Uint8Array
}

export function doneByShadow(corners: ShadowCorners): DoneByShadow {
  const { occluded, sky, wanted, window, object, counts } = corners
  const [zero, one] = corners.ratio
  const pixels = wanted.length / 4
  const counting = new Uint8Array(pixels)
  const does = new Float32Array(perPixel * pixels)
  const off = new Float32Array(3 * pixels)
  const open = new Uint8Array(pixels)
  const { isFinite } = Number
  for (let i = 0; i < pixels; i++) {
    if (!counts(i)) continue
    if (!sky || sky[4 * i] > leastSky) open[i] = 1
    let all = 0
    for (let c = 0; c < 3; c++) {
      const at = 4 * i + c
      const to = perPixel * i + c
      const shadow = one[at] - zero[at]
      off[3 * i + c] = zero[at] - wanted[at]
      does[to] = shadow
      all += shadow + off[3 * i + c]
      if (!occluded) continue
      does[to + 3] = occluded[0][at] - zero[at]
      does[to + 6] = occluded[1][at] - occluded[0][at] - shadow
      all += does[to + 3] + does[to + 6]
    }
    if (isFinite(all)) counting[i] = 1
    else does.fill(0, perPixel * i, perPixel * (i + 1))
  }
  return { window, object, occludes: occluded !== undefined, counting, does, off, open }
}

/** What the settings do on all frames of an object, summed where they lie in the plate. */
interface Total {
  readonly window: Window
  readonly counted: Uint16Array
  readonly does: Float64Array
}

function totalOf(frames: readonly DoneByShadow[]): Total {
  const window = frames.map((one) => one.window).reduce(union)
  const counted = new Uint16Array(window.width * window.height)
  const does = new Float64Array(perPixel * counted.length)
  for (const one of frames) {
    const into = placesIn(window, one.window)
    for (let i = 0; i < one.counting.length; i++) {
      if (one.counting[i] === 0) continue
      const to = into(i)
      counted[to]++
      for (let k = 0; k < perPixel; k++) does[perPixel * to + k] += one.does[perPixel * i + k]
    }
  }
  return { window, counted, does }
}

/** @returns from a pixel of the inner window to that of the outer one */
function placesIn(outer: Window, inner: Window): (pixel: number) => number {
  const first = (inner.y - outer.y) * outer.width + inner.x - outer.x
  const { width } = inner
  return (pixel) => first + ((pixel / width) | 0) * outer.width + (pixel % width)
}

function sumsOf(done: DoneByShadow, total: Total | undefined): FrameSums {
  const tell = total ? toldByOthers(done, total) : toldAround(done)
  const { counting, does, off, open: opens } = done
  const newProducts = () => [0, 1, 2].map(() => new Float64Array(terms * terms))
  const [products, openProducts] = [newProducts(), newProducts()]
  const told = new Float64Array(perPixel)
  let [count, openCount] = [0, 0]
  for (let i = 0; i < counting.length; i++) {
    if (counting[i] === 0 || !tell(i, told)) continue
    const open = opens[i] === 1
    let there = false
    for (let c = 0; c < 3; c++) {
      if (!(told[c] > leastApart || told[c] < -leastApart || told[c + 3] > leastApart || told[c + 3] < -leastApart))
        continue
      there = true
      addProducts(products[c], told, off[3 * i + c], does, perPixel * i, c)
      if (open) addProducts(openProducts[c], told, off[3 * i + c], does, perPixel * i, c)
    }
    if (!there) continue
    count++
    if (open) openCount++
  }
  return { count, products, open: { count: openCount, products: openProducts } }
}

/** Puts what is told of a pixel into `told`. @returns whether anything is */
type Tell = (pixel: number, told: Float64Array) => boolean

function toldByOthers({ window, does }: DoneByShadow, total: Total): Tell {
  const into = placesIn(total.window, window)
  return (pixel, told) => {
    const at = into(pixel)
    const others = total.counted[at] - 1
    if (others < 1) return false
    for (let k = 0; k < perPixel; k++) told[k] = (total.does[perPixel * at + k] - does[perPixel * pixel + k]) / others
    return true
  }
}

function toldAround({ window: { width, height }, counting, does }: DoneByShadow): Tell {
  const { inner, outer } = ring
  return (pixel, told) => {
    told.fill(0)
    const [x, y] = [pixel % width, (pixel / width) | 0]
    let count = 0
    for (let dy = -outer; dy <= outer; dy++)
      for (let dx = -outer; dx <= outer; dx++) {
        if (dx >= -inner && dx <= inner && dy >= -inner && dy <= inner) continue
        const i = pixel + dy * width + dx
        if (y + dy < 0 || y + dy >= height || x + dx < 0 || x + dx >= width || counting[i] === 0) continue
        count++
        for (let k = 0; k < perPixel; k++) told[k] += does[perPixel * i + k]
      }
    for (let k = 0; k < perPixel; k++) told[k] /= count
    return count > 0
  }
}

function addProducts(into: Float64Array, told: Float64Array, off: number, does: Float32Array, at: number, c: number) {
  for (let i = 0; i < settings; i++) {
    const by = told[3 * i + c]
    const row = (i + 1) * terms
    into[row] += by * off
    for (let j = 0; j < settings; j++) into[row + j + 1] += by * does[at + 3 * j + c]
  }
}
