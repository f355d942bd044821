/**
 * Colour steps that follow each other, on one strip that stays in the nearest cache: each runs over the strip's planes.
 * Where the last vector reaches beyond the strip's pixels, what lies there is computed and never used.
 *
 * A program is words in memory: a step's number, then its floats; 0 ends it. core/kernels/colour-program.ts writes it.
 *
 * 1 affine      `gain c + veil a`: gain r g b, veil r g b
 * 2 power       `(c / a)^p a` where c is above 0 and finite, else c; a counts as 1 where it is at most 1e-6; p r g b, not 0
 * 3 matrix      three rows of three
 * 4, 5          sRGB code values to linear, and back
 * 6, 7          straight colour to premultiplied, and back (colour stays where a is at most 1e-6)
 * 8, 9          log2 and 2^c of each channel as it stands
 * 10 above      light above a threshold with a soft knee, quadratic between t - k and t + k; alpha becomes 0: t, k, 1 / 4k
 *
 * 11 complement `1 - c` of all four channels
 * 12, 13        curves in pieces (camera logs) to linear, and back: 13 floats, see encodings.ts
 * 14 mirrored   |c|^p with the sign of c: p
 * 15, 16        HLG to linear, and back: 4 floats
 * 17, 18        PQ to linear, and back: the light of 10000 cd/m2
 * 20 clamp      every channel held to a range: least, most
 * 21 premultiply-covered  the way back from 7: colour stays where a is at most 1e-6
 * 22 fade       all four channels times a factor
 * 19 hsv        hue (0), saturation (1) or value (2) as a grey: which, as a float
 *
 * Alpha stays but for 10, 11 and 22. NaN comes out as the one NaN.
 */

import { hlgFromLinear, linearFromHlg, linearFromPieces, linearFromPq, mirroredPower, piecesFromLinear, pqFromLinear } from './encodings'
import { hsvChannel } from './hsv'
import { PLANE, absolute, oneNaN, scratch, signedAs } from './lanes'
import { ONE, constant, exp2, log2, raise, raiseProducts } from './curves'

// @ts-ignore: decorator
@inline
function operand(at: usize, index: usize): v128 {
  return v128.load32_splat(at + 4 + (index << 2))
}

export function colourProgram(strip: usize, count: i32, program: usize): void {
  if (count <= 0) return
  // Whole pairs of vectors: planes have room for what lies beyond the last pixel.
  const bytes = (<usize>(count + 7) >> 3) << 5
  let at = program
  for (let step = i32.load(at); step !== 0; step = i32.load(at)) {
    switch (step) {
      case 1: {
        if (i32.load(at + 28) === 0) affine(strip, bytes, at + 4, true)
        else affine(strip, bytes, at + 4, false)
        at += 28
        break
      }
      case 2: {
        divisors(strip + 3 * PLANE, bytes)
        for (let c: usize = 0; c < 3; c++) {
          const exponent = f32.load(at + 4 + (c << 2))
          if (exponent !== 1) power(strip + c * PLANE, bytes, exponent)
          if (i32.load(at + 16) === 0) makeOneNaN(strip + c * PLANE, bytes)
        }
        at += 16
        break
      }
      case 3: {
        if (i32.load(at + 40) === 0) matrix(strip, bytes, at + 4, true)
        else matrix(strip, bytes, at + 4, false)
        at += 40
        break
      }
      case 10: {
        for (let c: usize = 0; c < 3; c++)
          lightAbove(strip + c * PLANE, bytes, operand(at, 0), operand(at, 1), operand(at, 2))
        memory.fill(strip + 3 * PLANE, 0, bytes)
        at += 16
        break
      }
      case 11: {
        for (let c: usize = 0; c < 4; c++) complement(strip + c * PLANE, bytes)
        at += 4
        break
      }
      case 12: {
        for (let c: usize = 0; c < 3; c++) linearFromPieces(strip + c * PLANE, bytes, at + 4)
        at += 56
        break
      }
      case 13: {
        for (let c: usize = 0; c < 3; c++) piecesFromLinear(strip + c * PLANE, bytes, at + 4)
        at += 56
        break
      }
      case 14: {
        for (let c: usize = 0; c < 3; c++) mirroredPower(strip + c * PLANE, bytes, f32.load(at + 4))
        at += 8
        break
      }
      case 15: {
        for (let c: usize = 0; c < 3; c++) linearFromHlg(strip + c * PLANE, bytes, at + 4)
        at += 20
        break
      }
      case 16: {
        for (let c: usize = 0; c < 3; c++) hlgFromLinear(strip + c * PLANE, bytes, at + 4)
        at += 20
        break
      }
      case 17: {
        for (let c: usize = 0; c < 3; c++) linearFromPq(strip + c * PLANE, bytes, f32.load(at + 4))
        at += 8
        break
      }
      case 18: {
        for (let c: usize = 0; c < 3; c++) pqFromLinear(strip + c * PLANE, bytes, f32.load(at + 4))
        at += 8
        break
      }
      case 20: {
        for (let c: usize = 0; c < 3; c++) clamp(strip + c * PLANE, bytes, operand(at, 0), operand(at, 1))
        at += 12
        break
      }
      case 21: {
        for (let c: usize = 0; c < 3; c++) premultiplyCovered(strip + c * PLANE, strip + 3 * PLANE, bytes)
        at += 4
        break
      }
      case 22: {
        for (let c: usize = 0; c < 4; c++) fade(strip + c * PLANE, bytes, operand(at, 0))
        at += 8
        break
      }
      case 19: {
        hsvChannel(strip, <i32>(bytes >> 2), <i32>f32.load(at + 4))
        at += 8
        break
      }
      default: {
        for (let c: usize = 0; c < 3; c++) plain(step, strip + c * PLANE, strip + 3 * PLANE, bytes)
        at += 4
        break
      }
    }
  }
}

function makeOneNaN(plane: usize, bytes: usize): void {
  const end = plane + bytes
  let p = plane
  do {
    v128.store(p, oneNaN(v128.load(p)))
    v128.store(p, oneNaN(v128.load(p, 16)), 16)
    p += 32
  } while (p < end)
}

function premultiplyCovered(plane: usize, alpha: usize, bytes: usize): void {
  const end = plane + bytes
  let p = plane
  let a = alpha
  do {
    v128.store(p, oneNaN(f32x4.mul(v128.load(p), divisor(v128.load(a)))))
    p += 16
    a += 16
  } while (p < end)
}

function fade(plane: usize, bytes: usize, factor: v128): void {
  const end = plane + bytes
  let p = plane
  do {
    v128.store(p, oneNaN(f32x4.mul(v128.load(p), factor)))
    p += 16
  } while (p < end)
}

function plain(step: i32, plane: usize, alpha: usize, bytes: usize): void {
  const end = plane + bytes
  let p = plane
  let a = alpha
  if (step === 4) linearFromSrgb(plane, bytes)
  else if (step === 5) srgbFromLinear(plane, bytes)
  else if (step === 6) {
    do {
      v128.store(p, oneNaN(f32x4.mul(v128.load(p), v128.load(a))))
      p += 16
      a += 16
    } while (p < end)
  } else if (step === 7) {
    do {
      v128.store(p, oneNaN(f32x4.div(v128.load(p), divisor(v128.load(a)))))
      p += 16
      a += 16
    } while (p < end)
  } else if (step === 8) {
    do {
      v128.store(p, oneNaN(log2(v128.load(p))))
      p += 16
    } while (p < end)
  } else {
    do {
      v128.store(p, oneNaN(exp2(v128.load(p))))
      p += 16
    } while (p < end)
  }
}

/** Sums and products leave any NaN as it comes; the last of them, or what follows, makes it the one NaN. */
// @ts-ignore: decorator
@inline
function left(v: v128, last: bool): v128 {
  return last ? oneNaN(v) : v
}

// @ts-ignore: decorator
@inline
function divisor(alpha: v128): v128 {
  return v128.bitselect(alpha, constant(ONE), f32x4.gt(alpha, constant(38)))
}

// @ts-ignore: decorator
@inline
function affine(strip: usize, bytes: usize, operands: usize, last: bool): void {
  const end = strip + bytes
  const gainR = v128.load32_splat(operands)
  const gainG = v128.load32_splat(operands, 4)
  const gainB = v128.load32_splat(operands, 8)
  const veilR = v128.load32_splat(operands, 12)
  const veilG = v128.load32_splat(operands, 16)
  const veilB = v128.load32_splat(operands, 20)
  let p = strip
  do {
    const a = v128.load(p, 3 * PLANE)
    v128.store(p, left(f32x4.add(f32x4.mul(v128.load(p), gainR), f32x4.mul(veilR, a)), last))
    v128.store(p, left(f32x4.add(f32x4.mul(v128.load(p, PLANE), gainG), f32x4.mul(veilG, a)), last), PLANE)
    v128.store(p, left(f32x4.add(f32x4.mul(v128.load(p, 2 * PLANE), gainB), f32x4.mul(veilB, a)), last), 2 * PLANE)
    p += 16
  } while (p < end)
}

/** Alphas to divide by, and one over them, for the whole strip: the first two planes of scratch. */
function divisors(alpha: usize, bytes: usize): void {
  let s = scratch
  let a = alpha
  const end = alpha + bytes
  do {
    const d = divisor(v128.load(a))
    v128.store(s, d)
    v128.store(s, f32x4.div(constant(ONE), d), PLANE)
    a += 16
    s += 16
  } while (a < end)
}

/** Powers are made in the third and fourth plane of scratch. */
const POWERS: usize = 2 * PLANE

/** `(c / a)^p a` where c lies between 0 and infinity; the rest stays. `divisors` comes first. */
function power(plane: usize, bytes: usize, exponent: f32): void {
  raiseProducts(scratch + POWERS, plane, scratch + PLANE, bytes, exponent)
  const infinity = constant(32)
  const none = f32x4.splat(0)
  const end = plane + bytes
  let p = plane
  let s = scratch
  do {
    const c = v128.load(p)
    const raised = f32x4.mul(v128.load(s, POWERS), v128.load(s))
    const usual = v128.and(f32x4.gt(c, none), f32x4.lt(c, infinity))
    v128.store(p, v128.bitselect(raised, c, usual))
    p += 16
    s += 16
  } while (p < end)
}

/** sRGB code values (IEC 61966-2-1) to linear; mirrored for negatives, going on above 1. */
export function linearFromSrgb(plane: usize, bytes: usize): void {
  const end = plane + bytes
  let p = plane
  let s = scratch
  do {
    v128.store(s, f32x4.div(f32x4.add(absolute(v128.load(p)), constant(26)), constant(27)))
    p += 16
    s += 16
  } while (p < end)
  raise(scratch, bytes, 2.4)
  p = plane
  s = scratch
  do {
    const code = v128.load(p)
    const magnitude = absolute(code)
    const low = f32x4.div(magnitude, constant(25))
    const linear = v128.bitselect(low, v128.load(s), f32x4.le(magnitude, constant(30)))
    const usual = f32x4.lt(magnitude, constant(32))
    v128.store(p, oneNaN(v128.bitselect(signedAs(linear, code), code, usual)))
    p += 16
    s += 16
  } while (p < end)
}

/** Linear to sRGB code values, likewise. */
export function srgbFromLinear(plane: usize, bytes: usize): void {
  const end = plane + bytes
  let p = plane
  let s = scratch
  do {
    v128.store(s, absolute(v128.load(p)))
    p += 16
    s += 16
  } while (p < end)
  raise(scratch, bytes, 0.4166666567325592)
  p = plane
  s = scratch
  do {
    const linear = v128.load(p)
    const magnitude = absolute(linear)
    const low = f32x4.mul(magnitude, constant(25))
    const high = f32x4.sub(f32x4.mul(v128.load(s), constant(27)), constant(26))
    const code = v128.bitselect(low, high, f32x4.le(magnitude, constant(31)))
    const usual = f32x4.lt(magnitude, constant(32))
    v128.store(p, oneNaN(v128.bitselect(signedAs(code, linear), linear, usual)))
    p += 16
    s += 16
  } while (p < end)
}

// @ts-ignore: decorator
@inline
function matrix(strip: usize, bytes: usize, rows: usize, last: bool): void {
  const end = strip + bytes
  const m0 = v128.load32_splat(rows)
  const m1 = v128.load32_splat(rows, 4)
  const m2 = v128.load32_splat(rows, 8)
  const m3 = v128.load32_splat(rows, 12)
  const m4 = v128.load32_splat(rows, 16)
  const m5 = v128.load32_splat(rows, 20)
  const m6 = v128.load32_splat(rows, 24)
  const m7 = v128.load32_splat(rows, 28)
  const m8 = v128.load32_splat(rows, 32)
  let p = strip
  do {
    const r = v128.load(p)
    const g = v128.load(p, PLANE)
    const b = v128.load(p, 2 * PLANE)
    v128.store(p, left(f32x4.add(f32x4.add(f32x4.mul(m0, r), f32x4.mul(m1, g)), f32x4.mul(m2, b)), last))
    v128.store(p, left(f32x4.add(f32x4.add(f32x4.mul(m3, r), f32x4.mul(m4, g)), f32x4.mul(m5, b)), last), PLANE)
    v128.store(p, left(f32x4.add(f32x4.add(f32x4.mul(m6, r), f32x4.mul(m7, g)), f32x4.mul(m8, b)), last), 2 * PLANE)
    p += 16
  } while (p < end)
}

/** NaN stays NaN. */
function clamp(plane: usize, bytes: usize, least: v128, most: v128): void {
  const end = plane + bytes
  let p = plane
  do {
    const c = v128.load(p)
    v128.store(p, oneNaN(v128.bitselect(f32x4.pmin(most, f32x4.pmax(least, c)), c, f32x4.eq(c, c))))
    p += 16
  } while (p < end)
}

function complement(plane: usize, bytes: usize): void {
  const end = plane + bytes
  let p = plane
  do {
    v128.store(p, oneNaN(f32x4.sub(constant(ONE), v128.load(p))))
    p += 16
  } while (p < end)
}

function lightAbove(plane: usize, bytes: usize, threshold: v128, knee: v128, share: v128): void {
  const end = plane + bytes
  let p = plane
  do {
    const over = f32x4.sub(v128.load(p), threshold)
    const into = f32x4.pmax(f32x4.splat(0), f32x4.add(over, knee))
    const soft = f32x4.mul(f32x4.mul(into, into), share)
    v128.store(p, oneNaN(v128.bitselect(soft, over, f32x4.lt(over, knee))))
    p += 16
  } while (p < end)
}
