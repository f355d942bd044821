/** A picture filled from another one, whose light is brought to it. */

import { PLANE, oneNaN } from './lanes'

/** Less of the border than this is too little to go by. */
const LEAST: f32 = 1e-6
/** From so much on the nearer border alone counts. */
const ENOUGH: f32 = 1e-3

// @ts-ignore: decorator
@inline
function meanOf(at: usize, weight: v128, known: v128): v128 {
  return v128.and(f32x4.div(v128.load(at), weight), known)
}

/**
 * The filling where it covers anything, else what is there.
 *
 * @param taken strip of the filling @param near strip of what differs along the border, times how much of the border there is, spread
 *   inwards: light, and how much in alpha @param wide the same, spread farther @param border how much of it counts
 */
export function patchRow(strip: usize, count: i32, taken: usize, near: usize, wide: usize, border: f32): void {
  const zero = f32x4.splat(0)
  const one = f32x4.splat(1)
  const least = f32x4.splat(LEAST)
  const amount = f32x4.splat(border)
  for (let n = 0; n < count; n += 4) {
    const o = <usize>n << 2
    const p = strip + o
    const a = v128.load(taken + o + 3 * PLANE)
    const some = f32x4.gt(a, zero)
    const nearWeight = v128.load(near + o + 3 * PLANE)
    const wideWeight = v128.load(wide + o + 3 * PLANE)
    const nearKnown = f32x4.gt(nearWeight, least)
    const wideKnown = f32x4.gt(wideWeight, least)
    const share = v128.bitselect(f32x4.min(one, f32x4.mul(nearWeight, f32x4.splat(1 / ENOUGH))), zero, nearKnown)
    const byNear = v128.bitselect(share, one, wideKnown)
    for (let c: usize = 0; c < 3; c++) {
      const far = meanOf(wide + o + c * PLANE, wideWeight, wideKnown)
      const close = meanOf(near + o + c * PLANE, nearWeight, nearKnown)
      const differs = f32x4.add(far, f32x4.mul(byNear, f32x4.sub(close, far)))
      const filled = f32x4.add(v128.load(taken + o + c * PLANE), f32x4.mul(f32x4.mul(amount, a), differs))
      v128.store(p + c * PLANE, oneNaN(v128.bitselect(filled, v128.load(p + c * PLANE), some)))
    }
    v128.store(p + 3 * PLANE, oneNaN(v128.bitselect(a, v128.load(p + 3 * PLANE), some)))
  }
}
