/** What was filmed in front of a backing, without it; and spill held by itself. */

import { CLEAR, MILLIONTH, ONE, THREE, backingAt, excess, firstOther, fourFrom, frontExcess, number, secondOther, standsAt, writeRow } from './key-backing'
import { coverageAt } from './key-coverage'
import { PLANE, oneNaN } from './lanes'
import { shortsAt } from './shorts'

/** From 0 to 1, evenly at both ends. */
// @ts-ignore: decorator
@inline
function smooth(share: v128): v128 {
  const t = f32x4.pmax(f32x4.pmin(share, number(ONE)), f32x4.splat(0))
  return f32x4.mul(f32x4.mul(t, t), f32x4.sub(number(THREE), f32x4.add(t, t)))
}

// @ts-ignore: decorator
@inline
function kept(at: usize, value: v128, light: v128, some: v128): void {
  v128.store(at, oneNaN(v128.and(v128.bitselect(v128.load(at), value, light), some)))
}

/**
 * The element without its backing, premultiplied.
 *
 * @param around coverage softened, whole numbers of 16 bits: where that is next to 0 or 1 coverage is exactly that
 * @param sure two planes: what is surely in front, softened; 0 where nothing is near
 * @param clear softened coverage up to which nothing is there; from twice of it all counts @param overClear one over it
 * @param solid the same of what is wanting to full coverage @param overSolid one over that
 * @param spill how far the backing's channel is held to the larger of the others, 0 to 1 @param toMean 1: to their mean
 * @param shows 0: all that is not backing; 1: without the backing's shadow; 2: that alone, as coverage. 1 and 2 sum to 0's coverage
 * @param lit not 0: there may be light without coverage
 */
export function keyOut(
  strip: usize,
  count: i32,
  x: i32,
  y: i32,
  k: usize,
  settings: usize,
  clean: usize,
  around: usize,
  sure: usize,
  clear: f32,
  overClear: f32,
  solid: f32,
  overSolid: f32,
  spill: f32,
  toMean: i32,
  shows: i32,
  lit: i32,
): void {
  const row = writeRow(settings, k, <f64>y + 0.5)
  // Softened coverage is a whole number: more than what is clear as it is more than the whole part of that.
  v128.store(row + CLEAR, i16x8.splat(<i16>f32.floor(clear * 8192)))
  if (shows !== 0) outRow(strip, count, x, row, k, clean, around, sure, clear, overClear, solid, overSolid, spill, toMean, shows, lit)
  else if (clean !== 0) outRow(strip, count, x, row, k, clean, around, sure, clear, overClear, solid, overSolid, spill, toMean, 0, lit)
  else outRow(strip, count, x, row, k, 0, around, sure, clear, overClear, solid, overSolid, spill, toMean, 0, lit)
}

/**
 * How much of what covers is a shadow on the backing, 0 to 1: it has next to no light of its own, and nothing that is surely in
 * front is near. Dark hair is told from a shadow by that alone.
 */
// @ts-ignore: decorator
@inline
function shadowShare(alpha: v128, light: v128, backing: v128, sureness: v128): v128 {
  const one = f32x4.splat(1)
  const none = f32x4.splat(0)
  // Beside the light that the backing has there; noise alone is a fifth of that where a tenth is covered.
  const lit = f32x4.div(light, f32x4.pmax(f32x4.mul(alpha, backing), number(MILLIONTH)))
  const dark = f32x4.mul(f32x4.sub(f32x4.splat(0.6), lit), f32x4.splat(1 / <f32>0.3))
  const near = f32x4.pmin(f32x4.mul(sureness, f32x4.splat(10)), one)
  return f32x4.mul(f32x4.pmax(f32x4.pmin(dark, one), none), f32x4.sub(one, near))
}

// @ts-ignore: decorator
@inline
function outRow(
  strip: usize,
  count: i32,
  x: i32,
  row: usize,
  k: usize,
  clean: usize,
  around: usize,
  sure: usize,
  clear: f32,
  overClear: f32,
  solid: f32,
  overSolid: f32,
  spill: f32,
  toMean: i32,
  shows: i32,
  lit: i32,
): void {
  const i = firstOther(k)
  const j = secondOther(k)
  const none = f32x4.splat(0)
  for (let o: usize = 0, end = <usize>count << 2; ; o += 16) {
    if (lit === 0) o = nothingFrom(strip, around, row, o, end)
    if (shows === 0) o = insideFrom(strip, around, sure, k, clear, overClear, solid, spill, toMean, o, end)
    if (o >= end) break
    const p = strip + o
    const pixels = fourFrom(x + <i32>(o >> 2))
    const a = v128.load(p + 3 * PLANE)
    const near = shortsAt(around + (o >> 1))
    const share = f32x4.mul(f32x4.sub(near, f32x4.splat(clear)), f32x4.splat(overClear))
    const inside = insideOf(a, near, share, solid)
    const nothing = v128.and(f32x4.le(near, f32x4.splat(clear)), f32x4.gt(a, none))
    const frontLight = sure === 0 ? none : v128.load(sure + o)
    let ck = v128.load(p + k * PLANE)
    let ci = v128.load(p + i * PLANE)
    let cj = v128.load(p + j * PLANE)
    let alpha = a
    let front = none
    let sk = none
    let si = none
    let sj = none
    const allInside = i32x4.all_true(inside)
    const coloured = v128.any_true(f32x4.gt(frontLight, none))
    // Inside no backing is left, nor mostly has it anything of its colour.
    if (shows !== 0 || coloured || !allInside) {
      const alone: usize = clean === 0 ? 0 : clean + o
      const s = standsAt(row, pixels, alone, k)
      if (coloured) front = f32x4.pmax(frontExcess(frontLight, v128.load(sure + o + PLANE), s), none)
      if (shows !== 0 || !allInside) {
        sk = backingAt(0, row, pixels, alone, k)
        si = backingAt(1, row, pixels, alone, i)
        sj = backingAt(2, row, pixels, alone, j)
        const found = coverageAt(a, excess(ck, ci, cj), s, sure === 0 ? 0 : sure + o)
        const held = f32x4.pmax(f32x4.pmin(found, a), none)
        const missing = f32x4.sub(f32x4.sub(a, near), f32x4.splat(solid))
        const open = smooth(f32x4.mul(missing, f32x4.splat(overSolid)))
        // Towards all of it where hardly any backing is left around, towards nothing where hardly anything is there.
        const filled = f32x4.add(f32x4.mul(held, open), f32x4.mul(a, f32x4.sub(number(ONE), open)))
        alpha = v128.bitselect(a, v128.andnot(f32x4.mul(filled, smooth(share)), nothing), inside)
        const behind = f32x4.sub(a, alpha)
        ck = without(ck, behind, sk)
        ci = without(ci, behind, si)
        cj = without(cj, behind, sj)
      }
    }
    ci = f32x4.pmax(ci, none)
    cj = f32x4.pmax(cj, none)
    ck = heldTo(ck, f32x4.add(othersOf(ci, cj, toMean), f32x4.mul(front, alpha)), spill)
    // Light without coverage has no backing behind it.
    const light = f32x4.le(a, none)
    let shown = alpha
    let left = v128.or(light, f32x4.gt(alpha, none))
    if (shows !== 0) {
      const most = f32x4.pmax(ck, f32x4.pmax(ci, cj))
      const backing = f32x4.pmax(sk, f32x4.pmax(si, sj))
      const surely = sure === 0 ? none : v128.load(sure + o + PLANE)
      const shadow = f32x4.mul(alpha, shadowShare(alpha, most, backing, surely))
      shown = shows === 2 ? shadow : f32x4.sub(alpha, shadow)
      // A shadow has no light of its own, nor is light without coverage any.
      left = shows === 2 ? none : v128.or(light, f32x4.gt(shown, none))
    }
    kept(p + k * PLANE, ck, light, left)
    kept(p + i * PLANE, ci, light, left)
    kept(p + j * PLANE, cj, light, left)
    v128.store(p + 3 * PLANE, oneNaN(f32x4.pmax(shown, none)))
  }
}

/** Whether next to nothing is wanting to full coverage. `share` is of the way from what is clear to twice of it. */
// @ts-ignore: decorator
@inline
function insideOf(a: v128, near: v128, share: v128, solid: f32): v128 {
  return v128.and(f32x4.le(f32x4.sub(a, near), f32x4.splat(solid)), f32x4.ge(share, number(ONE)))
}

/** Clears what is backing alone, from `o` on: most of a picture. @returns where something begins, or `end` */
function nothingFrom(strip: usize, around: usize, row: usize, o: usize, end: usize): usize {
  const none = f32x4.splat(0)
  for (; o < end; o += 16) {
    if (v128.any_true(i16x8.gt_s(v128.load64_zero(around + (o >> 1)), v128.load(row + CLEAR)))) break
    v128.store(strip + o, none)
    v128.store(strip + o + PLANE, none)
    v128.store(strip + o + 2 * PLANE, none)
    v128.store(strip + o + 3 * PLANE, none)
  }
  return o
}

/** Holds the spill of what is all there, with nothing of the backing's colour near. @returns where that ends, or `end` */
function insideFrom(
  strip: usize,
  around: usize,
  sure: usize,
  k: usize,
  clear: f32,
  overClear: f32,
  solid: f32,
  spill: f32,
  toMean: i32,
  o: usize,
  end: usize,
): usize {
  const i = firstOther(k)
  const j = secondOther(k)
  const none = f32x4.splat(0)
  for (; o < end; o += 16) {
    const p = strip + o
    const a = v128.load(p + 3 * PLANE)
    const near = shortsAt(around + (o >> 1))
    const share = f32x4.mul(f32x4.sub(near, f32x4.splat(clear)), f32x4.splat(overClear))
    if (!i32x4.all_true(v128.and(insideOf(a, near, share, solid), f32x4.gt(a, none)))) break
    if (sure !== 0 && v128.any_true(f32x4.gt(v128.load(sure + o), none))) break
    const ci = f32x4.pmax(v128.load(p + i * PLANE), none)
    const cj = f32x4.pmax(v128.load(p + j * PLANE), none)
    v128.store(p + k * PLANE, oneNaN(heldTo(v128.load(p + k * PLANE), othersOf(ci, cj, toMean), spill)))
    v128.store(p + i * PLANE, oneNaN(ci))
    v128.store(p + j * PLANE, oneNaN(cj))
  }
  return o
}

/** What spill is held to: the larger of the other two channels, or their mean. */
// @ts-ignore: decorator
@inline
function othersOf(i: v128, j: v128, toMean: i32): v128 {
  return toMean !== 0 ? f32x4.mul(f32x4.add(i, j), f32x4.splat(0.5)) : f32x4.pmax(i, j)
}

// @ts-ignore: decorator
@inline
function heldTo(light: v128, limit: v128, amount: f32): v128 {
  const none = f32x4.splat(0)
  const over = f32x4.pmax(f32x4.sub(light, limit), none)
  return f32x4.pmax(f32x4.sub(light, f32x4.mul(f32x4.splat(amount), over)), none)
}

/** Light less that of the backing, as far as that is seen. */
// @ts-ignore: decorator
@inline
function without(light: v128, behind: v128, backing: v128): v128 {
  return f32x4.sub(light, v128.and(f32x4.mul(behind, backing), f32x4.ne(behind, f32x4.splat(0))))
}

/**
 * The backing's channel held to the other two, and what is taken given back in another colour.
 *
 * @param k which channel @param amount how far, 0 to 1 @param toMean 1: held to the mean of the other two, not to the larger
 */
export function spillRow(strip: usize, count: i32, k: i32, amount: f32, toMean: i32, r: f32, g: f32, b: f32): void {
  const i = firstOther(k)
  const j = secondOther(k)
  const by = f32x4.splat(amount)
  for (let n = 0; n < count; n += 4) {
    const p = strip + (<usize>n << 2)
    const own = v128.load(p + <usize>k * PLANE)
    const one = v128.load(p + i * PLANE)
    const other = v128.load(p + j * PLANE)
    const limit = toMean !== 0 ? f32x4.mul(f32x4.add(one, other), f32x4.splat(0.5)) : f32x4.pmax(one, other)
    const taken = f32x4.mul(by, f32x4.pmax(f32x4.sub(own, limit), f32x4.splat(0)))
    v128.store(p + <usize>k * PLANE, f32x4.sub(own, taken))
    v128.store(p, oneNaN(f32x4.add(v128.load(p), f32x4.mul(taken, f32x4.splat(r)))))
    v128.store(p + PLANE, oneNaN(f32x4.add(v128.load(p + PLANE), f32x4.mul(taken, f32x4.splat(g)))))
    v128.store(p + 2 * PLANE, oneNaN(f32x4.add(v128.load(p + 2 * PLANE), f32x4.mul(taken, f32x4.splat(b)))))
  }
}
