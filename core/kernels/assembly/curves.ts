/**
 * exp2, log2, powers and sines of four floats, from additions, multiplications and divisions only, so that every machine
 * gives the same bits. Coefficients are Chebyshev fits; see the tests for what they keep to.
 *
 * Constants are loaded from memory: engines build vector constants anew in every turn of a loop, which costs more than the
 * sums. The module writes the same constants to the same place in every thread.
 */

import { PLANE, absolute, signedAs } from './lanes'

const table = memory.data<f32>([
  // 0: exp2 on -1/2 .. 1/2, highest power first
  0.0013400432164836218, 0.009676037097873902, 0.05550327214210937, 0.24022107355830347, 0.693147206710619, 1,
  // 6: log2((1 + s) / (1 - s)) / s in s^2, three and four terms
  0.595779854245754, 0.961588364696725, 2.885390424045731, 0.43173490115284296, 0.5767144410101969,
  0.9617988468588623, 2.8853900797904615,
  // 13: sin(2 pi x) / x in x^2, |x| <= 1/4
  -14.394135327298617, 42.00980571211706, -76.70428132005051, 81.60522620625143, -41.34170211699552,
  6.2831853070725785,
  // 19: 1.5 2^23 turns small floats into whole numbers; limits of exponents; least normal float; 2; below sqrt(1/2)
  12582912, 200, -200, 1.17549435e-38, 2, 0.70710677,
  // 25: sRGB
  12.92, 0.055, 1.055, 2.4, 0.4166666567325592, 0.04045, 0.0031308,
  // 32: the rest; 1.7e38 is 2^127
  Infinity, 0.5, 0.25, 5.9604644775390625e-8, -1.3862943611198906, 255, 1e-6, 125, 1.7014118e38, 1, 8388608, 23,
])

// @ts-ignore: decorator
@inline
export function constant(index: usize): v128 {
  return v128.load32_splat(table + (index << 2))
}

// @ts-ignore: decorator
@inline
export const ONE: usize = 41

// @ts-ignore: decorator
@inline
function polynomialStep(sum: v128, x: v128, index: usize): v128 {
  return f32x4.add(f32x4.mul(sum, x), constant(index))
}

/** Whole part of log2 of a normal float > 0, as integers, so that what is left lies between sqrt(1/2) and sqrt(2). */
// @ts-ignore: decorator
@inline
function exponentOf(x: v128): v128 {
  return i32x4.shr_s(i32x4.sub(x, constant(24)), 23)
}

/** (m - 1) / (m + 1) of the m that the exponent leaves: log2 m is a series in it (atanh). */
// @ts-ignore: decorator
@inline
function ratioOf(x: v128, exponent: v128): v128 {
  const m = i32x4.sub(x, i32x4.shl(exponent, 23))
  return f32x4.div(f32x4.sub(m, constant(ONE)), f32x4.add(m, constant(ONE)))
}

/** 2^r for r between -1/2 and 1/2, relative error below 2e-7. Paired terms, since the sums wait for one another. */
// @ts-ignore: decorator
@inline
function exp2Fraction(r: v128): v128 {
  const square = f32x4.mul(r, r)
  const low = polynomialStep(constant(4), r, 5)
  const middle = polynomialStep(constant(2), r, 3)
  const high = polynomialStep(constant(0), r, 1)
  return f32x4.add(low, f32x4.mul(square, f32x4.add(middle, f32x4.mul(square, high))))
}

/** v times 2^n, n from -200 to 200 given as `n + 1.5 2^23`, in two factors so that denormals round once. */
// @ts-ignore: decorator
@inline
function scaleByPower(v: v128, shifted: v128): v128 {
  const integer = i32x4.sub(shifted, constant(19))
  const first = i32x4.shr_s(integer, 1)
  const low = i32x4.add(i32x4.shl(first, 23), constant(ONE))
  const high = i32x4.add(i32x4.shl(i32x4.sub(integer, first), 23), constant(ONE))
  return f32x4.mul(f32x4.mul(v, low), high)
}

/** To -200 .. 200; NaN to 200. */
// @ts-ignore: decorator
@inline
function limited(n: v128): v128 {
  return f32x4.pmax(constant(21), f32x4.pmin(constant(20), n))
}

/** 2^y; overflow gives infinity, underflow 0, NaN stays NaN. */
// @ts-ignore: decorator
@inline
export function exp2(y: v128): v128 {
  const held = limited(y)
  const shifted = f32x4.add(held, constant(19))
  const r = f32x4.sub(held, f32x4.sub(shifted, constant(19)))
  return v128.bitselect(scaleByPower(exp2Fraction(r), shifted), y, f32x4.eq(y, y))
}

/** log2 of normal floats above 0. */
// @ts-ignore: decorator
@inline
export function log2OfNormal(x: v128): v128 {
  const e = exponentOf(x)
  const s = ratioOf(x, e)
  const z = f32x4.mul(s, s)
  const low = polynomialStep(constant(11), z, 12)
  const high = polynomialStep(constant(9), z, 10)
  const fraction = f32x4.mul(s, f32x4.add(low, f32x4.mul(high, f32x4.mul(z, z))))
  return f32x4.add(f32x4.convert_i32x4_s(e), fraction)
}

/** log2 of x, denormals too; 0 gives -infinity, negatives NaN, infinity infinity. */
// @ts-ignore: decorator
@inline
export function log2(x: v128): v128 {
  const denormal = f32x4.lt(x, constant(22))
  const scaled = v128.bitselect(f32x4.mul(x, constant(42)), x, denormal)
  const finite = f32x4.sub(log2OfNormal(scaled), v128.and(constant(43), denormal))
  let out = v128.bitselect(finite, f32x4.splat(NaN), f32x4.gt(x, f32x4.splat(0)))
  out = v128.bitselect(f32x4.splat(-Infinity), out, f32x4.eq(x, f32x4.splat(0)))
  return v128.bitselect(x, out, f32x4.eq(x, constant(32)))
}

/** p times the rest of log2 x, from its ratio. */
// @ts-ignore: decorator
@inline
function scaledLog(ratio: v128, p: v128): v128 {
  const z = f32x4.mul(ratio, ratio)
  const series = polynomialStep(polynomialStep(constant(6), z, 7), z, 8)
  return f32x4.mul(p, f32x4.mul(ratio, series))
}

/** x^p where x and the result are normal floats above 0: relative error as `raise` says. */
// @ts-ignore: decorator
@inline
export function usualPower(x: v128, p: v128): v128 {
  const exponent = exponentOf(x)
  const integer = f32x4.mul(p, f32x4.convert_i32x4_s(exponent))
  const rest = scaledLog(ratioOf(x, exponent), p)
  const shifted = f32x4.add(f32x4.add(integer, rest), constant(19))
  const r = f32x4.add(f32x4.sub(integer, f32x4.sub(shifted, constant(19))), rest)
  // The lowest bits of `shifted` are the whole number: as an exponent it is added to the float's own.
  return i32x4.add(exp2Fraction(r), i32x4.shl(shifted, 23))
}

/** The widest power of two that a float and its power to `exponent` can both be held to: 2^-n .. 2^n. */
function powerLimit(exponent: f32): i32 {
  return <i32>min<f32>(126, Mathf.floor(126 / abs(exponent)))
}

/**
 * x^p in place, over a plane; the plane after it is used too. x is held to 2^-n .. 2^n (see powerLimit), so NaN and what is
 * not above 0 count as the least. Relative error below 4e-7 while |p log2 x| < 8, growing with it: half a unit in the last
 * place of p log2 x.
 *
 * In four short loops, since the sums of one value wait for one another and a short loop keeps many values under way at once;
 * constants are fetched before the loops and stay in registers.
 */
export function raise(values: usize, bytes: usize, exponent: f32): void {
  const limit = powerLimit(exponent)
  const least = i32x4.splat((127 - limit) << 23)
  const most = i32x4.splat((127 + limit) << 23)
  const p = f32x4.splat(exponent)
  const half = constant(24)
  const one = constant(ONE)
  const end = values + bytes
  let v = values
  do {
    splitLogarithm(v, f32x4.pmin(most, f32x4.pmax(least, v128.load(v))), p, half, one)
    v += 16
  } while (v < end)
  raiseSplit(values, bytes, exponent)
}

/** As `raise`, of the products of two planes. */
export function raiseProducts(values: usize, first: usize, second: usize, bytes: usize, exponent: f32): void {
  const limit = powerLimit(exponent)
  const least = i32x4.splat((127 - limit) << 23)
  const most = i32x4.splat((127 + limit) << 23)
  const p = f32x4.splat(exponent)
  const half = constant(24)
  const one = constant(ONE)
  const end = values + bytes
  let v = values
  do {
    const x = f32x4.mul(v128.load(first), v128.load(second))
    splitLogarithm(v, f32x4.pmin(most, f32x4.pmax(least, x)), p, half, one)
    v += 16
    first += 16
    second += 16
  } while (v < end)
  raiseSplit(values, bytes, exponent)
}

/** Stores the ratio whose series is the rest of log2 x, and a plane further p times the whole part. */
// @ts-ignore: decorator
@inline
function splitLogarithm(to: usize, x: v128, p: v128, half: v128, one: v128): void {
  const e = i32x4.shr_s(i32x4.sub(x, half), 23)
  const m = i32x4.sub(x, i32x4.shl(e, 23))
  v128.store(to, f32x4.div(f32x4.sub(m, one), f32x4.add(m, one)))
  v128.store(to, f32x4.mul(p, f32x4.convert_i32x4_s(e)), PLANE)
}

function raiseSplit(values: usize, bytes: usize, exponent: f32): void {
  sumSeries(values, bytes, exponent)
  roundLogarithms(values, bytes)
  powersOfTwo(values, bytes)
}

/** p times the series of the ratio, in place. */
function sumSeries(values: usize, bytes: usize, exponent: f32): void {
  const p = f32x4.splat(exponent)
  const third = constant(6)
  const second = constant(7)
  const first = constant(8)
  const end = values + bytes
  let v = values
  do {
    const ratio = v128.load(v)
    const z = f32x4.mul(ratio, ratio)
    const series = f32x4.add(f32x4.mul(f32x4.add(f32x4.mul(third, z), second), z), first)
    v128.store(v, f32x4.mul(p, f32x4.mul(ratio, series)))
    v += 16
  } while (v < end)
}

/** p log2 x rounded to a whole number plus 1.5 2^23, in place; what the rounding left a plane further. */
function roundLogarithms(values: usize, bytes: usize): void {
  const magic = constant(19)
  const end = values + bytes
  let v = values
  do {
    const rest = v128.load(v)
    const integer = v128.load(v, PLANE)
    const shifted = f32x4.add(f32x4.add(integer, rest), magic)
    v128.store(v, shifted)
    v128.store(v, f32x4.add(f32x4.sub(integer, f32x4.sub(shifted, magic)), rest), PLANE)
    v += 16
  } while (v < end)
}

/** 2^ of what `roundLogarithms` stored, in place. */
function powersOfTwo(values: usize, bytes: usize): void {
  const c0 = constant(0)
  const c1 = constant(1)
  const c2 = constant(2)
  const c3 = constant(3)
  const c4 = constant(4)
  const c5 = constant(5)
  const end = values + bytes
  let v = values
  do {
    const r = v128.load(v, PLANE)
    const square = f32x4.mul(r, r)
    const high = f32x4.add(f32x4.mul(c0, r), c1)
    const middle = f32x4.add(f32x4.mul(c2, r), c3)
    const low = f32x4.add(f32x4.mul(c4, r), c5)
    const fraction = f32x4.add(low, f32x4.mul(square, f32x4.add(middle, f32x4.mul(square, high))))
    // The lowest bits of what was rounded are the whole number: as an exponent it is added to the float's own.
    v128.store(v, i32x4.add(fraction, i32x4.shl(v128.load(v), 23)))
    v += 16
  } while (v < end)
}

/** sin(2 pi t). */
// @ts-ignore: decorator
@inline
export function sineOfTurn(t: v128): v128 {
  // folded to -1/4 .. 1/4: sin(2 pi t) = sin(pi - 2 pi t)
  const x = f32x4.sub(t, f32x4.nearest(t))
  const magnitude = absolute(x)
  const folded = signedAs(f32x4.pmin(magnitude, f32x4.sub(constant(33), magnitude)), x)
  const z = f32x4.mul(folded, folded)
  let sum = polynomialStep(constant(13), z, 14)
  sum = polynomialStep(sum, z, 15)
  sum = polynomialStep(sum, z, 16)
  sum = polynomialStep(sum, z, 17)
  sum = polynomialStep(sum, z, 18)
  return f32x4.mul(folded, sum)
}

/** sRGB code values (IEC 61966-2-1) of linear light held to 0..1, NaN as 0. */
// @ts-ignore: decorator
@inline
export function srgbHeld(linear: v128): v128 {
  const x = f32x4.pmin(constant(ONE), f32x4.pmax(f32x4.splat(0), linear))
  const raised = usualPower(f32x4.pmax(constant(31), x), constant(29))
  const high = f32x4.sub(f32x4.mul(raised, constant(27)), constant(26))
  return v128.bitselect(f32x4.mul(x, constant(25)), high, f32x4.le(x, constant(31)))
}
