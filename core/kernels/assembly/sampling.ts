/**
 * One pixel between pixels: bilinear, Catmull-Rom and Lanczos-3 at a place.
 *
 * Places are in pixels of the source buffer, (0, 0) the middle of its first pixel. A place on a pixel's middle copies that
 * pixel's bits. Beyond the buffer all is 0. A place that is not a number gives 0. An infinity next to a place gives NaN
 * where its weight is 0 or weights of both signs meet.
 */

import { oneNaN, scratch } from './lanes'
import { ONE, constant } from './curves'

/** Rows of four: the Catmull-Rom weights (Keys 1981, a = -1/2) of the taps at -1, 0, 1, 2 as cubics, highest power first. */
const cubics = memory.data<f32>([-0.5, 1.5, -1.5, 0.5, 1, -2.5, 2, -0.5, -0.5, 0, 0.5, 0, 0, 1, 0, 0])

// @ts-ignore: decorator
@inline
function catmullRom(t: v128): v128 {
  let sum = f32x4.add(f32x4.mul(v128.load(cubics), t), v128.load(cubics, 16))
  sum = f32x4.add(f32x4.mul(sum, t), v128.load(cubics, 32))
  return f32x4.add(f32x4.mul(sum, t), v128.load(cubics, 48))
}

const ROOT3 = 1.7320508075688772
export const PI = 3.141592653589793

/** sin(x) and cos(x) for 0 <= x <= pi / 3, to 1e-15. */
// @ts-ignore: decorator
@inline
export function sine(x: f64): f64 {
  const z = x * x
  return x * (1 - (z / 6) * (1 - (z / 20) * (1 - (z / 42) * (1 - (z / 72) * (1 - (z / 110) * (1 - (z / 156) * (1 - z / 210)))))))
}

// @ts-ignore: decorator
@inline
export function cosine(x: f64): f64 {
  const z = x * x
  return 1 - (z / 2) * (1 - (z / 12) * (1 - (z / 30) * (1 - (z / 56) * (1 - (z / 90) * (1 - (z / 132) * (1 - (z / 182) * (1 - z / 240)))))))
}

/** Writes the six weights for taps at -2 .. 3, sum 1. */
function lanczos3(t: f64, to: usize): void {
  // Near 1 the sines below would lose their digits: the weights of 1 - t are the same, the other way round.
  const mirrored = t > 0.5
  const u = mirrored ? 1 - t : t
  if (u < 1e-9) {
    for (let k = 0; k < 6; k++) f32.store(to + (<usize>k << 2), k === (mirrored ? 3 : 2) ? <f32>1 : <f32>0)
    return
  }
  const s3 = sine((PI * u) / 3)
  const c3 = cosine((PI * u) / 3)
  const s = s3 * (3 - 4 * s3 * s3)
  let sum: f64 = 0
  const exact = to + 128
  for (let k = 0; k < 6; k++) {
    const d = u - <f64>(k - 2)
    // sin(pi d) = +-s; sin(pi d / 3) by the sum of angles -(k - 2) pi / 3
    const sign: f64 = (k & 1) === 0 ? 1 : -1
    let third: f64
    if (k === 0) third = -0.5 * s3 + (ROOT3 / 2) * c3
    else if (k === 1) third = 0.5 * s3 + (ROOT3 / 2) * c3
    else if (k === 2) third = s3
    else if (k === 3) third = 0.5 * s3 - (ROOT3 / 2) * c3
    else if (k === 4) third = -0.5 * s3 - (ROOT3 / 2) * c3
    else third = -s3
    const w = (sign * s * third) / (d * d)
    sum += w
    f64.store(exact + (<usize>k << 3), w)
  }
  const over = 1 / sum
  for (let k = 0; k < 6; k++) {
    const from = exact + (<usize>(mirrored ? 5 - k : k) << 3)
    f32.store(to + (<usize>k << 2), <f32>(f64.load(from) * over))
  }
}

/**
 * One pixel of the source at a place (two doubles, x and y); filter 0 bilinear, 1 Catmull-Rom, 2 Lanczos-3.
 *
 * @param origin place of the buffer's first pixel, two whole numbers. It is subtracted from whole numbers only, so that the
 *   weights are the same whatever buffer the source lies in
 */
// @ts-ignore: decorator
@inline
export function sample(place: v128, origin: v128, source: usize, width: i32, height: i32, filter: i32): v128 {
  const integer = f64x2.floor(place)
  const rest = f64x2.sub(place, integer)
  const share = f32x4.demote_f64x2_zero(rest)
  const inBuffer = f64x2.sub(integer, origin)
  const cell = i32x4.trunc_sat_f64x2_s_zero(inBuffer)
  const ix = i32x4.extract_lane(cell, 0)
  const iy = i32x4.extract_lane(cell, 1)
  if (filter === 1) {
    const inside = <u32>(ix - 1) < <u32>max(0, width - 3) && <u32>(iy - 1) < <u32>max(0, height - 3)
    // Between pixels; not on one (share 0, 0), and not NaN.
    if (inside && v128.any_true(f32x4.gt(share, f32x4.splat(0)))) {
      const stride = <usize>width << 4
      const p = source + <usize>(iy - 1) * stride + (<usize>(ix - 1) << 4)
      const wx = catmullRom(v128.shuffle<f32>(share, share, 0, 0, 0, 0))
      const wy = catmullRom(v128.shuffle<f32>(share, share, 1, 1, 1, 1))
      const w0 = v128.shuffle<f32>(wx, wx, 0, 0, 0, 0)
      const w1 = v128.shuffle<f32>(wx, wx, 1, 1, 1, 1)
      const w2 = v128.shuffle<f32>(wx, wx, 2, 2, 2, 2)
      const w3 = v128.shuffle<f32>(wx, wx, 3, 3, 3, 3)
      let sum = f32x4.mul(v128.shuffle<f32>(wy, wy, 0, 0, 0, 0), four(p, w0, w1, w2, w3))
      sum = f32x4.add(sum, f32x4.mul(v128.shuffle<f32>(wy, wy, 1, 1, 1, 1), four(p + stride, w0, w1, w2, w3)))
      sum = f32x4.add(sum, f32x4.mul(v128.shuffle<f32>(wy, wy, 2, 2, 2, 2), four(p + stride * 2, w0, w1, w2, w3)))
      sum = f32x4.add(sum, f32x4.mul(v128.shuffle<f32>(wy, wy, 3, 3, 3, 3), four(p + stride * 3, w0, w1, w2, w3)))
      return oneNaN(sum)
    }
  } else if (filter === 0) {
    const inside = <u32>ix < <u32>max(0, width - 1) && <u32>iy < <u32>max(0, height - 1)
    if (inside && v128.any_true(f32x4.gt(share, f32x4.splat(0)))) {
      const stride = <usize>width << 4
      const p = source + <usize>iy * stride + (<usize>ix << 4)
      const x1 = v128.shuffle<f32>(share, share, 0, 0, 0, 0)
      const y1 = v128.shuffle<f32>(share, share, 1, 1, 1, 1)
      const x0 = f32x4.sub(constant(ONE), x1)
      const upper = f32x4.add(f32x4.mul(x0, v128.load(p)), f32x4.mul(x1, v128.load(p, 16)))
      const q = p + stride
      const lower = f32x4.add(f32x4.mul(x0, v128.load(q)), f32x4.mul(x1, v128.load(q, 16)))
      return oneNaN(f32x4.add(f32x4.mul(f32x4.sub(constant(ONE), y1), upper), f32x4.mul(y1, lower)))
    }
  }
  return sampleAnywhere(inBuffer, rest, source, width, height, filter)
}

/** The same for any place: on a pixel, near the edge, outside, not a number; and all of Lanczos-3. */
function sampleAnywhere(inBuffer: v128, rest: v128, source: usize, width: i32, height: i32, filter: i32): v128 {
  const none = f32x4.splat(0)
  const fx = f64x2.extract_lane(inBuffer, 0)
  const fy = f64x2.extract_lane(inBuffer, 1)
  if (!(fx >= -4 && fy >= -4 && fx < <f64>width + 3 && fy < <f64>height + 3)) return none
  const ix = <i32>fx
  const iy = <i32>fy
  const restX = f64x2.extract_lane(rest, 0)
  const restY = f64x2.extract_lane(rest, 1)
  const tx = <f32>restX
  const ty = <f32>restY
  if (tx === 0 && ty === 0) {
    if (ix < 0 || iy < 0 || ix >= width || iy >= height) return none
    return v128.load(source + ((<usize>iy * <usize>width + <usize>ix) << 4))
  }
  if (filter === 1) {
    v128.store(scratch, catmullRom(f32x4.splat(tx)))
    v128.store(scratch, catmullRom(f32x4.splat(ty)), 64)
    return oneNaN(atEdge(ix - 1, iy - 1, source, width, height, 4))
  }
  if (filter === 0) {
    f32.store(scratch, 1 - tx)
    f32.store(scratch, tx, 4)
    f32.store(scratch, 1 - ty, 64)
    f32.store(scratch, ty, 68)
    return oneNaN(atEdge(ix, iy, source, width, height, 2))
  }
  lanczos3(restX, scratch)
  lanczos3(restY, scratch + 64)
  if (ix >= 2 && iy >= 2 && ix + 3 < width && iy + 3 < height)
    return oneNaN(sixBySix(source + ((<usize>(iy - 2) * <usize>width + <usize>(ix - 2)) << 4), <usize>width << 4))
  return oneNaN(atEdge(ix - 2, iy - 2, source, width, height, 6))
}

function sixBySix(p: usize, stride: usize): v128 {
  let sum = f32x4.mul(v128.load32_splat(scratch, 64), six(p))
  sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(scratch, 68), six(p + stride)))
  sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(scratch, 72), six(p + stride * 2)))
  sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(scratch, 76), six(p + stride * 3)))
  sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(scratch, 80), six(p + stride * 4)))
  return f32x4.add(sum, f32x4.mul(v128.load32_splat(scratch, 84), six(p + stride * 5)))
}

// @ts-ignore: decorator
@inline
function six(p: usize): v128 {
  let sum = f32x4.mul(v128.load32_splat(scratch), v128.load(p))
  sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(scratch, 4), v128.load(p, 16)))
  sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(scratch, 8), v128.load(p, 32)))
  sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(scratch, 12), v128.load(p, 48)))
  sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(scratch, 16), v128.load(p, 64)))
  return f32x4.add(sum, f32x4.mul(v128.load32_splat(scratch, 20), v128.load(p, 80)))
}

// @ts-ignore: decorator
@inline
function four(p: usize, w0: v128, w1: v128, w2: v128, w3: v128): v128 {
  let sum = f32x4.mul(w0, v128.load(p))
  sum = f32x4.add(sum, f32x4.mul(w1, v128.load(p, 16)))
  sum = f32x4.add(sum, f32x4.mul(w2, v128.load(p, 32)))
  return f32x4.add(sum, f32x4.mul(w3, v128.load(p, 48)))
}

/**
 * Taps from (x0, y0) by the weights in scratch; those outside the buffer are 0. The sums are those of the inner path, term
 * by term, so a buffer with zeros around it gives the same bits as one without.
 */
function atEdge(x0: i32, y0: i32, source: usize, width: i32, height: i32, taps: i32): v128 {
  let sum = f32x4.splat(0)
  for (let j = 0; j < taps; j++) {
    const y = y0 + j
    let row = f32x4.splat(0)
    for (let i = 0; i < taps; i++) {
      const x = x0 + i
      const inside = x >= 0 && x < width && y >= 0 && y < height
      const tap = inside ? v128.load(source + ((<usize>y * <usize>width + <usize>x) << 4)) : f32x4.splat(0)
      const weighed = f32x4.mul(v128.load32_splat(scratch + (<usize>i << 2)), tap)
      row = i === 0 ? weighed : f32x4.add(row, weighed)
    }
    const weighed = f32x4.mul(v128.load32_splat(scratch + 64 + (<usize>j << 2)), row)
    sum = j === 0 ? weighed : f32x4.add(sum, weighed)
  }
  return sum
}

// @ts-ignore: decorator
@inline
export function pair(x: f64, y: f64): v128 {
  return f64x2.replace_lane(f64x2.splat(x), 1, y)
}

/** Places are rounded to this many parts of a pixel, so that they are the same whatever buffer the source lies in. */
const PARTS: f64 = 16777216

// @ts-ignore: decorator
@inline
export function inParts(place: v128): v128 {
  return f64x2.mul(f64x2.nearest(f64x2.mul(place, f64x2.splat(PARTS))), f64x2.splat(1 / PARTS))
}

/** Weights of both signs leave no negative coverage, nor light that would be taken away there. */
// @ts-ignore: decorator
@inline
export function covered(pixel: v128): v128 {
  return f32x4.extract_lane(pixel, 3) < 0 ? f32x4.pmax(f32x4.splat(0), pixel) : pixel
}

/** Column sums of a shifted row: what is outside the buffer is 0, so that they are the same whatever buffer the source lies in. */
// @ts-ignore: decorator
@inline
function columnSum(x: i32, y: i32, wy: v128, source: usize, width: i32, height: i32, within: bool): v128 {
  if (x < 0 || x >= width) return f32x4.splat(0)
  const w0 = v128.shuffle<f32>(wy, wy, 0, 0, 0, 0)
  const w1 = v128.shuffle<f32>(wy, wy, 1, 1, 1, 1)
  const w2 = v128.shuffle<f32>(wy, wy, 2, 2, 2, 2)
  const w3 = v128.shuffle<f32>(wy, wy, 3, 3, 3, 3)
  const stride = <usize>width << 4
  const p = source + <usize>(y * width + x) * 16
  if (within) {
    let sum = f32x4.add(f32x4.mul(w0, v128.load(p)), f32x4.mul(w1, v128.load(p + stride)))
    sum = f32x4.add(sum, f32x4.mul(w2, v128.load(p + stride * 2)))
    return f32x4.add(sum, f32x4.mul(w3, v128.load(p + stride * 3)))
  }
  const none = f32x4.splat(0)
  const t0 = y >= 0 && y < height ? v128.load(p) : none
  const t1 = y + 1 >= 0 && y + 1 < height ? v128.load(p + stride) : none
  const t2 = y + 2 >= 0 && y + 2 < height ? v128.load(p + stride * 2) : none
  const t3 = y + 3 >= 0 && y + 3 < height ? v128.load(p + stride * 3) : none
  let sum = f32x4.add(f32x4.mul(w0, t0), f32x4.mul(w1, t1))
  sum = f32x4.add(sum, f32x4.mul(w2, t2))
  return f32x4.add(sum, f32x4.mul(w3, t3))
}

/**
 * A row shifted by a part of a pixel, Catmull-Rom: all its pixels have the same weights, and each column is summed once for
 * the four pixels that it counts for.
 *
 * @param place of the first pixel in the source, `origin` that of the buffer's first
 */
export function shiftedRow(
  to: usize,
  count: i32,
  placeX: f64,
  placeY: f64,
  left: f64,
  top: f64,
  source: usize,
  width: i32,
  height: i32,
): void {
  const fx = Math.floor(placeX)
  const fy = Math.floor(placeY)
  const wx = catmullRom(f32x4.splat(<f32>(placeX - fx)))
  const wy = catmullRom(f32x4.splat(<f32>(placeY - fy)))
  const x0 = <i32>Math.min(1e8, Math.max(-1e8, fx - left)) - 1
  const y = <i32>Math.min(1e8, Math.max(-1e8, fy - top)) - 1
  if (y + 3 < 0 || y >= height || x0 + count + 3 < 0 || x0 >= width) {
    memory.fill(to, 0, <usize>count << 4)
    return
  }
  const within = y >= 0 && y + 3 < height
  const w0 = v128.shuffle<f32>(wx, wx, 0, 0, 0, 0)
  const w1 = v128.shuffle<f32>(wx, wx, 1, 1, 1, 1)
  const w2 = v128.shuffle<f32>(wx, wx, 2, 2, 2, 2)
  const w3 = v128.shuffle<f32>(wx, wx, 3, 3, 3, 3)
  let c0 = columnSum(x0, y, wy, source, width, height, within)
  let c1 = columnSum(x0 + 1, y, wy, source, width, height, within)
  let c2 = columnSum(x0 + 2, y, wy, source, width, height, within)
  for (let k = 0; k < count; k++) {
    const c3 = columnSum(x0 + k + 3, y, wy, source, width, height, within)
    let sum = f32x4.add(f32x4.mul(w0, c0), f32x4.mul(w1, c1))
    sum = f32x4.add(sum, f32x4.mul(w2, c2))
    sum = f32x4.add(sum, f32x4.mul(w3, c3))
    v128.store(to + (<usize>k << 4), covered(oneNaN(sum)))
    c0 = c1
    c1 = c2
    c2 = c3
  }
}
