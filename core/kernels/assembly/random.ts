/**
 * Random numbers from a counter: the same for the same pixel, frame and key, in any tile, order or machine.
 *
 * Philox4x32-10 (Salmon et al. 2011), whose counter is (x, y, frame, stream); four normal deviates a pixel by Box and
 * Muller 1958.
 */

import { PLANE, oneNaN, scratch } from './lanes'
import { constant, log2OfNormal, sineOfTurn } from './curves'

const M0: u32 = 0xd2511f53
const M1: u32 = 0xcd9e8d57
const W0: u32 = 0x9e3779b9
const W1: u32 = 0xbb67ae85

/** Upper 32 bits of four products, given two and two. */
// @ts-ignore: decorator
@inline
function highs(a: v128, b: v128): v128 {
  return v128.shuffle<i32>(a, b, 1, 3, 5, 7)
}

// @ts-ignore: decorator
@inline
function lows(a: v128, b: v128): v128 {
  return v128.shuffle<i32>(a, b, 0, 2, 4, 6)
}

/** 24 bits to a float above 0, at most 1. */
// @ts-ignore: decorator
@inline
function uniform(bits: v128): v128 {
  const integer = i32x4.add(i32x4.shr_u(bits, 8), i32x4.splat(1))
  return f32x4.mul(f32x4.convert_i32x4_s(integer), constant(35))
}


/** The raw generator for four pixels: writes words 0..3, four lanes each, at `to`. */
function philox(to: usize, x: v128, y: i32, frame: i32, stream: i32, keyLow: i32, keyHigh: i32): void {
  let c0 = x
  let c1 = i32x4.splat(y)
  let c2 = i32x4.splat(frame)
  let c3 = i32x4.splat(stream)
  let k0 = <u32>keyLow
  let k1 = <u32>keyHigh
  const m0 = i32x4.splat(M0)
  const m1 = i32x4.splat(M1)
  for (let round = 0; round < 10; round++) {
    const a0 = i64x2.extmul_low_i32x4_u(c0, m0)
    const b0 = i64x2.extmul_high_i32x4_u(c0, m0)
    const a1 = i64x2.extmul_low_i32x4_u(c2, m1)
    const b1 = i64x2.extmul_high_i32x4_u(c2, m1)
    c0 = v128.xor(v128.xor(highs(a1, b1), c1), i32x4.splat(k0))
    c2 = v128.xor(v128.xor(highs(a0, b0), c3), i32x4.splat(k1))
    c1 = lows(a1, b1)
    c3 = lows(a0, b0)
    k0 += W0
    k1 += W1
  }
  v128.store(to, c0)
  v128.store(to, c1, 16)
  v128.store(to, c2, 32)
  v128.store(to, c3, 48)
}

/** Four random words for one counter and key, for checks against the published values. */
export function philoxWords(to: usize, c0: i32, c1: i32, c2: i32, c3: i32, keyLow: i32, keyHigh: i32): void {
  philox(scratch, i32x4.splat(c0), c1, c2, c3, keyLow, keyHigh)
  for (let k = 0; k < 4; k++) store<u32>(to + (<usize>k << 2), load<u32>(scratch + (<usize>k << 4)))
}

/** A strip of normal deviates (mean 0, variance 1), four for each of `count` pixels of a row. */
export function normals(
  strip: usize,
  count: i32,
  x: i32,
  y: i32,
  frame: i32,
  stream: i32,
  keyLow: i32,
  keyHigh: i32,
): void {
  const steps = i32x4.replace_lane(i32x4.replace_lane(i32x4.replace_lane(i32x4.splat(0), 1, 1), 2, 2), 3, 3)
  for (let i = 0; i < count; i += 4) {
    philox(scratch, i32x4.add(i32x4.splat(x + i), steps), y, frame, stream, keyLow, keyHigh)
    // -2 ln u = -2 ln 2 log2 u
    const ra = f32x4.sqrt(f32x4.mul(log2OfNormal(uniform(v128.load(scratch))), constant(36)))
    const rb = f32x4.sqrt(f32x4.mul(log2OfNormal(uniform(v128.load(scratch, 32))), constant(36)))
    const ta = uniform(v128.load(scratch, 16))
    const tb = uniform(v128.load(scratch, 48))
    const t = strip + (<usize>i << 2)
    v128.store(t, f32x4.mul(ra, sineOfTurn(f32x4.add(ta, constant(34)))))
    v128.store(t, f32x4.mul(ra, sineOfTurn(ta)), PLANE)
    v128.store(t, f32x4.mul(rb, sineOfTurn(f32x4.add(tb, constant(34)))), 2 * PLANE)
    v128.store(t, f32x4.mul(rb, sineOfTurn(tb)), 3 * PLANE)
  }
}

/**
 * Grain that follows coverage, per channel: `C + a sigma(C / a) n`, which is `C + n sqrt(shot max(C, 0) a + read a^2)`.
 * Where the deviation is 0, so where alpha is 0, no bit changes.
 */
export function addGrain(
  strip: usize,
  noise: usize,
  count: i32,
  shotR: f32,
  shotG: f32,
  shotB: f32,
  readR: f32,
  readG: f32,
  readB: f32,
): void {
  const alpha = strip + 3 * PLANE
  grainPlane(strip, noise, alpha, count, f32x4.splat(shotR), f32x4.splat(readR))
  grainPlane(strip + PLANE, noise + PLANE, alpha, count, f32x4.splat(shotG), f32x4.splat(readG))
  grainPlane(strip + 2 * PLANE, noise + 2 * PLANE, alpha, count, f32x4.splat(shotB), f32x4.splat(readB))
}

function grainPlane(plane: usize, noise: usize, alpha: usize, count: i32, shot: v128, read: v128): void {
  if (count <= 0) return
  const end = plane + (<usize>count << 2)
  let p = plane
  let n = noise
  let q = alpha
  do {
    const v = v128.load(p)
    const a = f32x4.pmax(f32x4.splat(0), v128.load(q))
    const variance = f32x4.mul(
      f32x4.add(f32x4.mul(shot, f32x4.pmax(f32x4.splat(0), v)), f32x4.mul(read, a)),
      a,
    )
    const grained = oneNaN(f32x4.add(v, f32x4.mul(v128.load(n), f32x4.sqrt(variance))))
    v128.store(p, v128.bitselect(v, grained, f32x4.eq(variance, f32x4.splat(0))))
    p += 16
    n += 16
    q += 16
  } while (p < end)
}

/**
 * Grain of a recording that has some already, per channel. What was left of the plate's light, `t P`, kept its own grain;
 * what is missing to that of the whole light is added: `C + n sqrt(max(0, sigma(C)^2 - t^2 sigma(P)^2))`. Where nothing is
 * missing, so where the plate was not touched, no bit changes.
 */
export function addMissingGrain(
  strip: usize,
  noise: usize,
  plate: usize,
  share: usize,
  count: i32,
  shotR: f32,
  shotG: f32,
  shotB: f32,
  readR: f32,
  readG: f32,
  readB: f32,
): void {
  const alpha = strip + 3 * PLANE
  missingPlane(strip, noise, plate, share, alpha, count, f32x4.splat(shotR), f32x4.splat(readR))
  missingPlane(strip + PLANE, noise + PLANE, plate + PLANE, share + PLANE, alpha, count, f32x4.splat(shotG), f32x4.splat(readG))
  missingPlane(strip + 2 * PLANE, noise + 2 * PLANE, plate + 2 * PLANE, share + 2 * PLANE, alpha, count, f32x4.splat(shotB), f32x4.splat(readB))
}

function missingPlane(plane: usize, noise: usize, plate: usize, share: usize, alpha: usize, count: i32, shot: v128, read: v128): void {
  if (count <= 0) return
  const zero = f32x4.splat(0)
  const end = plane + (<usize>count << 2)
  let at: usize = 0
  do {
    const v = v128.load(plane + at)
    const a = f32x4.pmax(zero, v128.load(alpha + at))
    const t = f32x4.pmax(zero, v128.load(share + at))
    const whole = f32x4.mul(f32x4.add(f32x4.mul(shot, f32x4.pmax(zero, v)), f32x4.mul(read, a)), a)
    const had = f32x4.mul(f32x4.add(f32x4.mul(shot, f32x4.pmax(zero, v128.load(plate + at))), read), f32x4.mul(t, t))
    const missing = f32x4.pmax(zero, f32x4.sub(whole, had))
    const grained = oneNaN(f32x4.add(v, f32x4.mul(v128.load(noise + at), f32x4.sqrt(missing))))
    v128.store(plane + at, v128.bitselect(v, grained, f32x4.eq(missing, zero)))
    at += 16
  } while (plane + at < end)
}
