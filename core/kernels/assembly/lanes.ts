/**
 * Four floats at a time: the shorthand that every kernel uses.
 *
 * Pixels lie in one of two ways. A strip is a piece of a row, at most 512 pixels, as four planes (red, green, blue, alpha)
 * `PLANE` bytes apart: steps on single pixels run over strips, four pixels of one channel at a time. Packed pixels are RGBA
 * together, one pixel a vector: filters and resampling run over them.
 */

/** Bytes from one plane of a strip to the next: 512 floats, and some more so that planes do not share cache sets. */
export const PLANE: usize = 2112

/** Bytes of one RGBA float pixel. */
export const PIXEL: usize = 16

/** @returns the vector with every NaN made the one NaN that all machines share: all bits set */
// @ts-ignore: decorator
@inline
export function oneNaN(v: v128): v128 {
  return v128.or(v, f32x4.ne(v, v))
}

// @ts-ignore: decorator
@inline
export function absolute(v: v128): v128 {
  return v128.and(v, i32x4.splat(0x7fffffff))
}

/** @returns what lies a share of the way from the first to the second */
// @ts-ignore: decorator
@inline
export function between(a: v128, b: v128, share: v128): v128 {
  return f32x4.add(a, f32x4.mul(f32x4.sub(b, a), share))
}

/** @returns the magnitude of the first with the sign of the second */
// @ts-ignore: decorator
@inline
export function signedAs(magnitude: v128, sign: v128): v128 {
  return v128.bitselect(sign, magnitude, i32x4.splat(<i32>0x80000000))
}

/** An element may end before the strip behind it does: what lies beyond its last pixel must stay. */
// @ts-ignore: decorator
@inline
export function storeUpTo(p: usize, end: usize, v: v128): void {
  if (p + 16 <= end) v128.store(p, v)
  else {
    v128.store_lane<u32>(p, v, 0)
    if (p + 4 < end) v128.store_lane<u32>(p + 4, v, 1)
    if (p + 8 < end) v128.store_lane<u32>(p + 8, v, 2)
  }
}

/** Where this instance may keep a few numbers while a kernel runs. Each thread has its own: the memory is shared. */
export let scratch: usize = 0

/** @param address 32768 bytes that no other thread uses */
export function useScratch(address: usize): void {
  scratch = address
}

