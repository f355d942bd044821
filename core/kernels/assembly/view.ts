/** Pixels as the eye sees them: exposure, one channel or all, an encoding, eight bits. */

import { PLANE, scratch } from './lanes'

/**
 * To opaque 8-bit RGBA through sRGB.
 *
 * @param table see core/kernels/srgb.ts: the code of each of 53248 runs of floats from 2^-13 to 1 that share their upper 21
 *   bits
 */
export function viewAll(to: usize, strip: usize, count: i32, exposure: f32, table: usize): void {
  if (count <= 0) return
  const bytes = <usize>count << 2
  // Scalar loads from memory cost less than taking lanes out of vectors.
  const held = scratch
  const codes = codesIn(table)
  for (let c: usize = 0; c < 3; c++) clamp(held + c * PLANE, strip + c * PLANE, bytes, exposure)
  let p = held
  let t = to
  const end = held + bytes
  do {
    const r = code(codes, i32.load(p))
    const g = code(codes, i32.load(p, PLANE))
    const b = code(codes, i32.load(p, 2 * PLANE))
    store<u32>(t, r | (g << 8) | (b << 16) | 0xff000000)
    p += 4
    t += 4
  } while (p < end)
}

/** Exposes, and clamps to what the table covers. */
function clamp(to: usize, plane: usize, bytes: usize, exposure: f32): void {
  const lowest = i32x4.splat(0x39000000)
  const highest = i32x4.splat(0x3f7fffff)
  const stops = f32x4.splat(exposure)
  const end = plane + bytes
  let p = plane
  let t = to
  do {
    v128.store(t, f32x4.pmin(highest, f32x4.pmax(lowest, f32x4.mul(v128.load(p), stops))))
    v128.store(t, f32x4.pmin(highest, f32x4.pmax(lowest, f32x4.mul(v128.load(p, 16), stops))), 16)
    p += 32
    t += 32
  } while (p < end)
}

/** Where the codes of runs would begin if there were one for every run of floats from 0 on. */
// @ts-ignore: decorator
@inline
function codesIn(table: usize): usize {
  return table - (0x39000000 >>> 11)
}

/** Code of a float between 2^-13 and 1 by its bits; floats above 0 are in the order of their bits. */
// @ts-ignore: decorator
@inline
function code(codes: usize, bits: i32): u32 {
  return <u32>load<u8>(codes + <usize>(bits >>> 11))
}

// @ts-ignore: decorator
@inline
function codeOf(scaled: f32, table: usize): u32 {
  const lowest = reinterpret<f32>(0x39000000)
  const x = scaled > lowest ? (scaled < 1 ? scaled : reinterpret<f32>(0x3f7fffff)) : lowest
  return code(codesIn(table), reinterpret<i32>(x))
}

/** One plane as a grey through sRGB. */
export function viewGrey(to: usize, plane: usize, count: i32, exposure: f32, table: usize): void {
  for (let i = 0; i < count; i++) {
    const grey = codeOf(load<f32>(plane + (<usize>i << 2)) * exposure, table)
    store<u32>(to + (<usize>i << 2), grey * 0x010101 | 0xff000000)
  }
}

/** One plane as a grey, as a plain share: what alpha is. */
export function viewShare(to: usize, plane: usize, count: i32): void {
  for (let i = 0; i < count; i++) {
    const v = load<f32>(plane + (<usize>i << 2))
    const grey = v > 0 ? <u32>nearest<f32>((v < 1 ? v : 1) * 255) : 0
    store<u32>(to + (<usize>i << 2), grey * 0x010101 | 0xff000000)
  }
}

/** Luma by the weights given, into a plane of its own. */
export function luma(to: usize, strip: usize, count: i32, r: f32, g: f32, b: f32): void {
  for (let i = 0; i < count; i++) {
    const p = strip + (<usize>i << 2)
    store<f32>(to + (<usize>i << 2), r * load<f32>(p) + g * load<f32>(p, PLANE) + b * load<f32>(p, 2 * PLANE))
  }
}

/** Code values 0..1 of three planes to opaque 8-bit RGBA, as they stand. */
export function viewCodes(to: usize, strip: usize, count: i32): void {
  for (let i = 0; i < count; i++) {
    const p = strip + (<usize>i << 2)
    const r = share(load<f32>(p))
    const g = share(load<f32>(p, PLANE))
    const b = share(load<f32>(p, 2 * PLANE))
    store<u32>(to + (<usize>i << 2), r | (g << 8) | (b << 16) | 0xff000000)
  }
}

// @ts-ignore: decorator
@inline
function share(v: f32): u32 {
  return v > 0 ? <u32>nearest<f32>((v < 1 ? v : 1) * 255) : 0
}

/**
 * Marks pixels over a view that was made: what is too bright for the screen by stripes that lean to the right, what is
 * negative by stripes that lean to the left, what is no finite number by a chequer. By shape, so that no hue is spent.
 */
export function markOdd(to: usize, strip: usize, count: i32, exposure: f32, x: i32, y: i32): void {
  for (let i = 0; i < count; i++) {
    const p = strip + (<usize>i << 2)
    const r = load<f32>(p)
    const g = load<f32>(p, PLANE)
    const b = load<f32>(p, 2 * PLANE)
    const sum = abs(r) + abs(g) + abs(b)
    const t = to + (<usize>i << 2)
    if (!(sum < Infinity)) store<u32>(t, (((x + i) ^ y) & 1) !== 0 ? 0xffffffff : 0xff000000)
    else if (min(r, min(g, b)) < -0.001) {
      if (((x + i + y) & 7) < 2) store<u32>(t, 0xffffffff)
      else if (((x + i + y) & 7) < 4) store<u32>(t, 0xff000000)
    } else if (max(r, max(g, b)) * exposure > 1) {
      if (((x + i - y) & 7) < 2) store<u32>(t, 0xff000000)
      else if (((x + i - y) & 7) < 4) store<u32>(t, 0xffffffff)
    }
  }
}
