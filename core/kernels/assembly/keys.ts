/**
 * A backing colour taken out of what was filmed in front of it. How far the backing's channel stands above the larger of the other
 * two is its excess; coverage follows from the excess of the pixel, of the backing there, and of what is in front.
 *
 * Settings, doubles: the backing as a surface of second order for each channel (1, u, v, u2, uv, v2: 18 numbers), where u and v are 0
 * (2) and how many pixels are 1 (1). `k` is which channel is the backing's: of an integer, since one that is made of a float here is made
 * again for every vector (45 cycles). `clean` is a strip of the backing filmed alone, or 0.
 */

import { PIXEL, PLANE, between, oneNaN, scratch } from './lanes'
import { fill } from './samples'

/**
 * Along a row the backing's light in a channel is a + b u + c u2: the three, floats, worked out once and kept in memory. What is
 * computed before a loop and only used in it is otherwise computed anew on every turn.
 *
 * @param to 11 floats: of the backing's channel, of the two others, where u is 0, and what a pixel is of u
 */
function writeRow(to: usize, settings: usize, k: usize, y: i32): void {
  const over = 1 / f64.load(settings + (20 << 3))
  const v = (<f64>y + 0.5 - f64.load(settings + (19 << 3))) * over
  writeChannel(to, settings + k * 48, v)
  writeChannel(to + 12, settings + firstOther(k) * 48, v)
  writeChannel(to + 24, settings + secondOther(k) * 48, v)
  f32.store(to, <f32>(f64.load(settings + (18 << 3)) - 0.5), 36)
  f32.store(to, <f32>over, 40)
}

function writeChannel(to: usize, at: usize, v: f64): void {
  f32.store(to, <f32>(f64.load(at) + v * (f64.load(at, 16) + v * f64.load(at, 40))))
  f32.store(to, <f32>(f64.load(at, 8) + v * f64.load(at, 32)), 4)
  f32.store(to, <f32>f64.load(at, 24), 8)
}

/** Light of the backing in one channel at four pixels. */
// @ts-ignore: decorator
@inline
function backingAt(a: v128, b: v128, c: v128, u: v128): v128 {
  const value = f32x4.add(a, f32x4.mul(u, f32x4.add(b, f32x4.mul(u, c))))
  return f32x4.pmax(value, f32x4.splat(0))
}

/** The same from a picture of the backing alone, where there is one. */
// @ts-ignore: decorator
@inline
function backingIn(clean: usize, n: i32, channel: usize, a: v128, b: v128, c: v128, u: v128): v128 {
  return clean === 0 ? backingAt(a, b, c, u) : v128.load(clean + (<usize>n << 2) + channel * PLANE)
}

/** Where four pixels lie across: each by its own number alone, so that it does not matter where a window begins. */
// @ts-ignore: decorator
@inline
function acrossOf(x: i32, middle: v128, over: v128): v128 {
  const pixels = f32x4.convert_i32x4_s(i32x4.add(i32x4.splat(x), i32x4(0, 1, 2, 3)))
  return f32x4.mul(f32x4.sub(pixels, middle), over)
}

// @ts-ignore: decorator
@inline
function firstOther(k: usize): usize {
  return k === 0 ? 1 : 0
}

// @ts-ignore: decorator
@inline
function secondOther(k: usize): usize {
  return k === 2 ? 1 : 2
}

// @ts-ignore: decorator
@inline
function excess(a: v128, b: v128, c: v128): v128 {
  return f32x4.sub(a, f32x4.pmax(b, c))
}

/** Backing light must stand out by so much, or there is none. */
const LEAST: f32 = 1e-4

/** By how much the backing, as a surface, stands out: one plane. */
export function keyStands(to: usize, count: i32, x: i32, y: i32, k: usize, settings: usize): void {
  writeRow(scratch, settings, k, y)
  const ka = v128.load32_splat(scratch)
  const kb = v128.load32_splat(scratch, 4)
  const kc = v128.load32_splat(scratch, 8)
  const ia = f32x4.sub(ka, v128.load32_splat(scratch, 12))
  const ib = f32x4.sub(kb, v128.load32_splat(scratch, 16))
  const ic = f32x4.sub(kc, v128.load32_splat(scratch, 20))
  const ja = f32x4.sub(ka, v128.load32_splat(scratch, 24))
  const jb = f32x4.sub(kb, v128.load32_splat(scratch, 28))
  const jc = f32x4.sub(kc, v128.load32_splat(scratch, 32))
  const middle = v128.load32_splat(scratch, 36)
  const over = v128.load32_splat(scratch, 40)
  for (let n = 0; n < count; n += 4) {
    const u = acrossOf(x + n, middle, over)
    const one = f32x4.add(ia, f32x4.mul(u, f32x4.add(ib, f32x4.mul(u, ic))))
    const other = f32x4.add(ja, f32x4.mul(u, f32x4.add(jb, f32x4.mul(u, jc))))
    v128.store(to + (<usize>n << 2), f32x4.pmax(f32x4.pmin(one, other), f32x4.splat(LEAST)))
  }
}

/** The same of the backing filmed alone. */
export function keyStandsIn(to: usize, clean: usize, count: i32, k: usize): void {
  const own = k * PLANE
  const i = firstOther(k) * PLANE
  const j = secondOther(k) * PLANE
  for (let n: usize = 0, end = <usize>count << 2; n < end; n += 16) {
    const p = clean + n
    const stands = excess(v128.load(p + own), v128.load(p + i), v128.load(p + j))
    v128.store(to + n, f32x4.pmax(stands, f32x4.splat(LEAST)))
  }
}

/**
 * What is surely in front, and its excess: red of `to` becomes excess times sureness, green sureness.
 *
 * @param stands plane: by how much the backing does
 */
export function keySure(to: usize, strip: usize, count: i32, k: usize, stands: usize): void {
  const own = k * PLANE
  const i = firstOther(k) * PLANE
  const j = secondOther(k) * PLANE
  const one = f32x4.splat(1)
  const none = f32x4.splat(0)
  for (let n: usize = 0, end = <usize>count << 2; n < end; n += 16) {
    const p = strip + n
    const e = excess(v128.load(p + own), v128.load(p + i), v128.load(p + j))
    // From nothing where a tenth of the backing is seen to all where none is.
    const share = f32x4.sub(v128.load(p + 3 * PLANE), f32x4.div(e, v128.load(stands + n)))
    const rise = f32x4.mul(f32x4.sub(share, f32x4.splat(0.9)), f32x4.splat(10))
    const sure = f32x4.pmax(f32x4.pmin(rise, one), none)
    v128.store(to + n, f32x4.mul(e, sure))
    v128.store(to + n + PLANE, sure)
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

/**
 * Pixels between cells: red and green of cells become two planes, evenly from the middle of one cell to that of the next.
 *
 * @param to two planes, `PLANE` apart
 * @param upper address of the cell before that of pixel `x`, in the row of cells whose middle lies above; `lower` in the next
 * @param share of the way from the one to the other
 * @param work room for `count / cell + 3` packed pixels
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
): void {
  const into = x & (cell - 1)
  const cells = (into + count - 1) / cell + 3
  const down = f32x4.splat(share)
  let any = f32x4.splat(0)
  for (let i: usize = 0, end = <usize>cells << 4; i < end; i += PIXEL) {
    const value = between(v128.load(upper + i), v128.load(lower + i), down)
    any = v128.or(any, value)
    v128.store(work + i, value)
  }
  if (!v128.any_true(any)) {
    fill(to, 0, count)
    fill(to + PLANE, 0, count)
  } else if (cell === 4 && into === 0) betweenFours(to, count, work)
  else betweenAny(to, count, into, cell, work)
}

/** The same of cells of four pixels, from the beginning of one on. */
// @ts-ignore: decorator
@inline
function betweenFours(to: usize, count: i32, work: usize): void {
  const shares = f32x4(0.625, 0.875, 0.125, 0.375)
  let before = v128.load(work)
  let own = v128.load(work, 16)
  let w = work + 32
  for (let p = to, end = to + (<usize>count << 2); p < end; p += 16, w += PIXEL) {
    const after = v128.load(w)
    if (!v128.any_true(v128.or(before, v128.or(own, after)))) {
      v128.store(p, f32x4.splat(0))
      v128.store(p + PLANE, f32x4.splat(0))
      before = own
      own = after
      continue
    }
    const low = i8x16.shuffle(before, own, 0, 1, 2, 3, 0, 1, 2, 3, 16, 17, 18, 19, 16, 17, 18, 19)
    const high = i8x16.shuffle(own, after, 0, 1, 2, 3, 0, 1, 2, 3, 16, 17, 18, 19, 16, 17, 18, 19)
    v128.store(p, between(low, high, shares))
    const lowSure = i8x16.shuffle(before, own, 4, 5, 6, 7, 4, 5, 6, 7, 20, 21, 22, 23, 20, 21, 22, 23)
    const highSure = i8x16.shuffle(own, after, 4, 5, 6, 7, 4, 5, 6, 7, 20, 21, 22, 23, 20, 21, 22, 23)
    v128.store(p + PLANE, between(lowSure, highSure, shares))
    before = own
    own = after
  }
}

function betweenAny(to: usize, count: i32, into: i32, cell: i32, work: usize): void {
  const over: f32 = <f32>1 / <f32>cell
  for (let n = 0; n < count; n++) {
    // Counted from the middle of the cell before.
    const place: f32 = (<f32>(into + n) + <f32>0.5) * over + <f32>0.5
    const low = <i32>place
    const share: f32 = place - <f32>low
    const w = work + (<usize>low << 4)
    const pair = between(v128.load(w), v128.load(w, 16), f32x4.splat(share))
    f32.store(to + (<usize>n << 2), f32x4.extract_lane(pair, 0))
    f32.store(to + PLANE + (<usize>n << 2), f32x4.extract_lane(pair, 1))
  }
}

/** The excess of what is in front near a pixel, as far as it is known; no more than a fifth of the backing's. */
// @ts-ignore: decorator
@inline
function frontExcess(light: v128, weight: v128, s: v128): v128 {
  const mean = f32x4.div(light, f32x4.pmax(weight, f32x4.splat(1e-6)))
  const held = f32x4.pmin(mean, f32x4.mul(s, f32x4.splat(0.2)))
  // Far from all that is surely in front it is taken to be neutral.
  const known = f32x4.pmin(f32x4.mul(weight, f32x4.splat(1000)), f32x4.splat(1))
  return f32x4.mul(held, known)
}

/**
 * Coverage, not yet held to 0 and 1, as one plane.
 *
 * @param stands plane: by how much the backing does @param sure two planes: what is surely in front, softened
 */
export function keyCoverage(to: usize, strip: usize, count: i32, k: usize, stands: usize, sure: usize): void {
  const own = k * PLANE
  const i = firstOther(k) * PLANE
  const j = secondOther(k) * PLANE
  const none = f32x4.splat(0)
  for (let n: usize = 0, end = <usize>count << 2; n < end; n += 16) {
    const p = strip + n
    const a = v128.load(p + 3 * PLANE)
    const e = excess(v128.load(p + own), v128.load(p + i), v128.load(p + j))
    const s = v128.load(stands + n)
    const left = f32x4.sub(f32x4.mul(a, s), e)
    const weight = v128.load(sure + n + PLANE)
    // Most of a picture has nothing in front, and none near: the same without what is nothing then.
    const share = v128.any_true(weight) ? coverageNear(a, e, s, left, weight, sure + n) : f32x4.div(left, s)
    const held = f32x4.pmax(f32x4.pmin(share, f32x4.splat(1.5)), f32x4.splat(-0.5))
    v128.store(to + n, oneNaN(v128.and(held, f32x4.gt(a, none))))
  }
}

// @ts-ignore: decorator
@inline
function coverageNear(a: v128, e: v128, s: v128, left: v128, weight: v128, sure: usize): v128 {
  const near = f32x4.div(left, f32x4.sub(s, frontExcess(v128.load(sure), weight, s)))
  // Deep inside, where all around is surely in front, what is in front may vary as it likes.
  const surely = f32x4.mul(f32x4.sub(weight, f32x4.splat(0.8)), f32x4.splat(5))
  const plain = f32x4.pmin(f32x4.sub(a, f32x4.div(e, s)), a)
  const mixed = f32x4.add(near, f32x4.mul(f32x4.pmin(surely, f32x4.splat(1)), f32x4.sub(plain, near)))
  return v128.bitselect(mixed, near, f32x4.gt(surely, f32x4.splat(0)))
}

// @ts-ignore: decorator
@inline
function rising(value: v128, from: v128, over: v128): v128 {
  const t = f32x4.pmax(f32x4.pmin(f32x4.mul(f32x4.sub(value, from), over), f32x4.splat(1)), f32x4.splat(0))
  return f32x4.mul(f32x4.mul(t, t), f32x4.sub(f32x4.splat(3), f32x4.add(t, t)))
}

// @ts-ignore: decorator
@inline
function kept(at: usize, value: v128, light: v128, some: v128): void {
  v128.store(at, oneNaN(v128.and(v128.bitselect(v128.load(at), value, light), some)))
}

/**
 * The element without its backing, premultiplied.
 *
 * @param known coverage; the same softened: where that is next to 0 or 1 coverage is exactly that; what is surely in front, softened
 * @param clear softened coverage up to which nothing is there; from twice of it all counts @param overClear one over it
 * @param solid the same of what is wanting to full coverage @param overSolid one over that
 * @param spill how far the backing's channel is held to the larger of the others, 0 to 1 @param toMean 1: to their mean
 * @param shows 0: all that is not backing; 1: without the backing's shadow; 2: that alone, as coverage. 1 and 2 sum to 0's coverage
 */
export function keyOut(
  strip: usize,
  count: i32,
  x: i32,
  y: i32,
  k: usize,
  settings: usize,
  clean: usize,
  known: usize,
  clear: f32,
  overClear: f32,
  solid: f32,
  overSolid: f32,
  spill: f32,
  toMean: i32,
  shows: i32,
): void {
  if (shows !== 0) keyOutBy(strip, count, x, y, k, settings, clean, known, clear, overClear, solid, overSolid, spill, toMean, shows)
  else if (clean === 0) keyOutBy(strip, count, x, y, k, settings, 0, known, clear, overClear, solid, overSolid, spill, toMean, 0)
  else keyOutBy(strip, count, x, y, k, settings, clean, known, clear, overClear, solid, overSolid, spill, toMean, 0)
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
  const lit = f32x4.div(light, f32x4.pmax(f32x4.mul(alpha, backing), f32x4.splat(1e-6)))
  const dark = f32x4.mul(f32x4.sub(f32x4.splat(0.6), lit), f32x4.splat(1 / <f32>0.3))
  const near = f32x4.pmin(f32x4.mul(sureness, f32x4.splat(10)), one)
  return f32x4.mul(f32x4.pmax(f32x4.pmin(dark, one), none), f32x4.sub(one, near))
}

// @ts-ignore: decorator
@inline
function keyOutBy(
  strip: usize,
  count: i32,
  x: i32,
  y: i32,
  k: usize,
  settings: usize,
  clean: usize,
  known: usize,
  clear: f32,
  overClear: f32,
  solid: f32,
  overSolid: f32,
  spill: f32,
  toMean: i32,
  shows: i32,
): void {
  const i = firstOther(k)
  const j = secondOther(k)
  writeRow(scratch, settings, k, y)
  const ka = v128.load32_splat(scratch)
  const kb = v128.load32_splat(scratch, 4)
  const kc = v128.load32_splat(scratch, 8)
  const ia = v128.load32_splat(scratch, 12)
  const ib = v128.load32_splat(scratch, 16)
  const ic = v128.load32_splat(scratch, 20)
  const ja = v128.load32_splat(scratch, 24)
  const jb = v128.load32_splat(scratch, 28)
  const jc = v128.load32_splat(scratch, 32)
  const middle = v128.load32_splat(scratch, 36)
  const over = v128.load32_splat(scratch, 40)
  const one = f32x4.splat(1)
  const clearFrom = f32x4.splat(clear)
  const clearOver = f32x4.splat(overClear)
  const solidFrom = f32x4.splat(solid)
  const solidOver = f32x4.splat(overSolid)
  const spilt = f32x4.splat(spill)
  const none = f32x4.splat(0)
  for (let n = 0; n < count; n += 4) {
    const p = strip + (<usize>n << 2)
    const o = <usize>n << 2
    const a = v128.load(p + 3 * PLANE)
    const around = v128.load(known + PLANE + o)
    // Most of a picture is backing alone.
    if (i32x4.all_true(v128.and(f32x4.le(around, clearFrom), f32x4.gt(a, none)))) {
      v128.store(p, none)
      v128.store(p + PLANE, none)
      v128.store(p + 2 * PLANE, none)
      v128.store(p + 3 * PLANE, none)
      continue
    }
    const held = f32x4.pmax(f32x4.pmin(v128.load(known + o), a), none)
    const there = rising(around, clearFrom, clearOver)
    const open = rising(f32x4.sub(a, around), solidFrom, solidOver)
    // Towards all of it where hardly any backing is left around, towards nothing where hardly anything is there.
    const filled = f32x4.add(f32x4.mul(held, open), f32x4.mul(a, f32x4.sub(one, open)))
    const alpha = f32x4.mul(filled, there)
    const behind = f32x4.sub(a, alpha)
    const frontLight = v128.load(known + 2 * PLANE + o)
    let sk = none
    let si = none
    let sj = none
    let front = none
    // Inside of what is in front no backing is left, nor mostly has it anything of its colour.
    if (shows !== 0 || v128.any_true(v128.or(f32x4.ne(behind, none), f32x4.gt(frontLight, none)))) {
      const u = acrossOf(x + n, middle, over)
      sk = backingIn(clean, n, k, ka, kb, kc, u)
      si = backingIn(clean, n, i, ia, ib, ic, u)
      sj = backingIn(clean, n, j, ja, jb, jc, u)
      const s = f32x4.pmax(excess(sk, si, sj), f32x4.splat(LEAST))
      front = f32x4.pmax(frontExcess(frontLight, v128.load(known + 3 * PLANE + o), s), none)
    }
    let ck = f32x4.sub(v128.load(p + k * PLANE), f32x4.mul(behind, sk))
    let ci = f32x4.sub(v128.load(p + i * PLANE), f32x4.mul(behind, si))
    let cj = f32x4.sub(v128.load(p + j * PLANE), f32x4.mul(behind, sj))
    ci = f32x4.pmax(ci, none)
    cj = f32x4.pmax(cj, none)
    const others = toMean !== 0 ? f32x4.mul(f32x4.add(ci, cj), f32x4.splat(0.5)) : f32x4.pmax(ci, cj)
    const limit = f32x4.add(others, f32x4.mul(front, alpha))
    ck = f32x4.pmax(f32x4.sub(ck, f32x4.mul(spilt, f32x4.pmax(f32x4.sub(ck, limit), none))), none)
    // Light without coverage has no backing behind it.
    const light = f32x4.le(a, none)
    if (shows !== 0) {
      const most = f32x4.pmax(ck, f32x4.pmax(ci, cj))
      const backing = f32x4.pmax(sk, f32x4.pmax(si, sj))
      const shadow = f32x4.mul(alpha, shadowShare(alpha, most, backing, v128.load(known + 3 * PLANE + o)))
      const shown = shows === 2 ? shadow : f32x4.sub(alpha, shadow)
      // A shadow has no light of its own, nor is light without coverage any.
      const left = shows === 2 ? none : v128.or(light, f32x4.gt(shown, none))
      kept(p + k * PLANE, ck, light, left)
      kept(p + i * PLANE, ci, light, left)
      kept(p + j * PLANE, cj, light, left)
      v128.store(p + 3 * PLANE, oneNaN(f32x4.pmax(shown, none)))
      continue
    }
    const some = v128.or(light, f32x4.gt(alpha, none))
    kept(p + k * PLANE, ck, light, some)
    kept(p + i * PLANE, ci, light, some)
    kept(p + j * PLANE, cj, light, some)
    v128.store(p + 3 * PLANE, oneNaN(f32x4.pmax(alpha, none)))
  }
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
