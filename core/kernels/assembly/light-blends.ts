/** How strips meet what is behind them. A pixel that adds nothing leaves the bits of what is behind as they are. */

import { PLANE, oneNaN, storeUpTo } from './lanes'
import { ONE, constant } from './curves'

/** Lanes of b where keep is set, else of a. */
// @ts-ignore: decorator
@inline
function unless(keep: v128, a: v128, b: v128): v128 {
  return v128.bitselect(b, a, keep)
}

// @ts-ignore: decorator
@inline
function isZero(v: v128): v128 {
  return f32x4.eq(v, f32x4.splat(0))
}

/** Porter-Duff over: `F + B (1 - aF)`. */
export function over(behind: usize, element: usize, count: i32): void {
  let b = behind
  let e = element
  const end = behind + (<usize>max(count, 0) << 2)
  for (; b + 16 <= end; b += 16, e += 16) overVector(b, e, end, true)
  if (b < end) overVector(b, e, end, false)
}

/** @param whole all four pixels lie before the end */
// @ts-ignore: decorator
@inline
function overVector(b: usize, e: usize, end: usize, whole: bool): void {
  const fr = v128.load(e)
  const fg = v128.load(e, PLANE)
  const fb = v128.load(e, 2 * PLANE)
  const fa = v128.load(e, 3 * PLANE)
  const empty = isZero(v128.or(v128.or(fr, fg), v128.or(fb, fa)))
  if (i32x4.all_true(empty)) return
  const k = f32x4.sub(constant(ONE), fa)
  const r = v128.load(b)
  const g = v128.load(b, PLANE)
  const bl = v128.load(b, 2 * PLANE)
  const a = v128.load(b, 3 * PLANE)
  let outR = oneNaN(f32x4.add(fr, f32x4.mul(r, k)))
  let outG = oneNaN(f32x4.add(fg, f32x4.mul(g, k)))
  let outB = oneNaN(f32x4.add(fb, f32x4.mul(bl, k)))
  let outA = oneNaN(f32x4.add(fa, f32x4.mul(a, k)))
  if (v128.any_true(empty)) {
    outR = unless(empty, outR, r)
    outG = unless(empty, outG, g)
    outB = unless(empty, outB, bl)
    outA = unless(empty, outA, a)
  }
  store(b, end, outR, whole)
  store(b + PLANE, end + PLANE, outG, whole)
  store(b + 2 * PLANE, end + 2 * PLANE, outB, whole)
  store(b + 3 * PLANE, end + 3 * PLANE, outA, whole)
}

// @ts-ignore: decorator
@inline
function store(p: usize, end: usize, v: v128, whole: bool): void {
  if (whole) v128.store(p, v)
  else storeUpTo(p, end, v)
}

/** `B + amount F`; alpha of what is behind stays. */
export function addLight(behind: usize, element: usize, count: i32, r: f32, g: f32, b: f32): void {
  if (count <= 0) return
  let p = behind
  let e = element
  const end = behind + (<usize>count << 2)
  const amountR = f32x4.splat(r)
  const amountG = f32x4.splat(g)
  const amountB = f32x4.splat(b)
  do {
    const fr = v128.load(e)
    const fg = v128.load(e, PLANE)
    const fb = v128.load(e, 2 * PLANE)
    const empty = isZero(v128.or(v128.or(fr, fg), fb))
    if (!i32x4.all_true(empty)) {
      const br = v128.load(p)
      const bg = v128.load(p, PLANE)
      const bb = v128.load(p, 2 * PLANE)
      storeUpTo(p, end, unless(empty, oneNaN(f32x4.add(br, f32x4.mul(amountR, fr))), br))
      storeUpTo(p + PLANE, end + PLANE, unless(empty, oneNaN(f32x4.add(bg, f32x4.mul(amountG, fg))), bg))
      storeUpTo(p + 2 * PLANE, end + 2 * PLANE, unless(empty, oneNaN(f32x4.add(bb, f32x4.mul(amountB, fb))), bb))
    }
    p += 16
    e += 16
  } while (p < end)
}

/** Light of both multiplied: `A B / a` where a covers (above 1e-6), else `A B`. Alpha of the first stays. */
export function multiplyLight(strip: usize, other: usize, count: i32): void {
  const end = strip + (<usize>count << 2)
  for (let c: usize = 0; c < 3; c++) {
    let q = other + c * PLANE
    let a = strip + 3 * PLANE
    for (let p = strip + c * PLANE; p < end + c * PLANE; p += 16) {
      const alpha = v128.load(a)
      const by = v128.bitselect(alpha, constant(ONE), f32x4.gt(alpha, constant(38)))
      storeUpTo(p, end + c * PLANE, oneNaN(f32x4.div(f32x4.mul(v128.load(p), v128.load(q)), by)))
      q += 16
      a += 16
    }
  }
}

/** Empty where the other is empty in all four channels; elsewhere as it was. */
export function emptyWhere(strip: usize, other: usize, count: i32): void {
  const end = strip + (<usize>count << 2)
  let q = other
  for (let p = strip; p < end; p += 16) {
    const rg = v128.or(v128.load(q), v128.load(q, PLANE))
    const ba = v128.or(v128.load(q, 2 * PLANE), v128.load(q, 3 * PLANE))
    const empty = isZero(v128.or(rg, ba))
    if (v128.any_true(empty))
      for (let c: usize = 0; c < 4; c++)
        storeUpTo(p + c * PLANE, end + c * PLANE, v128.andnot(v128.load(p + c * PLANE), empty))
    q += 16
  }
}

/** The treated pixel where the strip is not the plate's bits in all four channels; elsewhere as it was. */
export function takeWhereChanged(strip: usize, treated: usize, plate: usize, count: i32): void {
  const end = strip + (<usize>count << 2)
  let q: usize = 0
  for (let p = strip; p < end; p += 16) {
    let same = i32x4.splat(-1)
    for (let c: usize = 0; c < 4; c++)
      same = v128.and(same, i32x4.eq(v128.load(p + c * PLANE), v128.load(plate + q + c * PLANE)))
    for (let c: usize = 0; c < 4; c++) {
      const kept = v128.bitselect(v128.load(p + c * PLANE), v128.load(treated + q + c * PLANE), same)
      storeUpTo(p + c * PLANE, end + c * PLANE, kept)
    }
    q += 16
  }
}

/** `v + (B - v)(1 - m (1 - s))`, m the element's red. */
export function shadow(
  behind: usize,
  element: usize,
  count: i32,
  sR: f32,
  sG: f32,
  sB: f32,
  vR: f32,
  vG: f32,
  vB: f32,
): void {
  darken(behind, element, count, f32x4.splat(1 - sR), f32x4.splat(vR))
  darken(behind + PLANE, element + PLANE, count, f32x4.splat(1 - sG), f32x4.splat(vG))
  darken(behind + 2 * PLANE, element + 2 * PLANE, count, f32x4.splat(1 - sB), f32x4.splat(vB))
}

function darken(plane: usize, matte: usize, count: i32, taken: v128, veil: v128): void {
  if (count <= 0) return
  let p = plane
  let m = matte
  const end = plane + (<usize>count << 2)
  do {
    const cover = v128.load(m)
    const open = isZero(cover)
    if (!i32x4.all_true(open)) {
      const b = v128.load(p)
      const k = f32x4.sub(constant(ONE), f32x4.mul(cover, taken))
      const out = oneNaN(f32x4.add(veil, f32x4.mul(f32x4.sub(b, veil), k)))
      storeUpTo(p, end, unless(open, out, b))
    }
    p += 16
    m += 16
  } while (p < end)
}

/** `v + (B - v) max(0, 1 - strength (1 - ao))`, ao the element's own channel; ao of 1 changes nothing. */
export function occlusion(behind: usize, element: usize, count: i32, strength: f32, vR: f32, vG: f32, vB: f32): void {
  if (strength === 0) return
  const s = f32x4.splat(strength)
  occlude(behind, element, count, s, f32x4.splat(vR))
  occlude(behind + PLANE, element + PLANE, count, s, f32x4.splat(vG))
  occlude(behind + 2 * PLANE, element + 2 * PLANE, count, s, f32x4.splat(vB))
}

function occlude(plane: usize, pass: usize, count: i32, strength: v128, veil: v128): void {
  if (count <= 0) return
  let p = plane
  let o = pass
  const end = plane + (<usize>count << 2)
  do {
    const closed = f32x4.sub(constant(ONE), v128.load(o))
    const open = isZero(closed)
    if (!i32x4.all_true(open)) {
      const b = v128.load(p)
      const k = f32x4.max(f32x4.splat(0), f32x4.sub(constant(ONE), f32x4.mul(strength, closed)))
      const out = oneNaN(f32x4.add(veil, f32x4.mul(f32x4.sub(b, veil), k)))
      storeUpTo(p, end, unless(open, out, b))
    }
    p += 16
    o += 16
  } while (p < end)
}

/** `B (1 - m) + P m`, m the element's red; m >= 1 copies P's bits, m <= 0 and NaN leave B's. */
export function reveal(behind: usize, element: usize, plate: usize, count: i32): void {
  for (let c: usize = 0; c < 4; c++) mixPlane(behind + c * PLANE, plate + c * PLANE, element, count)
}

function mixPlane(plane: usize, other: usize, matte: usize, count: i32): void {
  if (count <= 0) return
  let p = plane
  let q = other
  let m = matte
  const end = plane + (<usize>count << 2)
  do {
    const share = v128.load(m)
    const some = f32x4.gt(share, f32x4.splat(0))
    if (v128.any_true(some)) {
      const b = v128.load(p)
      const o = v128.load(q)
      const mixed = oneNaN(f32x4.add(f32x4.mul(b, f32x4.sub(constant(ONE), share)), f32x4.mul(o, share)))
      const full = v128.bitselect(o, mixed, f32x4.ge(share, constant(ONE)))
      storeUpTo(p, end, v128.bitselect(full, b, some))
    }
    p += 16
    q += 16
    m += 16
  } while (p < end)
}

/**
 * The Porter-Duff operators of the W3C's Compositing and Blending Level 1, section 9.1: `F fa + B fb`. A factor of 0 takes
 * nothing, even of infinities.
 *
 * 0 clear, 1 copy, 2 destination, 3 source-over, 4 destination-over, 5 source-in, 6 destination-in, 7 source-out,
 * 8 destination-out, 9 source-atop, 10 destination-atop, 11 xor, 12 lighter (plain sum, not held to 1).
 */
export function porterDuff(behind: usize, element: usize, count: i32, operator: i32): void {
  const one = f32x4.splat(1)
  const none = f32x4.splat(0)
  // Where an element holds nothing, these leave what is behind it, bit for bit.
  const leaves = operator === 2 || operator === 3 || operator === 4 || operator === 8 || operator === 9 || operator >= 11
  const end = behind + (<usize>count << 2)
  let e = element
  for (let p = behind; p < end; p += 16, e += 16) {
    const aF = v128.load(e, 3 * PLANE)
    const aB = v128.load(p, 3 * PLANE)
    let fa = none
    let fb = none
    switch (operator) {
      case 0: break
      case 1: fa = one; break
      case 2: fb = one; break
      case 3: fa = one; fb = f32x4.sub(one, aF); break
      case 4: fa = f32x4.sub(one, aB); fb = one; break
      case 5: fa = aB; break
      case 6: fb = aF; break
      case 7: fa = f32x4.sub(one, aB); break
      case 8: fb = f32x4.sub(one, aF); break
      case 9: fa = aB; fb = f32x4.sub(one, aF); break
      case 10: fa = f32x4.sub(one, aB); fb = aF; break
      case 11: fa = f32x4.sub(one, aB); fb = f32x4.sub(one, aF); break
      default: fa = one; fb = one; break
    }
    const rg = v128.or(v128.load(e), v128.load(e, PLANE))
    const keep = leaves ? isZero(v128.or(rg, v128.or(v128.load(e, 2 * PLANE), aF))) : none
    for (let c: usize = 0; c < 4; c++) {
      const fromF = v128.bitselect(none, f32x4.mul(v128.load(e + c * PLANE), fa), isZero(fa))
      const fromB = v128.bitselect(none, f32x4.mul(v128.load(p + c * PLANE), fb), isZero(fb))
      const out = oneNaN(f32x4.add(fromF, fromB))
      storeUpTo(p + c * PLANE, end + c * PLANE, unless(keep, out, v128.load(p + c * PLANE)))
    }
  }
}
