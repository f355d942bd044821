/**
 * The W3C blend modes whose formulas mean display values: colours are held to 0..1 and encoded as sRGB, mixed, and decoded;
 * what the backdrop has beyond 0..1 is added back.
 */

import { blend, blendHsl, composedVector, emptyLanes, keepAndStore, straight, union } from './blends'
import { PLANE, scratch } from './lanes'
import { linearFromSrgb, srgbFromLinear } from './program'
import { ONE, constant } from './curves'

/** Planes of scratch: the encodings work in the first four; then a strip each of source and backdrop, then the excess. */
const SOURCE: usize = 4 * PLANE
const BACKDROP: usize = 8 * PLANE
const EXCESS: usize = 12 * PLANE

/** Modes from here on are the non-separable ones. */
const NON_SEPARABLE: i32 = 16

/** @param mode as `blend` numbers the separable ones; 16 hue, 17 saturation, 18 color, 19 luminosity */
export function blendEncoded(behind: usize, element: usize, count: i32, mode: i32): void {
  if (count <= 0) return
  const bytes = (<usize>(count + 7) >> 3) << 5
  const source = scratch + SOURCE
  const backdrop = scratch + BACKDROP
  const excess = scratch + EXCESS
  const zero = f32x4.splat(0)
  const one = constant(ONE)
  for (let at: usize = 0; at < bytes; at += 16) {
    const aF = v128.load(element + at + 3 * PLANE)
    const aB = v128.load(behind + at + 3 * PLANE)
    for (let c: usize = 0; c < 3; c++) {
      const f = straight(v128.load(element + at + c * PLANE), aF)
      const b = straight(v128.load(behind + at + c * PLANE), aB)
      const held = f32x4.pmin(one, f32x4.pmax(zero, b))
      v128.store(source + at + c * PLANE, f32x4.pmin(one, f32x4.pmax(zero, f)))
      v128.store(backdrop + at + c * PLANE, held)
      v128.store(excess + at + c * PLANE, f32x4.sub(b, held))
    }
    v128.store(source + at + 3 * PLANE, one)
    v128.store(backdrop + at + 3 * PLANE, one)
  }
  for (let c: usize = 0; c < 3; c++) {
    srgbFromLinear(source + c * PLANE, bytes)
    srgbFromLinear(backdrop + c * PLANE, bytes)
  }
  // Both cover wholly: what comes out is the mix alone.
  const whole = <i32>(bytes >> 2)
  if (mode < NON_SEPARABLE) blend(backdrop, source, whole, mode)
  else blendHsl(backdrop, source, whole, mode - NON_SEPARABLE)
  for (let c: usize = 0; c < 3; c++) linearFromSrgb(backdrop + c * PLANE, bytes)
  const end = behind + (<usize>count << 2)
  let at: usize = 0
  for (let p = behind; p < end; p += 16, at += 16) {
    const e = element + at
    const keep = emptyLanes(e)
    const aF = v128.load(e, 3 * PLANE)
    const aB = v128.load(p, 3 * PLANE)
    for (let c: usize = 0; c < 3; c++) {
      const mixed = f32x4.add(v128.load(backdrop + at + c * PLANE), v128.load(excess + at + c * PLANE))
      const f = v128.load(e + c * PLANE)
      const b = v128.load(p + c * PLANE)
      keepAndStore(p + c * PLANE, end + c * PLANE, keep, composedVector(f, b, mixed, aF, aB))
    }
    keepAndStore(p + 3 * PLANE, end + 3 * PLANE, keep, union(aF, aB))
  }
}
