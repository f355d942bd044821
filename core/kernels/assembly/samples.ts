/** Samples as files hold them to planes of strips and back, and strips to packed pixels and back. */

import { PLANE, storeUpTo } from './lanes'

/** Four halves, widened to 32 bits each, to floats: exact, NaN payloads kept (IEEE 754-2008 binary16). */
// @ts-ignore: decorator
@inline
function floatOfHalf(half: v128): v128 {
  const magnitude = i32x4.shl(v128.and(half, i32x4.splat(0x7fff)), 13)
  const exponent = v128.and(magnitude, i32x4.splat(0x0f800000))
  let out = i32x4.add(magnitude, i32x4.splat(112 << 23))
  out = i32x4.add(out, v128.and(i32x4.eq(exponent, i32x4.splat(0x0f800000)), i32x4.splat(112 << 23)))
  const tiny = f32x4.sub(i32x4.add(magnitude, i32x4.splat(113 << 23)), i32x4.splat(113 << 23))
  out = v128.bitselect(tiny, out, i32x4.eq(exponent, i32x4.splat(0)))
  return v128.or(out, i32x4.shl(v128.and(half, i32x4.splat(0x8000)), 16))
}

/** Four floats to halves in the lower 16 bits of each lane: to nearest, ties to even; NaN keeps its top payload bits. */
// @ts-ignore: decorator
@inline
function halfOfFloat(float: v128): v128 {
  const magnitude = v128.and(float, i32x4.splat(0x7fffffff))
  // normal halves: rounded in the integers
  const odd = v128.and(i32x4.shr_u(magnitude, 13), i32x4.splat(1))
  const rounded = i32x4.shr_u(i32x4.add(i32x4.add(magnitude, i32x4.splat(<i32>0xc8000fff)), odd), 13)
  // denormal halves: the addition of 1/2 puts the last half bit at the last float bit, and rounds as the standard says
  const tiny = i32x4.sub(f32x4.add(magnitude, f32x4.splat(0.5)), i32x4.splat(0x3f000000))
  let out = v128.bitselect(tiny, rounded, i32x4.lt_s(magnitude, i32x4.splat(0x38800000)))
  out = v128.bitselect(i32x4.splat(0x7c00), out, i32x4.ge_s(magnitude, i32x4.splat(0x477ff000)))
  const payload = v128.and(i32x4.shr_u(magnitude, 13), i32x4.splat(1023))
  const some = v128.bitselect(i32x4.splat(1), payload, i32x4.eq(payload, i32x4.splat(0)))
  out = v128.bitselect(v128.or(some, i32x4.splat(0x7c00)), out, i32x4.gt_s(magnitude, i32x4.splat(0x7f800000)))
  return v128.or(out, v128.and(i32x4.shr_u(float, 16), i32x4.splat(0x8000)))
}

/** `count` halves to floats. */
export function fromHalves(to: usize, from: usize, count: i32): void {
  let i = 0
  for (; i + 8 <= count; i += 8) {
    const p = from + (<usize>i << 1)
    const t = to + (<usize>i << 2)
    v128.store(t, floatOfHalf(v128.load16x4_u(p)))
    v128.store(t, floatOfHalf(v128.load16x4_u(p, 8)), 16)
  }
  for (; i < count; i++) {
    const half = i32x4.splat(<i32>load<u16>(from + (<usize>i << 1)))
    f32.store(to + (<usize>i << 2), f32x4.extract_lane(floatOfHalf(half), 0))
  }
}

/** `count` unsigned integers to the nearest floats. */
export function fromUints(to: usize, from: usize, count: i32): void {
  for (let i = 0; i < count; i++) f32.store(to + (<usize>i << 2), <f32>load<u32>(from + (<usize>i << 2)))
}

/** Finite floats that are larger than a half can be, held to the largest; infinities stay. */
// @ts-ignore: decorator
@inline
function heldToHalf(float: v128): v128 {
  const magnitude = v128.and(float, i32x4.splat(0x7fffffff))
  const beyond = v128.and(
    i32x4.gt_s(magnitude, i32x4.splat(0x477fe000)),
    i32x4.lt_s(magnitude, i32x4.splat(0x7f800000)),
  )
  const most = v128.or(v128.and(float, i32x4.splat(<i32>0x80000000)), i32x4.splat(0x477fe000))
  return v128.bitselect(most, float, beyond)
}

/** `count` floats to halves; what is too large, but finite, becomes the largest half (65504). */
export function toHalves(to: usize, from: usize, count: i32): void {
  let i = 0
  for (; i + 8 <= count; i += 8) {
    const p = from + (<usize>i << 2)
    const low = halfOfFloat(heldToHalf(v128.load(p)))
    const high = halfOfFloat(heldToHalf(v128.load(p, 16)))
    v128.store(to + (<usize>i << 1), i16x8.narrow_i32x4_u(low, high))
  }
  for (; i < count; i++) {
    const half = halfOfFloat(heldToHalf(v128.load32_splat(from + (<usize>i << 2))))
    store<u16>(to + (<usize>i << 1), <u16>i32x4.extract_lane(half, 0))
  }
}

/**
 * `count` samples of each of some planes, from sample `first` on, as floats to the planes of a strip.
 *
 * @param list of each plane its address, and 0 where it holds halves, 1 floats, 2 unsigned integers
 */
export function readPlanes(strip: usize, list: usize, planes: i32, first: usize, count: i32): void {
  for (let c = 0; c < planes; c++) {
    const from = <usize>load<u32>(list)
    const type = load<u32>(list, 4)
    if (type === 0) fromHalves(strip, from + (<usize>first << 1), count)
    else if (type === 1) copy(strip, from + (<usize>first << 2), <usize>count << 2)
    else fromUints(strip, from + (<usize>first << 2), count)
    list += 8
    strip += PLANE
  }
}

/** Sets `count` floats. */
export function fill(to: usize, value: f32, count: i32): void {
  for (let i = 0; i < count; i++) f32.store(to + (<usize>i << 2), value)
}

/**
 * Copies `bytes` bytes, a multiple of 4, to a place that does not reach into theirs. In a loop of its own: for pieces of a
 * strip's size the module's `memory.copy` took up to twice as long, as it leaves what it wrote out of the nearest cache.
 */
export function copy(to: usize, from: usize, bytes: usize): void {
  const end = to + bytes
  for (; to + 32 <= end; to += 32, from += 32) {
    v128.store(to, v128.load(from))
    v128.store(to, v128.load(from, 16), 16)
  }
  for (; to < end; to += 4, from += 4) i32.store(to, i32.load(from))
}

/** Clears `bytes` bytes, a multiple of 4. */
export function clear(to: usize, bytes: usize): void {
  const end = to + bytes
  const none = i32x4.splat(0)
  for (; to + 16 <= end; to += 16) v128.store(to, none)
  for (; to < end; to += 4) i32.store(to, 0)
}

/** Alpha of `count` pixels of a strip becomes the most of their red, green and blue; NaN counts where it is red. */
export function mostOfChannels(strip: usize, count: i32): void {
  const end = strip + (<usize>count << 2)
  for (let p = strip; p < end; p += 16) {
    const most = f32x4.pmax(f32x4.pmax(v128.load(p), v128.load(p, PLANE)), v128.load(p, 2 * PLANE))
    storeUpTo(p + 3 * PLANE, end + 3 * PLANE, most)
  }
}

/** Clears `count` pixels of a strip. */
export function clearStrip(strip: usize, count: i32): void {
  for (let c: usize = 0; c < 4; c++) clear(strip + c * PLANE, <usize>count << 2)
}

/** A strip to packed pixels. */
export function pack(to: usize, strip: usize, count: i32): void {
  let i = 0
  for (; i + 4 <= count; i += 4) {
    const p = strip + (<usize>i << 2)
    const t = to + (<usize>i << 4)
    const r = v128.load(p)
    const g = v128.load(p, PLANE)
    const b = v128.load(p, 2 * PLANE)
    const a = v128.load(p, 3 * PLANE)
    const rg01 = v128.shuffle<f32>(r, g, 0, 4, 1, 5)
    const rg23 = v128.shuffle<f32>(r, g, 2, 6, 3, 7)
    const ba01 = v128.shuffle<f32>(b, a, 0, 4, 1, 5)
    const ba23 = v128.shuffle<f32>(b, a, 2, 6, 3, 7)
    v128.store(t, v128.shuffle<f32>(rg01, ba01, 0, 1, 4, 5))
    v128.store(t, v128.shuffle<f32>(rg01, ba01, 2, 3, 6, 7), 16)
    v128.store(t, v128.shuffle<f32>(rg23, ba23, 0, 1, 4, 5), 32)
    v128.store(t, v128.shuffle<f32>(rg23, ba23, 2, 3, 6, 7), 48)
  }
  for (; i < count; i++) {
    const p = strip + (<usize>i << 2)
    const t = to + (<usize>i << 4)
    i32.store(t, i32.load(p))
    i32.store(t, i32.load(p, PLANE), 4)
    i32.store(t, i32.load(p, 2 * PLANE), 8)
    i32.store(t, i32.load(p, 3 * PLANE), 12)
  }
}

/** Packed pixels to a strip. */
export function unpack(strip: usize, from: usize, count: i32): void {
  let i = 0
  for (; i + 4 <= count; i += 4) {
    const p = from + (<usize>i << 4)
    const t = strip + (<usize>i << 2)
    const p0 = v128.load(p)
    const p1 = v128.load(p, 16)
    const p2 = v128.load(p, 32)
    const p3 = v128.load(p, 48)
    const rg01 = v128.shuffle<f32>(p0, p1, 0, 4, 1, 5)
    const rg23 = v128.shuffle<f32>(p2, p3, 0, 4, 1, 5)
    const ba01 = v128.shuffle<f32>(p0, p1, 2, 6, 3, 7)
    const ba23 = v128.shuffle<f32>(p2, p3, 2, 6, 3, 7)
    v128.store(t, v128.shuffle<f32>(rg01, rg23, 0, 1, 4, 5))
    v128.store(t, v128.shuffle<f32>(rg01, rg23, 2, 3, 6, 7), PLANE)
    v128.store(t, v128.shuffle<f32>(ba01, ba23, 0, 1, 4, 5), 2 * PLANE)
    v128.store(t, v128.shuffle<f32>(ba01, ba23, 2, 3, 6, 7), 3 * PLANE)
  }
  for (; i < count; i++) {
    const p = from + (<usize>i << 4)
    const t = strip + (<usize>i << 2)
    i32.store(t, i32.load(p))
    i32.store(t, i32.load(p, 4), PLANE)
    i32.store(t, i32.load(p, 8), 2 * PLANE)
    i32.store(t, i32.load(p, 12), 3 * PLANE)
  }
}
