/**
 * Weighted sums along rows and columns of RGBA pixels: what blurs, reductions and enlargements are made of.
 *
 * Every sum runs over its taps in one order that depends on the pixel's place only, so any tiling gives the same bits.
 * NaN and infinity reach every pixel that has them under a tap, those of weight 0 left out.
 */

import { PIXEL, oneNaN } from './lanes'

/**
 * Symmetric filter along a row: `to[i] = w0 x[i] + sum over k of wk (x[i - k] + x[i + k])`, k from 1 to `radius`.
 *
 * @param from address of the pixel under the middle tap of the first output
 * @param weights `radius + 1` floats, the middle one first
 */
export function filterRow(to: usize, from: usize, count: i32, weights: usize, radius: i32): void {
  filterColumn(to, from, count, PIXEL, weights, radius)
}

/** The same down columns: the taps of a pixel lie `stride` bytes apart. */
export function filterColumn(to: usize, from: usize, count: i32, stride: usize, weights: usize, radius: i32): void {
  const middle = v128.load32_splat(weights)
  let i = 0
  for (; i + 4 <= count; i += 4) {
    const p = from + ((<usize>i) << 4)
    let s0 = f32x4.mul(middle, v128.load(p))
    let s1 = f32x4.mul(middle, v128.load(p, 16))
    let s2 = f32x4.mul(middle, v128.load(p, 32))
    let s3 = f32x4.mul(middle, v128.load(p, 48))
    let before = p - stride
    let after = p + stride
    for (
      let w = weights + 4, end = weights + ((<usize>radius) << 2);
      w <= end;
      w += 4, before -= stride, after += stride
    ) {
      const weight = v128.load32_splat(w)
      s0 = f32x4.add(s0, f32x4.mul(weight, f32x4.add(v128.load(before), v128.load(after))))
      s1 = f32x4.add(s1, f32x4.mul(weight, f32x4.add(v128.load(before, 16), v128.load(after, 16))))
      s2 = f32x4.add(s2, f32x4.mul(weight, f32x4.add(v128.load(before, 32), v128.load(after, 32))))
      s3 = f32x4.add(s3, f32x4.mul(weight, f32x4.add(v128.load(before, 48), v128.load(after, 48))))
    }
    const t = to + ((<usize>i) << 4)
    v128.store(t, oneNaN(s0))
    v128.store(t, oneNaN(s1), 16)
    v128.store(t, oneNaN(s2), 32)
    v128.store(t, oneNaN(s3), 48)
  }
  for (; i < count; i++) {
    const p = from + ((<usize>i) << 4)
    let sum = f32x4.mul(middle, v128.load(p))
    for (let k = 1; k <= radius; k++) {
      const d = <usize>k * stride
      const pair = f32x4.add(v128.load(p - d), v128.load(p + d))
      sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(weights + ((<usize>k) << 2)), pair))
    }
    v128.store(to + ((<usize>i) << 4), oneNaN(sum))
  }
}

/** Fewer pixels: `to[i] = sum over t of w[t] x[i step + t]`; `from` is the pixel under the first tap of the first output. */
export function reduceRow(to: usize, from: usize, count: i32, step: i32, weights: usize, taps: i32): void {
  const stride = (<usize>step) << 4
  let i = 0
  for (; i + 4 <= count; i += 4) {
    const p = from + <usize>i * stride
    let s0 = f32x4.splat(0)
    let s1 = f32x4.splat(0)
    let s2 = f32x4.splat(0)
    let s3 = f32x4.splat(0)
    let q = p
    for (let w = weights, end = weights + ((<usize>taps) << 2); w < end; w += 4, q += PIXEL) {
      const weight = v128.load32_splat(w)
      s0 = f32x4.add(s0, f32x4.mul(weight, v128.load(q)))
      s1 = f32x4.add(s1, f32x4.mul(weight, v128.load(q + stride)))
      s2 = f32x4.add(s2, f32x4.mul(weight, v128.load(q + stride * 2)))
      s3 = f32x4.add(s3, f32x4.mul(weight, v128.load(q + stride * 3)))
    }
    const t = to + ((<usize>i) << 4)
    v128.store(t, oneNaN(s0))
    v128.store(t, oneNaN(s1), 16)
    v128.store(t, oneNaN(s2), 32)
    v128.store(t, oneNaN(s3), 48)
  }
  for (; i < count; i++) {
    let sum = f32x4.splat(0)
    let q = from + <usize>i * stride
    for (let w = weights, end = weights + ((<usize>taps) << 2); w < end; w += 4, q += PIXEL)
      sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(w), v128.load(q)))
    v128.store(to + ((<usize>i) << 4), oneNaN(sum))
  }
}

/** A weighted sum of rows that lie `stride` bytes apart: `to[i] = sum over t of w[t] row t[i]`. */
export function sumRows(to: usize, from: usize, count: i32, stride: usize, weights: usize, taps: i32): void {
  let i = 0
  for (; i + 4 <= count; i += 4) {
    let p = from + ((<usize>i) << 4)
    let s0 = f32x4.splat(0)
    let s1 = f32x4.splat(0)
    let s2 = f32x4.splat(0)
    let s3 = f32x4.splat(0)
    for (let w = weights, end = weights + ((<usize>taps) << 2); w < end; w += 4, p += stride) {
      const weight = v128.load32_splat(w)
      s0 = f32x4.add(s0, f32x4.mul(weight, v128.load(p)))
      s1 = f32x4.add(s1, f32x4.mul(weight, v128.load(p, 16)))
      s2 = f32x4.add(s2, f32x4.mul(weight, v128.load(p, 32)))
      s3 = f32x4.add(s3, f32x4.mul(weight, v128.load(p, 48)))
    }
    const t = to + ((<usize>i) << 4)
    v128.store(t, oneNaN(s0))
    v128.store(t, oneNaN(s1), 16)
    v128.store(t, oneNaN(s2), 32)
    v128.store(t, oneNaN(s3), 48)
  }
  for (; i < count; i++) {
    let p = from + ((<usize>i) << 4)
    let sum = f32x4.splat(0)
    for (let w = weights, end = weights + ((<usize>taps) << 2); w < end; w += 4, p += stride)
      sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(w), v128.load(p)))
    v128.store(to + ((<usize>i) << 4), oneNaN(sum))
  }
}

/**
 * More pixels: output i has phase `(phase + i) % step`, and its taps start at pixel `(phase + i) / step` of `from`.
 *
 * @param weights `step` runs of `taps` floats, one a phase
 */
export function enlargeRow(
  to: usize,
  from: usize,
  count: i32,
  step: i32,
  phase: i32,
  weights: usize,
  taps: i32,
): void {
  let i = 0
  // Up to the first whole block, and after the last: one by one.
  const first = min(count, (step - (phase % step)) % step)
  for (; i < first; i++) enlargeOne(to, from, i, step, phase, weights, taps)
  const stride = <usize>step << 4
  // Four blocks at once: pixels of one phase share their weights.
  for (; i + 4 * step <= count; i += 4 * step) {
    const p = from + (<usize>((phase + i) / step) << 4)
    const t = to + (<usize>i << 4)
    let w = weights
    for (let j: usize = 0; j < <usize>step; j++) {
      let weight = v128.load32_splat(w)
      let s0 = f32x4.mul(weight, v128.load(p))
      let s1 = f32x4.mul(weight, v128.load(p, 16))
      let s2 = f32x4.mul(weight, v128.load(p, 32))
      let s3 = f32x4.mul(weight, v128.load(p, 48))
      let q = p
      for (let k = 1; k < taps; k++) {
        q += PIXEL
        w += 4
        weight = v128.load32_splat(w)
        s0 = f32x4.add(s0, f32x4.mul(weight, v128.load(q)))
        s1 = f32x4.add(s1, f32x4.mul(weight, v128.load(q, 16)))
        s2 = f32x4.add(s2, f32x4.mul(weight, v128.load(q, 32)))
        s3 = f32x4.add(s3, f32x4.mul(weight, v128.load(q, 48)))
      }
      w += 4
      const r = t + (j << 4)
      v128.store(r, oneNaN(s0))
      v128.store(r + stride, oneNaN(s1))
      v128.store(r + 2 * stride, oneNaN(s2))
      v128.store(r + 3 * stride, oneNaN(s3))
    }
  }
  for (; i < count; i++) enlargeOne(to, from, i, step, phase, weights, taps)
}

function enlargeOne(to: usize, from: usize, i: i32, step: i32, phase: i32, weights: usize, taps: i32): void {
  const place = phase + i
  let w = weights + (<usize>((place % step) * taps) << 2)
  let q = from + (<usize>(place / step) << 4)
  let sum = f32x4.mul(v128.load32_splat(w), v128.load(q))
  for (let k = 1; k < taps; k++) {
    q += PIXEL
    w += 4
    sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(w), v128.load(q)))
  }
  v128.store(to + (<usize>i << 4), oneNaN(sum))
}
