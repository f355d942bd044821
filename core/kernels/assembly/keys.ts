/**
 * A backing colour taken out of what was filmed in front of it. How far the backing's channel stands above the larger of the other
 * two is its excess; coverage follows from the excess of the pixel, of the backing there, and of what is in front.
 *
 * Settings, doubles: the backing as a surface of second order for each channel (1, u, v, u2, uv, v2: 18 numbers), where u and v are 0
 * (2) and how many pixels are 1 (1); which channel is the backing's (1). `clean` is a strip of the backing filmed alone, or 0.
 */

import { PLANE, oneNaN } from './lanes'

/** Along a row the backing's light in one channel is a + b u + c u2: the three, worked out once. */
// @ts-ignore: decorator
@inline
function rowA(settings: usize, channel: usize, v: f64): v128 {
  const at = settings + channel * 48
  return f32x4.splat(<f32>(f64.load(at) + v * (f64.load(at, 16) + v * f64.load(at, 40))))
}
// @ts-ignore: decorator
@inline
function rowB(settings: usize, channel: usize, v: f64): v128 {
  const at = settings + channel * 48
  return f32x4.splat(<f32>(f64.load(at, 8) + v * f64.load(at, 32)))
}
// @ts-ignore: decorator
@inline
function rowC(settings: usize, channel: usize): v128 {
  return f32x4.splat(<f32>f64.load(settings + channel * 48, 24))
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

/** A pixel, in the surface's measure. */
// @ts-ignore: decorator
@inline
function stepOf(settings: usize): f32 {
  return <f32>(1 / f64.load(settings + (20 << 3)))
}

/** Where four pixels lie across: each by its own number alone, so that it does not matter where a window begins. */
// @ts-ignore: decorator
@inline
function acrossOf(settings: usize, x: i32, over: f32): v128 {
  const pixels = f32x4.convert_i32x4_s(i32x4.add(i32x4.splat(x), i32x4(0, 1, 2, 3)))
  const middle = <f32>(f64.load(settings + (18 << 3)) - 0.5)
  return f32x4.mul(f32x4.sub(pixels, f32x4.splat(middle)), f32x4.splat(over))
}

// @ts-ignore: decorator
@inline
function downOf(settings: usize, y: i32): f64 {
  return (<f64>y + 0.5 - f64.load(settings + (19 << 3))) / f64.load(settings + (20 << 3))
}

/** The channel that is the backing's. */
// @ts-ignore: decorator
@inline
function own(settings: usize): usize {
  return <usize>f64.load(settings + (21 << 3))
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

/** Of four pixels of a strip. */
// @ts-ignore: decorator
@inline
function excessAt(p: usize, k: usize): v128 {
  return excess(v128.load(p + k * PLANE), v128.load(p + firstOther(k) * PLANE), v128.load(p + secondOther(k) * PLANE))
}

// @ts-ignore: decorator
@inline
function excess(a: v128, b: v128, c: v128): v128 {
  return f32x4.sub(a, f32x4.pmax(b, c))
}

/** Backing light must stand out by so much, or there is none. */
const LEAST: f32 = 1e-4

/** What is surely in front, and its excess: red becomes excess times sureness, green sureness; the rest is emptied. */
export function keySure(
  strip: usize,
  count: i32,
  x: i32,
  y: i32,
  settings: usize,
  clean: usize,
): void {
  if (clean === 0) keySureBy(strip, count, x, y, settings, 0)
  else keySureBy(strip, count, x, y, settings, clean)
}

// @ts-ignore: decorator
@inline
function keySureBy(
  strip: usize,
  count: i32,
  x: i32,
  y: i32,
  settings: usize,
  clean: usize,
): void {
  const k = own(settings)
  const i = firstOther(k)
  const j = secondOther(k)
  const v = downOf(settings, y)
  const over = stepOf(settings)
  const ka = rowA(settings, k, v)
  const kb = rowB(settings, k, v)
  const kc = rowC(settings, k)
  const ia = rowA(settings, i, v)
  const ib = rowB(settings, i, v)
  const ic = rowC(settings, i)
  const ja = rowA(settings, j, v)
  const jb = rowB(settings, j, v)
  const jc = rowC(settings, j)
  for (let n = 0; n < count; n += 4) {
    const p = strip + (<usize>n << 2)
    const a = v128.load(p + 3 * PLANE)
    const e = excessAt(p, k)
    const u = acrossOf(settings, x + n, over)
    const sk = backingIn(clean, n, k, ka, kb, kc, u)
    const si = backingIn(clean, n, i, ia, ib, ic, u)
    const sj = backingIn(clean, n, j, ja, jb, jc, u)
    const s = f32x4.pmax(excess(sk, si, sj), f32x4.splat(LEAST))
    // From nothing where a tenth of the backing is seen to all where none is.
    const share = f32x4.sub(a, f32x4.div(e, s))
    const rise = f32x4.mul(f32x4.sub(share, f32x4.splat(0.9)), f32x4.splat(10))
    const sure = f32x4.pmax(f32x4.pmin(rise, f32x4.splat(1)), f32x4.splat(0))
    v128.store(p, oneNaN(f32x4.mul(e, sure)))
    v128.store(p + PLANE, oneNaN(sure))
    v128.store(p + 2 * PLANE, f32x4.splat(0))
    v128.store(p + 3 * PLANE, f32x4.splat(0))
  }
}

/** The excess of what is in front near a pixel, as far as it is known; no more than a fifth of the backing's. */
// @ts-ignore: decorator
@inline
function frontExcess(sure: usize, s: v128): v128 {
  const weight = v128.load(sure + PLANE)
  const mean = f32x4.div(v128.load(sure), f32x4.pmax(weight, f32x4.splat(1e-6)))
  const held = f32x4.pmin(mean, f32x4.mul(s, f32x4.splat(0.2)))
  // Far from all that is surely in front it is taken to be neutral.
  const known = f32x4.pmin(f32x4.mul(weight, f32x4.splat(1000)), f32x4.splat(1))
  return f32x4.mul(held, known)
}

/** Coverage, not yet held to 0 and 1, as a grey in all four. @param sure strip of what is surely in front, softened */
export function keyCoverage(
  strip: usize,
  count: i32,
  x: i32,
  y: i32,
  settings: usize,
  clean: usize,
  sure: usize,
): void {
  if (clean === 0) keyCoverageBy(strip, count, x, y, settings, 0, sure)
  else keyCoverageBy(strip, count, x, y, settings, clean, sure)
}

// @ts-ignore: decorator
@inline
function keyCoverageBy(
  strip: usize,
  count: i32,
  x: i32,
  y: i32,
  settings: usize,
  clean: usize,
  sure: usize,
): void {
  const k = own(settings)
  const i = firstOther(k)
  const j = secondOther(k)
  const v = downOf(settings, y)
  const over = stepOf(settings)
  const ka = rowA(settings, k, v)
  const kb = rowB(settings, k, v)
  const kc = rowC(settings, k)
  const ia = rowA(settings, i, v)
  const ib = rowB(settings, i, v)
  const ic = rowC(settings, i)
  const ja = rowA(settings, j, v)
  const jb = rowB(settings, j, v)
  const jc = rowC(settings, j)
  for (let n = 0; n < count; n += 4) {
    const p = strip + (<usize>n << 2)
    const a = v128.load(p + 3 * PLANE)
    const e = excessAt(p, k)
    const u = acrossOf(settings, x + n, over)
    const sk = backingIn(clean, n, k, ka, kb, kc, u)
    const si = backingIn(clean, n, i, ia, ib, ic, u)
    const sj = backingIn(clean, n, j, ja, jb, jc, u)
    const s = f32x4.pmax(excess(sk, si, sj), f32x4.splat(LEAST))
    const front = frontExcess(sure + (<usize>n << 2), s)
    const near = f32x4.div(f32x4.sub(f32x4.mul(a, s), e), f32x4.sub(s, front))
    // Deep inside, where all around is surely in front, what is in front may vary as it likes.
    const plain = f32x4.pmin(f32x4.sub(a, f32x4.div(e, s)), a)
    const surely = f32x4.mul(f32x4.sub(v128.load(sure + PLANE + (<usize>n << 2)), f32x4.splat(0.8)), f32x4.splat(5))
    const deep = f32x4.pmax(f32x4.pmin(surely, f32x4.splat(1)), f32x4.splat(0))
    const share = f32x4.add(near, f32x4.mul(deep, f32x4.sub(plain, near)))
    const held = f32x4.pmax(f32x4.pmin(share, f32x4.splat(1.5)), f32x4.splat(-0.5))
    const covered = oneNaN(v128.bitselect(held, f32x4.splat(0), f32x4.gt(a, f32x4.splat(0))))
    v128.store(p, covered)
    v128.store(p + PLANE, covered)
    v128.store(p + 2 * PLANE, covered)
    v128.store(p + 3 * PLANE, covered)
  }
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
 * @param covered strip of coverage @param softened the same, softened: where that is next to 0 or 1 coverage is exactly that
 * @param clear softened coverage up to which nothing is there; from twice of it all counts
 * @param solid the same of what is wanting to full coverage
 * @param spill how far the backing's channel is held to the larger of the others, 0 to 1 @param toMean 1: to their mean
 * @param shows 0: all that is not backing; 1: without the backing's shadow; 2: that alone, as coverage. 1 and 2 sum to 0's coverage
 */
export function keyOut(
  strip: usize,
  count: i32,
  x: i32,
  y: i32,
  settings: usize,
  clean: usize,
  sure: usize,
  covered: usize,
  softened: usize,
  clear: f32,
  solid: f32,
  spill: f32,
  toMean: i32,
  shows: i32,
): void {
  if (shows !== 0) keyOutBy(strip, count, x, y, settings, clean, sure, covered, softened, clear, solid, spill, toMean, shows)
  else if (clean === 0) keyOutBy(strip, count, x, y, settings, 0, sure, covered, softened, clear, solid, spill, toMean, 0)
  else keyOutBy(strip, count, x, y, settings, clean, sure, covered, softened, clear, solid, spill, toMean, 0)
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
  settings: usize,
  clean: usize,
  sure: usize,
  covered: usize,
  softened: usize,
  clear: f32,
  solid: f32,
  spill: f32,
  toMean: i32,
  shows: i32,
): void {
  const k = own(settings)
  const i = firstOther(k)
  const j = secondOther(k)
  const v = downOf(settings, y)
  const over = stepOf(settings)
  const ka = rowA(settings, k, v)
  const kb = rowB(settings, k, v)
  const kc = rowC(settings, k)
  const ia = rowA(settings, i, v)
  const ib = rowB(settings, i, v)
  const ic = rowC(settings, i)
  const ja = rowA(settings, j, v)
  const jb = rowB(settings, j, v)
  const jc = rowC(settings, j)
  const one = f32x4.splat(1)
  const clearFrom = f32x4.splat(clear)
  const clearOver = f32x4.splat(1 / max<f32>(clear, 1e-6))
  const solidFrom = f32x4.splat(solid)
  const solidOver = f32x4.splat(1 / max<f32>(solid, 1e-6))
  const spilt = f32x4.splat(spill)
  const none = f32x4.splat(0)
  for (let n = 0; n < count; n += 4) {
    const p = strip + (<usize>n << 2)
    const o = <usize>n << 2
    const u = acrossOf(settings, x + n, over)
    const sk = backingIn(clean, n, k, ka, kb, kc, u)
    const si = backingIn(clean, n, i, ia, ib, ic, u)
    const sj = backingIn(clean, n, j, ja, jb, jc, u)
    const s = f32x4.pmax(excess(sk, si, sj), f32x4.splat(LEAST))
    const a = v128.load(p + 3 * PLANE)
    const held = f32x4.pmax(f32x4.pmin(v128.load(covered + o), a), none)
    const around = v128.load(softened + o)
    const there = rising(around, clearFrom, clearOver)
    const open = rising(f32x4.sub(a, around), solidFrom, solidOver)
    // Towards all of it where hardly any backing is left around, towards nothing where hardly anything is there.
    const filled = f32x4.add(f32x4.mul(held, open), f32x4.mul(a, f32x4.sub(one, open)))
    const alpha = f32x4.mul(filled, there)
    const behind = f32x4.sub(a, alpha)
    let ck = f32x4.sub(v128.load(p + k * PLANE), f32x4.mul(behind, sk))
    let ci = f32x4.sub(v128.load(p + i * PLANE), f32x4.mul(behind, si))
    let cj = f32x4.sub(v128.load(p + j * PLANE), f32x4.mul(behind, sj))
    ci = f32x4.pmax(ci, none)
    cj = f32x4.pmax(cj, none)
    const front = f32x4.pmax(frontExcess(sure + o, s), none)
    const others = toMean !== 0 ? f32x4.mul(f32x4.add(ci, cj), f32x4.splat(0.5)) : f32x4.pmax(ci, cj)
    const limit = f32x4.add(others, f32x4.mul(front, alpha))
    ck = f32x4.pmax(f32x4.sub(ck, f32x4.mul(spilt, f32x4.pmax(f32x4.sub(ck, limit), none))), none)
    // Light without coverage has no backing behind it.
    const light = f32x4.le(a, none)
    if (shows !== 0) {
      const most = f32x4.pmax(ck, f32x4.pmax(ci, cj))
      const backing = f32x4.pmax(sk, f32x4.pmax(si, sj))
      const shadow = f32x4.mul(alpha, shadowShare(alpha, most, backing, v128.load(sure + PLANE + o)))
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
