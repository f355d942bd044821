/**
 * Colour by tables that are made of what an artist set: a curve of light, factors and a colour by brightness, changes by hue.
 *
 * Curves of light are tables over 24 octaves, 128 entries each, from 2^-16 to 2^8: an entry is found by the bits of a float,
 * and between two a straight line is drawn, so that a smooth curve is met to a few parts in a million. Below and above the
 * table curves are straight.
 */

import { PLANE, oneNaN } from './lanes'

const STEPS: i32 = 3072
const LEAST: f32 = 0.0000152587890625
const MOST: f32 = 256
/** Bits of `LEAST`; the first seven bits of the mantissa name the entry. */
const LEAST_BITS: i32 = 0x37800000
const REST_BITS: i32 = 16

/** Coverage below this is none: what light there is stands by itself. */
const NONE: f32 = 1e-6

// @ts-ignore: decorator
@inline
function dividedBy(alpha: v128): v128 {
  return v128.bitselect(alpha, f32x4.splat(1), f32x4.gt(alpha, f32x4.splat(NONE)))
}

/** The entry of each of four values, held to the table. */
// @ts-ignore: decorator
@inline
function entryOf(x: v128): v128 {
  const bits = i32x4.sub(x, i32x4.splat(LEAST_BITS))
  return i32x4.min_s(i32x4.max_s(i32x4.shr_s(bits, REST_BITS), i32x4.splat(0)), i32x4.splat(STEPS - 1))
}

/** How far between its entry and the next. */
// @ts-ignore: decorator
@inline
function shareOf(x: v128): v128 {
  return f32x4.mul(f32x4.convert_i32x4_s(v128.and(x, i32x4.splat(0xffff))), f32x4.splat(1 / 65536))
}

/** An infinity goes on as one unless the curve is level there. */
// @ts-ignore: decorator
@inline
function sloping(x: v128, slope: v128): v128 {
  return v128.and(f32x4.mul(x, slope), f32x4.ne(slope, f32x4.splat(0)))
}

/**
 * Values through a curve: four floats (value at 0, slope below 0, slope from 0 to the first entry, slope beyond the last),
 * then pairs of an entry and the step to the next.
 */
// @ts-ignore: decorator
@inline
function through(x: v128, table: usize): v128 {
  const entry = entryOf(x)
  const pairs = table + 16
  const p0 = v128.load64_zero(pairs + (<usize>i32x4.extract_lane(entry, 0) << 3))
  const p1 = v128.load64_zero(pairs + (<usize>i32x4.extract_lane(entry, 1) << 3))
  const p2 = v128.load64_zero(pairs + (<usize>i32x4.extract_lane(entry, 2) << 3))
  const p3 = v128.load64_zero(pairs + (<usize>i32x4.extract_lane(entry, 3) << 3))
  const low = v128.shuffle<f32>(p0, p1, 0, 4, 1, 5)
  const high = v128.shuffle<f32>(p2, p3, 0, 4, 1, 5)
  const value = v128.shuffle<f32>(low, high, 0, 1, 4, 5)
  const step = v128.shuffle<f32>(low, high, 2, 3, 6, 7)
  let y = f32x4.add(value, f32x4.mul(shareOf(x), step))
  const below = f32x4.lt(x, f32x4.splat(LEAST))
  const above = f32x4.ge(x, f32x4.splat(MOST))
  if (v128.any_true(v128.or(below, above))) {
    const negative = f32x4.lt(x, f32x4.splat(0))
    const slope = v128.bitselect(v128.load32_splat(table, 4), v128.load32_splat(table, 8), negative)
    y = v128.bitselect(f32x4.add(v128.load32_splat(table), sloping(x, slope)), y, below)
    const last = v128.load64_zero(pairs + (<usize>(STEPS - 1) << 3))
    const top = f32x4.add(v128.shuffle<f32>(last, last, 0, 0, 0, 0), v128.shuffle<f32>(last, last, 1, 1, 1, 1))
    const more = sloping(f32x4.sub(x, f32x4.splat(MOST)), v128.load32_splat(table, 12))
    y = v128.bitselect(f32x4.add(top, more), y, above)
  }
  return v128.or(y, f32x4.ne(x, x))
}

/**
 * One channel through a curve, where light covers divided by its coverage first. Light without coverage goes through as it
 * is, but what the curve makes of nothing counts only as far as it covers.
 */
export function toneChannel(plane: usize, alpha: usize, count: i32, table: usize): void {
  const zero = v128.load32_splat(table)
  for (let i: usize = 0, end = <usize>count << 2; i < end; i += 16) {
    const a = v128.load(alpha + i)
    // Most pixels cover wholly: there is nothing to divide by.
    if (i32x4.all_true(f32x4.eq(a, f32x4.splat(1)))) {
      v128.store(plane + i, through(v128.load(plane + i), table))
      continue
    }
    const by = dividedBy(a)
    const y = through(f32x4.div(v128.load(plane + i), by), table)
    const covering = f32x4.gt(a, f32x4.splat(NONE))
    const bare = f32x4.add(f32x4.sub(y, zero), f32x4.mul(zero, a))
    v128.store(plane + i, oneNaN(v128.bitselect(f32x4.mul(y, by), bare, covering)))
  }
}

/**
 * Luma through a curve f, and colour with it: `f(0) a + c (f(Y) - f(0)) / Y`, so that what is neutral follows the curve and
 * colour keeps its ratio to luma.
 */
export function toneLuma(strip: usize, count: i32, table: usize, r: f32, g: f32, b: f32): void {
  const zero = v128.load32_splat(table)
  for (let i: usize = 0, end = <usize>count << 2; i < end; i += 16) {
    const p = strip + i
    const a = v128.load(p, 3 * PLANE)
    const red = v128.load(p)
    const green = v128.load(p, PLANE)
    const blue = v128.load(p, 2 * PLANE)
    const sum = f32x4.add(
      f32x4.add(f32x4.mul(f32x4.splat(r), red), f32x4.mul(f32x4.splat(g), green)),
      f32x4.mul(f32x4.splat(b), blue),
    )
    const luma = f32x4.div(sum, dividedBy(a))
    const ratio = f32x4.div(f32x4.sub(through(luma, table), zero), luma)
    // Near nothing the ratio is the slope.
    const dark = f32x4.lt(luma, f32x4.splat(LEAST))
    const negative = f32x4.lt(luma, f32x4.splat(0))
    const slope = v128.bitselect(v128.load32_splat(table, 4), v128.load32_splat(table, 8), negative)
    const factor = v128.bitselect(slope, ratio, dark)
    const lifted = f32x4.mul(zero, a)
    v128.store(p, oneNaN(f32x4.add(lifted, f32x4.mul(red, factor))))
    v128.store(p, oneNaN(f32x4.add(lifted, f32x4.mul(green, factor))), PLANE)
    v128.store(p, oneNaN(f32x4.add(lifted, f32x4.mul(blue, factor))), 2 * PLANE)
  }
}

/**
 * A colour by brightness, mixed in: `c (1 - m) + m Y t(Y)`, t of luma 1. The table has four floats for each of 24 octaves'
 * 128 entries and one more: red, green, blue, nothing.
 */
export function tintByLuma(strip: usize, count: i32, table: usize, mixed: f32, r: f32, g: f32, b: f32): void {
  const kept = f32x4.splat(1 - mixed)
  for (let i: usize = 0, end = <usize>count << 2; i < end; i += 16) {
    const p = strip + i
    const red = v128.load(p)
    const green = v128.load(p, PLANE)
    const blue = v128.load(p, 2 * PLANE)
    const sum = f32x4.add(
      f32x4.add(f32x4.mul(f32x4.splat(r), red), f32x4.mul(f32x4.splat(g), green)),
      f32x4.mul(f32x4.splat(b), blue),
    )
    const luma = f32x4.div(sum, dividedBy(v128.load(p, 3 * PLANE)))
    const entry = entryOf(luma)
    const outside = v128.or(f32x4.lt(luma, f32x4.splat(LEAST)), f32x4.ge(luma, f32x4.splat(MOST)))
    const share = v128.andnot(shareOf(luma), outside)
    const t0 = mixedEntry(table, i32x4.extract_lane(entry, 0), v128.shuffle<f32>(share, share, 0, 0, 0, 0))
    const t1 = mixedEntry(table, i32x4.extract_lane(entry, 1), v128.shuffle<f32>(share, share, 1, 1, 1, 1))
    const t2 = mixedEntry(table, i32x4.extract_lane(entry, 2), v128.shuffle<f32>(share, share, 2, 2, 2, 2))
    const t3 = mixedEntry(table, i32x4.extract_lane(entry, 3), v128.shuffle<f32>(share, share, 3, 3, 3, 3))
    const l01 = v128.shuffle<f32>(t0, t1, 0, 4, 1, 5)
    const l23 = v128.shuffle<f32>(t2, t3, 0, 4, 1, 5)
    const h01 = v128.shuffle<f32>(t0, t1, 2, 6, 3, 7)
    const h23 = v128.shuffle<f32>(t2, t3, 2, 6, 3, 7)
    const amount = f32x4.mul(f32x4.splat(mixed), sum)
    const tr = v128.shuffle<f32>(l01, l23, 0, 1, 4, 5)
    const tg = v128.shuffle<f32>(l01, l23, 2, 3, 6, 7)
    const tb = v128.shuffle<f32>(h01, h23, 0, 1, 4, 5)
    v128.store(p, oneNaN(f32x4.add(f32x4.mul(kept, red), f32x4.mul(amount, tr))))
    v128.store(p, oneNaN(f32x4.add(f32x4.mul(kept, green), f32x4.mul(amount, tg))), PLANE)
    v128.store(p, oneNaN(f32x4.add(f32x4.mul(kept, blue), f32x4.mul(amount, tb))), 2 * PLANE)
  }
}

// @ts-ignore: decorator
@inline
function mixedEntry(table: usize, entry: i32, share: v128): v128 {
  const at = table + (<usize>entry << 4)
  const value = v128.load(at)
  return f32x4.add(value, f32x4.mul(share, f32x4.sub(v128.load(at, 16), value)))
}

const HUES: i32 = 720

/**
 * Changes by hue. The table has for each of 720 hues, and the first again, what is done to the difference from luma:
 * a factor on itself, one on the sum of its channels, one on its turn, and a factor on light that counts as far as there is
 * colour. Luma stays but for the last.
 */
export function changeByHue(strip: usize, count: i32, table: usize, r: f32, g: f32, b: f32): void {
  const zero = f32x4.splat(0)
  const one = f32x4.splat(1)
  for (let i: usize = 0, end = <usize>count << 2; i < end; i += 16) {
    const p = strip + i
    const red = v128.load(p)
    const green = v128.load(p, PLANE)
    const blue = v128.load(p, 2 * PLANE)
    const most = f32x4.pmax(red, f32x4.pmax(green, blue))
    const range = f32x4.sub(most, f32x4.pmin(red, f32x4.pmin(green, blue)))
    const some = f32x4.gt(range, zero)
    const by = v128.bitselect(range, one, some)
    // The hexcone: which channel is the greatest, and how far the others lie apart.
    const isRed = f32x4.eq(most, red)
    const isGreen = f32x4.eq(most, green)
    const apart = v128.bitselect(
      f32x4.sub(green, blue),
      v128.bitselect(f32x4.sub(blue, red), f32x4.sub(red, green), isGreen),
      isRed,
    )
    const from = v128.bitselect(zero, v128.bitselect(f32x4.splat(2), f32x4.splat(4), isGreen), isRed)
    let sixths = f32x4.add(from, f32x4.div(apart, by))
    sixths = f32x4.add(sixths, v128.and(f32x4.splat(6), f32x4.lt(sixths, zero)))
    const place = f32x4.mul(sixths, f32x4.splat(<f32>HUES / 6))
    const cell = i32x4.min_s(i32x4.max_s(i32x4.trunc_sat_f32x4_s(place), i32x4.splat(0)), i32x4.splat(HUES - 1))
    const share = f32x4.sub(place, f32x4.convert_i32x4_s(cell))
    const t0 = mixedEntry(table, i32x4.extract_lane(cell, 0), v128.shuffle<f32>(share, share, 0, 0, 0, 0))
    const t1 = mixedEntry(table, i32x4.extract_lane(cell, 1), v128.shuffle<f32>(share, share, 1, 1, 1, 1))
    const t2 = mixedEntry(table, i32x4.extract_lane(cell, 2), v128.shuffle<f32>(share, share, 2, 2, 2, 2))
    const t3 = mixedEntry(table, i32x4.extract_lane(cell, 3), v128.shuffle<f32>(share, share, 3, 3, 3, 3))
    const l01 = v128.shuffle<f32>(t0, t1, 0, 4, 1, 5)
    const l23 = v128.shuffle<f32>(t2, t3, 0, 4, 1, 5)
    const h01 = v128.shuffle<f32>(t0, t1, 2, 6, 3, 7)
    const h23 = v128.shuffle<f32>(t2, t3, 2, 6, 3, 7)
    const itself = v128.shuffle<f32>(l01, l23, 0, 1, 4, 5)
    const ofSum = v128.shuffle<f32>(l01, l23, 2, 3, 6, 7)
    const turned = v128.shuffle<f32>(h01, h23, 0, 1, 4, 5)
    const light = v128.shuffle<f32>(h01, h23, 2, 3, 6, 7)
    const luma = f32x4.add(
      f32x4.add(f32x4.mul(f32x4.splat(r), red), f32x4.mul(f32x4.splat(g), green)),
      f32x4.mul(f32x4.splat(b), blue),
    )
    const dr = f32x4.sub(red, luma)
    const dg = f32x4.sub(green, luma)
    const db = f32x4.sub(blue, luma)
    const sum = f32x4.mul(ofSum, f32x4.add(dr, f32x4.add(dg, db)))
    const er = f32x4.add(f32x4.add(f32x4.mul(itself, dr), sum), f32x4.mul(turned, f32x4.sub(db, dg)))
    const eg = f32x4.add(f32x4.add(f32x4.mul(itself, dg), sum), f32x4.mul(turned, f32x4.sub(dr, db)))
    const eb = f32x4.add(f32x4.add(f32x4.mul(itself, db), sum), f32x4.mul(turned, f32x4.sub(dg, dr)))
    const off = f32x4.add(
      f32x4.add(f32x4.mul(f32x4.splat(r), er), f32x4.mul(f32x4.splat(g), eg)),
      f32x4.mul(f32x4.splat(b), eb),
    )
    const base = f32x4.sub(luma, off)
    const covering = f32x4.gt(most, zero)
    const colourful = v128.and(
      f32x4.pmin(one, f32x4.div(range, v128.bitselect(most, one, covering))),
      covering,
    )
    const factor = f32x4.add(one, f32x4.mul(f32x4.sub(light, one), colourful))
    // What has no colour stays as it is, bit for bit.
    v128.store(p, oneNaN(v128.bitselect(f32x4.mul(f32x4.add(base, er), factor), red, some)))
    v128.store(p, oneNaN(v128.bitselect(f32x4.mul(f32x4.add(base, eg), factor), green, some)), PLANE)
    v128.store(p, oneNaN(v128.bitselect(f32x4.mul(f32x4.add(base, eb), factor), blue, some)), 2 * PLANE)
  }
}

/**
 * Light falling off towards the edges: times `1 - amount (1 - (1 - e)^2 (1 + 2e))` of the way e from `from` to `to`, both
 * distances from the middle as shares of the half size.
 *
 * @param settings seven doubles: middle across and down, half width, half height, from, to, amount; in pixels of the graph
 */
export function vignetteRow(strip: usize, count: i32, x: i32, y: i32, settings: usize): void {
  const cx = f64.load(settings)
  const cy = f64.load(settings, 8)
  const overX = 1 / f64.load(settings, 16)
  const overY = 1 / f64.load(settings, 24)
  const from = f64.load(settings, 32)
  const over = 1 / Math.max(1e-6, f64.load(settings, 40) - from)
  const amount = f64.load(settings, 48)
  const dy = (<f64>y + 0.5 - cy) * overY
  for (let i = 0; i < count; i++) {
    const dx = (<f64>(x + i) + 0.5 - cx) * overX
    const way = Math.min(1, Math.max(0, (Math.sqrt(dx * dx + dy * dy) - from) * over))
    if (way === 0) continue
    const factor = <f32>(1 - amount * way * way * (3 - 2 * way))
    const p = strip + (<usize>i << 2)
    f32.store(p, f32.load(p) * factor)
    f32.store(p, f32.load(p, PLANE) * factor, PLANE)
    f32.store(p, f32.load(p, 2 * PLANE) * factor, 2 * PLANE)
  }
}

/**
 * Colour through matrices that lie at places of the frame: each counts by the inverse of its squared distance (Shepard 1968).
 *
 * @param places for each eleven doubles: x, y, then nine of its matrix row by row
 */
export function whitesRow(strip: usize, count: i32, x: i32, y: i32, places: usize, many: i32): void {
  for (let i = 0; i < count; i++) {
    const px = <f64>(x + i) + 0.5
    const py = <f64>y + 0.5
    const p = strip + (<usize>i << 2)
    const r = <f64>f32.load(p)
    const g = <f64>f32.load(p, PLANE)
    const b = <f64>f32.load(p, 2 * PLANE)
    let total: f64 = 0
    let outR: f64 = 0
    let outG: f64 = 0
    let outB: f64 = 0
    for (let k = 0; k < many; k++) {
      const at = places + <usize>k * 88
      const dx = px - f64.load(at)
      const dy = py - f64.load(at, 8)
      const w = 1 / (dx * dx + dy * dy + 1)
      total += w
      outR += w * (f64.load(at, 16) * r + f64.load(at, 24) * g + f64.load(at, 32) * b)
      outG += w * (f64.load(at, 40) * r + f64.load(at, 48) * g + f64.load(at, 56) * b)
      outB += w * (f64.load(at, 64) * r + f64.load(at, 72) * g + f64.load(at, 80) * b)
    }
    f32.store(p, <f32>(outR / total))
    f32.store(p, <f32>(outG / total), PLANE)
    f32.store(p, <f32>(outB / total), 2 * PLANE)
  }
}

/** Colour held to a range of straight colour; light without coverage to as much as the range leaves of nothing. */
export function clampCovered(strip: usize, count: i32, least: f32, most: f32): void {
  for (let i: usize = 0, end = <usize>count << 2; i < end; i += 16) {
    const a = v128.load(strip + 3 * PLANE + i)
    const covering = f32x4.gt(a, f32x4.splat(NONE))
    const low = v128.bitselect(f32x4.mul(f32x4.splat(least), a), f32x4.splat(min<f32>(least, 0)), covering)
    const high = v128.bitselect(f32x4.mul(f32x4.splat(most), a), f32x4.splat(most), covering)
    for (let c: usize = 0; c < 3; c++) {
      const at = strip + c * PLANE + i
      const v = v128.load(at)
      v128.store(at, oneNaN(f32x4.max(low, f32x4.min(high, v))))
    }
  }
}
