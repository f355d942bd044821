/** What is surely in front of a backing: summed over cells of pixels, and between cells again. */

import { NINE_TENTHS, ONE, TEN, excess, firstOther, number, secondOther } from './key-backing'
import { PIXEL, PLANE, between, oneNaN } from './lanes'

/**
 * What is surely in front, and its excess: red of `to` becomes excess times sureness, green sureness.
 *
 * @param stands plane: by how much the backing does
 */
export function keySure(to: usize, strip: usize, count: i32, k: usize, stands: usize): void {
  const own = k * PLANE
  const i = firstOther(k) * PLANE
  const j = secondOther(k) * PLANE
  const none = f32x4.splat(0)
  for (let o: usize = 0, end = <usize>count << 2; o < end; o += 16) {
    const p = strip + o
    const e = excess(v128.load(p + own), v128.load(p + i), v128.load(p + j))
    // From nothing where a tenth of the backing is seen to all where none is.
    const share = f32x4.sub(v128.load(p + 3 * PLANE), f32x4.div(e, v128.load(stands + o)))
    const rise = f32x4.mul(f32x4.sub(share, number(NINE_TENTHS)), number(TEN))
    // What is no number is not in front: it would spread over all that lies around.
    const sure = f32x4.pmin(number(ONE), f32x4.pmax(none, rise))
    v128.store(to + o, v128.and(f32x4.mul(e, sure), f32x4.gt(sure, none)))
    v128.store(to + o + PLANE, sure)
  }
}

/**
 * Sums of red and green over cells of `cell` pixels, times `share`, as packed pixels.
 *
 * @param count whole cells
 */
export function keyCells(to: usize, strip: usize, count: i32, cell: i32, share: f32): void {
  const by = f32x4.splat(share)
  let p = strip
  for (let end = to + (<usize>count << 4); to < end; to += PIXEL) {
    let light: f32 = 0
    let sure: f32 = 0
    if (cell >= 4) {
      let lights = v128.load(p)
      let sures = v128.load(p + PLANE)
      for (let i = 4; i < cell; i += 4) {
        lights = f32x4.add(lights, v128.load(p + (<usize>i << 2)))
        sures = f32x4.add(sures, v128.load(p + PLANE + (<usize>i << 2)))
      }
      light = across(lights)
      sure = across(sures)
    } else
      for (let i: usize = 0; i < <usize>cell; i++) {
        light += f32.load(p + (i << 2))
        sure += f32.load(p + PLANE + (i << 2))
      }
    v128.store(to, oneNaN(f32x4.mul(by, f32x4(light, sure, 0, 0))))
    p += <usize>cell << 2
  }
}

// @ts-ignore: decorator
@inline
function across(v: v128): f32 {
  const pairs = f32x4.add(v, i8x16.shuffle(v, v, 8, 9, 10, 11, 12, 13, 14, 15, 0, 1, 2, 3, 4, 5, 6, 7))
  return f32x4.extract_lane(pairs, 0) + f32x4.extract_lane(pairs, 1)
}

/** Bytes of what is known of a cell between two rows of cells: two floats. */
const PAIR: usize = 8

/**
 * Pixels between cells: red and green of cells become two planes, evenly from the middle of one cell to that of the next.
 *
 * @param to two planes, `PLANE` apart
 * @param upper address of the cell before that of pixel `x`, in the row of cells whose middle lies above; `lower` in the next
 * @param share of the way from the one to the other
 * @param work room for `count / cell + 4` pairs of floats
 * @returns whether anything is near: if not, the planes are left as they are
 */
export function keyBetween(
  to: usize,
  upper: usize,
  lower: usize,
  share: f32,
  count: i32,
  x: i32,
  cell: i32,
  work: usize,
): bool {
  const into = x & (cell - 1)
  const cells = <usize>((into + count - 1) / cell + 3) << 4
  // Nothing is near most of a picture.
  let any = f32x4.splat(0)
  for (let i: usize = 0; i < cells; i += PIXEL) any = v128.or(any, v128.or(v128.load(upper + i), v128.load(lower + i)))
  if (!v128.any_true(any)) return false
  const down = f32x4.splat(share)
  for (let i: usize = 0, w = work; i < cells; i += PIXEL, w += PAIR)
    v128.store64_lane(w, between(v128.load(upper + i), v128.load(lower + i), down), 0)
  if (cell === 4 && into === 0) betweenFours(to, count, work)
  else betweenAny(to, count, into, cell, work)
  return true
}

/** The same of cells of four pixels, from the beginning of one on. */
// @ts-ignore: decorator
@inline
function betweenFours(to: usize, count: i32, work: usize): void {
  const shares = v128.load(fourShares)
  let before = v128.load(work)
  let w = work + PAIR
  for (let p = to, end = to + (<usize>count << 2); p < end; p += 16, w += PAIR) {
    const after = v128.load(w)
    if (v128.any_true(v128.or(before, after))) {
      v128.store(p, between(i32x4.shuffle(before, before, 0, 0, 2, 2), i32x4.shuffle(after, after, 0, 0, 2, 2), shares))
      const sure = between(i32x4.shuffle(before, before, 1, 1, 3, 3), i32x4.shuffle(after, after, 1, 1, 3, 3), shares)
      v128.store(p + PLANE, sure)
    } else {
      v128.store(p, f32x4.splat(0))
      v128.store(p + PLANE, f32x4.splat(0))
    }
    before = after
  }
}

/** How far the four pixels of a cell lie from the middle of the one before or their own on the way to the next. */
const fourShares = memory.data<f32>([0.625, 0.875, 0.125, 0.375], 16)

function betweenAny(to: usize, count: i32, into: i32, cell: i32, work: usize): void {
  const over: f32 = <f32>1 / <f32>cell
  for (let n = 0; n < count; n++) {
    // Counted from the middle of the cell before.
    const place: f32 = (<f32>(into + n) + <f32>0.5) * over + <f32>0.5
    const low = <i32>place
    const share: f32 = place - <f32>low
    const w = work + (<usize>low << 3)
    const first = f32.load(w)
    const second = f32.load(w, 4)
    f32.store(to + (<usize>n << 2), first + (f32.load(w, 8) - first) * share)
    f32.store(to + PLANE + (<usize>n << 2), second + (f32.load(w, 12) - second) * share)
  }
}
