/** Planes of whole numbers of 16 bits, eight at a time: for what is softened and only asked whether it is near to 0 or to 1. */

/**
 * What stands for 1: from -0.5 to 1.5 sums of two still fit. What, added to a float of such a size, makes its last bits the nearest
 * whole number. One over the first. In memory: see `number` in key-backing.ts.
 */
const numbers = memory.data<f32>([8192, 12582912, 0.0001220703125])

/** @param v from -3 to 3 @returns whole numbers of 32 bits */
// @ts-ignore: decorator
@inline
export function asShorts(v: v128): v128 {
  const bits = f32x4.add(f32x4.mul(v, v128.load32_splat(numbers)), v128.load32_splat(numbers, 4))
  return i32x4.sub(bits, v128.load32_splat(numbers, 4))
}

/** Four of them as floats. */
// @ts-ignore: decorator
@inline
export function shortsAt(from: usize): v128 {
  return f32x4.mul(f32x4.convert_i32x4_s(v128.load16x4_s(from)), v128.load32_splat(numbers, 8))
}

/** The same of a whole row. */
export function fromShorts(to: usize, from: usize, count: i32): void {
  for (let n: usize = 0, end = <usize>count << 2; n < end; n += 16) v128.store(to + n, shortsAt(from + (n >> 1)))
}

/**
 * A weighted sum: `to[i] = sum over t of w[t] x[i + t]`, where neighbours lie `stride` bytes apart: 2 along a row.
 *
 * @param from address of what is under the first tap of the first sum
 * @param count a multiple of 8
 * @param weights whole numbers of 16 bits; 32768 would be 1
 */
export function sumShorts(to: usize, from: usize, count: i32, stride: usize, weights: usize, taps: i32): void {
  let p = from
  let t = to
  const last = to + (<usize>count << 1)
  const end = weights + (<usize>taps << 1)
  while (t + 32 <= last) {
    let q = p
    let s0 = i16x8.splat(0)
    let s1 = i16x8.splat(0)
    for (let w = weights; w < end; w += 2, q += stride) {
      const weight = v128.load16_splat(w)
      s0 = i16x8.add(s0, i16x8.q15mulr_sat_s(v128.load(q), weight))
      s1 = i16x8.add(s1, i16x8.q15mulr_sat_s(v128.load(q, 16), weight))
    }
    v128.store(t, s0)
    v128.store(t, s1, 16)
    p += 32
    t += 32
  }
  if (t < last) {
    let sum = i16x8.splat(0)
    for (let w = weights; w < end; w += 2, p += stride)
      sum = i16x8.add(sum, i16x8.q15mulr_sat_s(v128.load(p), v128.load16_splat(w)))
    v128.store(t, sum)
  }
}

/**
 * Blocks of cells in which some, or the one before or after the block, is more than a limit.
 *
 * @param from address of the one before the first block
 * @param size cells of a block, a multiple of 8
 * @returns a bit for each block, the first the lowest
 */
export function blocksAbove(from: usize, blocks: i32, size: i32, limit: i32): i32 {
  const most = i16x8.splat(<i16>limit)
  let found = 0
  for (let b = 0, p = from; b < blocks; b++, p += <usize>size << 1) {
    const last = p + (<usize>(size - 6) << 1)
    let above = i16x8.gt_s(v128.load(last), most)
    for (let q = p; q < last; q += 16) above = v128.or(above, i16x8.gt_s(v128.load(q), most))
    if (v128.any_true(above)) found |= 1 << b
  }
  return found
}

/** Means of two by two: `count` of them, a multiple of 8, from two rows. */
export function meanShorts(to: usize, upper: usize, lower: usize, count: i32): void {
  for (let n: usize = 0, end = <usize>count << 1; n < end; n += 16) {
    const low = fourMeans(upper + 2 * n, lower + 2 * n)
    const high = fourMeans(upper + 2 * n + 16, lower + 2 * n + 16)
    v128.store(to + n, i16x8.narrow_i32x4_s(low, high))
  }
}

// @ts-ignore: decorator
@inline
function fourMeans(upper: usize, lower: usize): v128 {
  const sum = i32x4.add(
    i32x4.extadd_pairwise_i16x8_s(v128.load(upper)),
    i32x4.extadd_pairwise_i16x8_s(v128.load(lower)),
  )
  return i32x4.shr_s(i32x4.add(sum, i32x4.splat(2)), 2)
}

/**
 * Twice as many, evenly from the middle of one to that of the next.
 *
 * @param to room for `count` of them, up to a multiple of 16
 * @param from address of the one that holds the first two
 */
export function widenShorts(to: usize, from: usize, count: i32): void {
  for (let n: usize = 0, end = <usize>count; n < end; n += 16) {
    const own = v128.load(from + n)
    const before = i16x8.sub(v128.load(from + n - 2), own)
    const after = i16x8.sub(v128.load(from + n + 2), own)
    const left = i16x8.add(own, i16x8.shr_s(before, 2))
    const right = i16x8.add(own, i16x8.shr_s(after, 2))
    v128.store(to + 2 * n, i8x16.shuffle(left, right, 0, 1, 16, 17, 2, 3, 18, 19, 4, 5, 20, 21, 6, 7, 22, 23))
    v128.store(to + 2 * n, i8x16.shuffle(left, right, 8, 9, 24, 25, 10, 11, 26, 27, 12, 13, 28, 29, 14, 15, 30, 31), 16)
  }
}
