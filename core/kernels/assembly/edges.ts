/** The edge of an element given other coverage and, where its own colour is not to be trusted, colour from further inside. */

import { PLANE, oneNaN } from './lanes'

/** Less coverage than this is none: its light is light of its own. */
const NONE: f32 = 1e-6

/**
 * @param covered strip of the coverage it gets, as a grey @param inner strip of coverage that is surely its own, likewise
 * @param fill strip of that coverage's light, spread outwards: premultiplied by what of it arrives
 */
export function edgeRow(strip: usize, count: i32, covered: usize, inner: usize, fill: usize): void {
  const none = f32x4.splat(NONE)
  const one = f32x4.splat(1)
  const zero = f32x4.splat(0)
  for (let n = 0; n < count; n += 4) {
    const o = <usize>n << 2
    const p = strip + o
    const a = v128.load(p + 3 * PLANE)
    const b = f32x4.max(zero, f32x4.min(one, v128.load(covered + o)))
    const some = f32x4.gt(a, none)
    const spread = v128.load(fill + o + 3 * PLANE)
    const filled = f32x4.gt(spread, f32x4.splat(1e-5))
    // What of a pixel's colour is its own: all where nothing arrives from further inside.
    const own = v128.bitselect(f32x4.min(one, f32x4.div(v128.load(inner + o), a)), zero, some)
    const share = v128.bitselect(own, one, filled)
    const kept = v128.and(f32x4.eq(share, one), some)
    // The same coverage with the same colour keeps its bits.
    const still = v128.and(kept, f32x4.eq(a, b))
    for (let c: usize = 0; c < 3; c++) {
      const light = v128.load(p + c * PLANE)
      const straight = v128.bitselect(f32x4.div(light, a), zero, some)
      const from = v128.bitselect(f32x4.div(v128.load(fill + o + c * PLANE), spread), straight, filled)
      const mixed = f32x4.add(from, f32x4.mul(share, f32x4.sub(straight, from)))
      const covering = f32x4.mul(b, v128.bitselect(straight, mixed, kept))
      // Light without coverage stays, and what grows over it is added.
      const next = v128.bitselect(covering, f32x4.add(light, covering), some)
      v128.store(p + c * PLANE, oneNaN(v128.bitselect(light, next, still)))
    }
    v128.store(p + 3 * PLANE, oneNaN(v128.bitselect(a, b, still)))
  }
}
