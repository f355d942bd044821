/**
 * Encodings of light other than sRGB, in place on one plane: curves of two exponential pieces with a straight one between
 * them (camera logs), powers mirrored at zero, HLG, PQ. core/colour/encodings.ts has the numbers and where they are from.
 */

import { absolute, oneNaN, scratch, signedAs } from './lanes'
import { ONE, constant, exp2, log2, raise } from './curves'

// @ts-ignore: decorator
@inline
function operand(at: usize, index: usize): v128 {
  return v128.load32_splat(at + (index << 2))
}

/** `(2^((x - o) k) - b) s`, from operands at `index`. */
// @ts-ignore: decorator
@inline
function exponential(x: v128, at: usize, index: usize): v128 {
  const power = exp2(f32x4.mul(f32x4.sub(x, operand(at, index)), operand(at, index + 1)))
  return f32x4.mul(f32x4.sub(power, operand(at, index + 2)), operand(at, index + 3))
}

/** `log2(x / s + b) / k + o`, its inverse; operands are o, 1/k, b, 1/s. What has no logarithm counts as the least float. */
// @ts-ignore: decorator
@inline
function logarithm(x: v128, at: usize, index: usize): v128 {
  const inside = f32x4.add(f32x4.mul(x, operand(at, index + 3)), operand(at, index + 2))
  const held = v128.bitselect(f32x4.pmax(constant(22), inside), inside, f32x4.eq(inside, inside))
  return f32x4.add(f32x4.mul(log2(held), operand(at, index + 1)), operand(at, index))
}

/**
 * Code values to linear. Operands: below cut 0 the exponential of operands 6-9, from cut 1 on that of 2-5, between them
 * `(x - o10) o11`; at most o12.
 */
export function linearFromPieces(plane: usize, bytes: usize, at: usize): void {
  const low = operand(at, 0)
  const high = operand(at, 1)
  const hasLower = load<f32>(at) > -Infinity
  const zero = operand(at, 10)
  const slope = operand(at, 11)
  const most = operand(at, 12)
  const end = plane + bytes
  let p = plane
  do {
    const x = v128.load(p)
    const straight = f32x4.mul(f32x4.sub(x, zero), slope)
    let y = v128.bitselect(exponential(x, at, 2), straight, f32x4.ge(x, high))
    if (hasLower) y = v128.bitselect(exponential(x, at, 6), y, f32x4.lt(x, low))
    v128.store(p, oneNaN(f32x4.pmin(y, most)))
    p += 16
  } while (p < end)
}

/** Linear to code values; operands likewise, the inverse: cuts in linear light, `x o11 + o10` between, x at least o12. */
export function piecesFromLinear(plane: usize, bytes: usize, at: usize): void {
  const low = operand(at, 0)
  const high = operand(at, 1)
  const hasLower = load<f32>(at) > -Infinity
  const zero = operand(at, 10)
  const slope = operand(at, 11)
  const least = operand(at, 12)
  const end = plane + bytes
  let p = plane
  do {
    const x = f32x4.pmax(v128.load(p), least)
    const straight = f32x4.add(f32x4.mul(x, slope), zero)
    let y = v128.bitselect(logarithm(x, at, 2), straight, f32x4.ge(x, high))
    if (hasLower) y = v128.bitselect(logarithm(x, at, 6), y, f32x4.lt(x, low))
    v128.store(p, oneNaN(y))
    p += 16
  } while (p < end)
}

/** |x|^p with the sign of x; infinities stay. */
export function mirroredPower(plane: usize, bytes: usize, exponent: f32): void {
  const end = plane + bytes
  let p = plane
  let s = scratch
  do {
    v128.store(s, absolute(v128.load(p)))
    p += 16
    s += 16
  } while (p < end)
  raise(scratch, bytes, exponent)
  p = plane
  s = scratch
  do {
    const x = v128.load(p)
    const magnitude = absolute(x)
    const usual = v128.and(f32x4.gt(magnitude, f32x4.splat(0)), f32x4.lt(magnitude, constant(32)))
    v128.store(p, oneNaN(v128.bitselect(signedAs(v128.load(s), x), x, usual)))
    p += 16
    s += 16
  } while (p < end)
}

/** Operands of both HLG curves: log2(e) / a, c, b, a ln 2. Mirrored at zero. */
export function linearFromHlg(plane: usize, bytes: usize, at: usize): void {
  const end = plane + bytes
  let p = plane
  do {
    const code = v128.load(p)
    const x = absolute(code)
    const low = f32x4.div(f32x4.mul(x, x), f32x4.splat(3))
    const raised = exp2(f32x4.mul(f32x4.sub(x, operand(at, 1)), operand(at, 0)))
    const high = f32x4.div(f32x4.add(raised, operand(at, 2)), f32x4.splat(12))
    const linear = v128.bitselect(low, high, f32x4.le(x, constant(33)))
    v128.store(p, oneNaN(signedAs(linear, code)))
    p += 16
  } while (p < end)
}

export function hlgFromLinear(plane: usize, bytes: usize, at: usize): void {
  const end = plane + bytes
  let p = plane
  do {
    const linear = v128.load(p)
    const x = absolute(linear)
    const low = f32x4.sqrt(f32x4.mul(x, f32x4.splat(3)))
    const inside = f32x4.pmax(constant(22), f32x4.sub(f32x4.mul(x, f32x4.splat(12)), operand(at, 2)))
    const high = f32x4.add(f32x4.mul(log2(inside), operand(at, 3)), operand(at, 1))
    const code = v128.bitselect(low, high, f32x4.le(f32x4.mul(x, f32x4.splat(12)), constant(ONE)))
    v128.store(p, oneNaN(signedAs(v128.bitselect(code, x, f32x4.eq(x, x)), linear)))
    p += 16
  } while (p < end)
}

const m1: f64 = 2610.0 / 16384
const m2: f64 = (2523.0 / 4096) * 128
const c1: f64 = 3424.0 / 4096
const c2: f64 = (2413.0 / 4096) * 32
const c3: f64 = (2392.0 / 4096) * 32

/**
 * PQ in double precision, one value at a time: its exponents of 79 and 6 would turn a float's rounding into an error that
 * shows. `unit` is the light of 10000 cd/m2. Mirrored at zero.
 */
export function linearFromPq(plane: usize, bytes: usize, unit: f32): void {
  for (let p = plane; p < plane + bytes; p += 4) {
    const code = load<f32>(p)
    const raised = Math.pow(<f64>abs(code), 1 / m2)
    const light = Math.pow(max<f64>(raised - c1, 0) / (c2 - c3 * raised), 1 / m1)
    store<f32>(p, copysign<f32>(<f32>(light * unit), code))
    if (code !== code || light !== light) store<u32>(p, 0xffffffff)
  }
}

export function pqFromLinear(plane: usize, bytes: usize, unit: f32): void {
  for (let p = plane; p < plane + bytes; p += 4) {
    const linear = load<f32>(p)
    const raised = Math.pow(<f64>abs(linear) / unit, m1)
    const code = raised < Infinity ? Math.pow((c1 + c2 * raised) / (1 + c3 * raised), m2) : Math.pow(c2 / c3, m2)
    // Black is the smallest code, c1^m2, which is below anything that a file holds.
    store<f32>(p, linear === 0 ? 0 : copysign<f32>(<f32>code, linear))
    if (linear !== linear) store<u32>(p, 0xffffffff)
  }
}
