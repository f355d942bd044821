/** The blend modes of the W3C's Compositing and Blending Level 1, on strips, each followed by source-over. */

import { PLANE, oneNaN } from './lanes'
import { ONE, constant } from './curves'

/** Colour over alpha; where alpha is at most 1e-6 the colour as it stands. */
// @ts-ignore: decorator
@inline
export function straight(c: v128, a: v128): v128 {
  return f32x4.div(c, v128.bitselect(a, constant(ONE), f32x4.gt(a, constant(38))))
}

/** Premultiplied: `F (1 - aB) + B (1 - aF) + aF aB mixed`. */
// @ts-ignore: decorator
@inline
export function composedVector(f: v128, b: v128, mixed: v128, aF: v128, aB: v128): v128 {
  const one = constant(ONE)
  const apart = f32x4.add(f32x4.mul(f, f32x4.sub(one, aB)), f32x4.mul(b, f32x4.sub(one, aF)))
  return oneNaN(f32x4.add(apart, f32x4.mul(f32x4.mul(aF, aB), mixed)))
}

// @ts-ignore: decorator
@inline
export function union(aF: v128, aB: v128): v128 {
  return oneNaN(f32x4.sub(f32x4.add(aF, aB), f32x4.mul(aF, aB)))
}

/** Lanes of pixels of the element that hold nothing at all. */
// @ts-ignore: decorator
@inline
export function emptyLanes(e: usize): v128 {
  const rg = v128.or(v128.load(e), v128.load(e, PLANE))
  const ba = v128.or(v128.load(e, 2 * PLANE), v128.load(e, 3 * PLANE))
  return f32x4.eq(v128.or(rg, ba), f32x4.splat(0))
}

// @ts-ignore: decorator
@inline
export function keepAndStore(p: usize, end: usize, keep: v128, v: v128): void {
  const out = v128.bitselect(v128.load(p), v, keep)
  if (p + 16 <= end) v128.store(p, out)
  else {
    v128.store_lane<u32>(p, out, 0)
    if (p + 4 < end) v128.store_lane<u32>(p + 4, out, 1)
    if (p + 8 < end) v128.store_lane<u32>(p + 8, out, 2)
  }
}

/**
 * The separable modes, section 10.1: 0 normal, 1 multiply, 2 screen, 3 overlay, 4 darken, 5 lighten, 6 color-dodge,
 * 7 color-burn, 8 hard-light, 9 soft-light, 10 difference, 11 exclusion.
 *
 * The formulas hold on 0..1 in whatever encoding the pixels have. Beyond: screen and exclusion become lighten and
 * difference where either is above 1; dodge never darkens; burn and soft-light leave a backdrop outside 0..1; a soft-light
 * source counts as at most 1 and at least 0.
 */
export function blend(behind: usize, element: usize, count: i32, mode: i32): void {
  const end = behind + (<usize>count << 2)
  let e = element
  for (let p = behind; p < end; p += 16, e += 16) {
    const keep = emptyLanes(e)
    const aF = v128.load(e, 3 * PLANE)
    const aB = v128.load(p, 3 * PLANE)
    for (let c: usize = 0; c < 3; c++) {
      const f = v128.load(e + c * PLANE)
      const b = v128.load(p + c * PLANE)
      const mixed = separable(mode, straight(b, aB), straight(f, aF))
      keepAndStore(p + c * PLANE, end + c * PLANE, keep, composedVector(f, b, mixed, aF, aB))
    }
    keepAndStore(p + 3 * PLANE, end + 3 * PLANE, keep, union(aF, aB))
  }
}

function separable(mode: i32, b: v128, s: v128): v128 {
  const one = f32x4.splat(1)
  const zero = f32x4.splat(0)
  switch (mode) {
    case 1: return f32x4.mul(b, s)
    case 2: return screen(b, s)
    case 3: return hardLight(s, b)
    case 4: return f32x4.pmin(b, s)
    case 5: return f32x4.pmax(b, s)
    case 6: {
      const most = f32x4.pmax(one, b)
      const dodged = f32x4.pmin(most, f32x4.div(b, f32x4.sub(one, s)))
      const full = v128.bitselect(most, dodged, f32x4.ge(s, one))
      return v128.bitselect(b, full, f32x4.le(b, zero))
    }
    case 7: {
      const burnt = f32x4.sub(one, f32x4.pmin(one, f32x4.div(f32x4.sub(one, b), s)))
      const empty = v128.bitselect(zero, burnt, f32x4.le(s, zero))
      return v128.bitselect(b, empty, v128.or(f32x4.ge(b, one), f32x4.lt(b, zero)))
    }
    case 8: return hardLight(b, s)
    case 9: return softLight(b, s)
    case 10: return difference(b, s)
    case 11: {
      const product = f32x4.mul(b, s)
      const plain = f32x4.sub(f32x4.add(b, s), f32x4.add(product, product))
      return v128.bitselect(difference(b, s), plain, v128.or(f32x4.gt(b, one), f32x4.gt(s, one)))
    }
    default: return s
  }
}

// @ts-ignore: decorator
@inline
function difference(b: v128, s: v128): v128 {
  return v128.and(f32x4.sub(b, s), i32x4.splat(0x7fffffff))
}

// @ts-ignore: decorator
@inline
function screen(b: v128, s: v128): v128 {
  const one = f32x4.splat(1)
  const plain = f32x4.sub(f32x4.add(b, s), f32x4.mul(b, s))
  return v128.bitselect(f32x4.pmax(b, s), plain, v128.or(f32x4.gt(b, one), f32x4.gt(s, one)))
}

// @ts-ignore: decorator
@inline
function hardLight(b: v128, s: v128): v128 {
  const twice = f32x4.add(s, s)
  return v128.bitselect(
    f32x4.mul(b, twice),
    screen(b, f32x4.sub(twice, f32x4.splat(1))),
    f32x4.le(s, f32x4.splat(0.5)),
  )
}

function softLight(b: v128, source: v128): v128 {
  const one = f32x4.splat(1)
  const zero = f32x4.splat(0)
  const s = f32x4.pmax(zero, f32x4.pmin(one, source))
  const twice = f32x4.sub(f32x4.add(s, s), one)
  const dark = f32x4.add(b, f32x4.mul(twice, f32x4.mul(b, f32x4.sub(one, b))))
  const cubic = f32x4.mul(
    f32x4.add(f32x4.mul(f32x4.sub(f32x4.mul(f32x4.splat(16), b), f32x4.splat(12)), b), f32x4.splat(4)),
    b,
  )
  const d = v128.bitselect(cubic, f32x4.sqrt(b), f32x4.le(b, f32x4.splat(0.25)))
  const light = f32x4.add(b, f32x4.mul(twice, f32x4.sub(d, b)))
  const out = v128.bitselect(dark, light, f32x4.le(twice, zero))
  return v128.bitselect(b, out, v128.or(f32x4.gt(b, one), f32x4.lt(b, zero)))
}

/**
 * The non-separable modes, section 10.2: 0 hue, 1 saturation, 2 color, 3 luminosity.
 *
 * Colours are clipped to 0 and to 1, or to the backdrop's largest channel where that is above 1, so that light above 1
 * keeps its place.
 */
export function blendHsl(behind: usize, element: usize, count: i32, mode: i32): void {
  const end = behind + (<usize>count << 2)
  let e = element
  for (let p = behind; p < end; p += 16, e += 16) {
    const keep = emptyLanes(e)
    const aF = v128.load(e, 3 * PLANE)
    const aB = v128.load(p, 3 * PLANE)
    const fr = v128.load(e)
    const fg = v128.load(e, PLANE)
    const fb = v128.load(e, 2 * PLANE)
    const br = v128.load(p)
    const bg = v128.load(p, PLANE)
    const bb = v128.load(p, 2 * PLANE)
    const sr = straight(fr, aF)
    const sg = straight(fg, aF)
    const sb = straight(fb, aF)
    const dr = straight(br, aB)
    const dg = straight(bg, aB)
    const db = straight(bb, aB)
    // hue and color take the source's colour, saturation and luminosity the backdrop's
    const fromSource = mode === 0 || mode === 2
    let r = fromSource ? sr : dr
    let g = fromSource ? sg : dg
    let b = fromSource ? sb : db
    if (mode < 2) {
      const wanted = mode === 0 ? spread(dr, dg, db) : spread(sr, sg, sb)
      const least = smallest(r, g, b)
      const range = spread(r, g, b)
      const k = v128.bitselect(f32x4.div(wanted, range), f32x4.splat(0), f32x4.gt(range, f32x4.splat(0)))
      r = f32x4.mul(f32x4.sub(r, least), k)
      g = f32x4.mul(f32x4.sub(g, least), k)
      b = f32x4.mul(f32x4.sub(b, least), k)
    }
    const l = mode === 3 ? luminosity(sr, sg, sb) : luminosity(dr, dg, db)
    const lift = f32x4.sub(l, luminosity(r, g, b))
    r = f32x4.add(r, lift)
    g = f32x4.add(g, lift)
    b = f32x4.add(b, lift)
    const ceiling = f32x4.pmax(constant(ONE), largest(dr, dg, db))
    const n = smallest(r, g, b)
    const x = largest(r, g, b)
    const one = constant(ONE)
    const below = v128.bitselect(f32x4.div(l, f32x4.sub(l, n)), one, f32x4.lt(n, f32x4.splat(0)))
    const high = v128.and(f32x4.gt(x, ceiling), f32x4.gt(x, l))
    const above = v128.bitselect(f32x4.div(f32x4.sub(ceiling, l), f32x4.sub(x, l)), one, high)
    r = clipped(r, l, below, above)
    g = clipped(g, l, below, above)
    b = clipped(b, l, below, above)
    keepAndStore(p, end, keep, composedVector(fr, br, r, aF, aB))
    keepAndStore(p + PLANE, end + PLANE, keep, composedVector(fg, bg, g, aF, aB))
    keepAndStore(p + 2 * PLANE, end + 2 * PLANE, keep, composedVector(fb, bb, b, aF, aB))
    keepAndStore(p + 3 * PLANE, end + 3 * PLANE, keep, union(aF, aB))
  }
}

// @ts-ignore: decorator
@inline
function clipped(c: v128, l: v128, below: v128, above: v128): v128 {
  const up = f32x4.add(l, f32x4.mul(f32x4.sub(c, l), below))
  return f32x4.add(l, f32x4.mul(f32x4.sub(up, l), above))
}

// @ts-ignore: decorator
@inline
function luminosity(r: v128, g: v128, b: v128): v128 {
  const rg = f32x4.add(f32x4.mul(f32x4.splat(0.3), r), f32x4.mul(f32x4.splat(0.59), g))
  return f32x4.add(rg, f32x4.mul(f32x4.splat(0.11), b))
}

// @ts-ignore: decorator
@inline
function largest(r: v128, g: v128, b: v128): v128 {
  return f32x4.pmax(f32x4.pmax(r, g), b)
}

// @ts-ignore: decorator
@inline
function smallest(r: v128, g: v128, b: v128): v128 {
  return f32x4.pmin(f32x4.pmin(r, g), b)
}

// @ts-ignore: decorator
@inline
function spread(r: v128, g: v128, b: v128): v128 {
  return f32x4.sub(largest(r, g, b), smallest(r, g, b))
}
