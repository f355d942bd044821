/** Colour through tables, in place: one axis or a cube. Alpha stays. Runs of other colour steps are in program.ts. */

import { PLANE, oneNaN } from './lanes'

/**
 * A table of `size` entries for one channel (floats) over least..most, linear between entries, held level outside. It acts
 * on the colour as it stands; unpremultiply first where alpha matters.
 */
export function table1d(plane: usize, count: i32, table: usize, size: i32, least: f32, most: f32): void {
  const scale = <f32>(size - 1) / (most - least)
  const last = <f32>(size - 1)
  for (let i = 0; i < count; i++) {
    const p = plane + (<usize>i << 2)
    const at = position((load<f32>(p) - least) * scale, last)
    const cell = min(<i32>at, size - 2)
    const entry = table + (<usize>cell << 2)
    const low = load<f32>(entry)
    const out = low + (at - <f32>cell) * (load<f32>(entry, 4) - low)
    store<f32>(p, out)
    if (out !== out) store<u32>(p, 0xffffffff)
  }
}

/** Held to the table; NaN counts as its start. */
// @ts-ignore: decorator
@inline
function position(at: f32, last: f32): f32 {
  return at > 0 ? (at < last ? at : last) : 0
}

/**
 * A cube of `size`^3 RGBA entries (four floats each, red fastest) over least..most, tetrahedral between entries, held
 * level outside. It acts on the colour as it stands.
 */
export function table3d(strip: usize, count: i32, table: usize, size: i32, least: f32, most: f32): void {
  const scale = <f32>(size - 1) / (most - least)
  const last = <f32>(size - 1)
  const stepG = <usize>size << 4
  const stepB = <usize>(size * size) << 4
  for (let i = 0; i < count; i++) {
    const p = strip + (<usize>i << 2)
    const atR = position((load<f32>(p) - least) * scale, last)
    const atG = position((load<f32>(p, PLANE) - least) * scale, last)
    const atB = position((load<f32>(p, 2 * PLANE) - least) * scale, last)
    const cellR = min(<i32>atR, size - 2)
    const cellG = min(<i32>atG, size - 2)
    const cellB = min(<i32>atB, size - 2)
    const r = atR - <f32>cellR
    const g = atG - <f32>cellG
    const b = atB - <f32>cellB
    const origin = table + (<usize>cellR << 4) + <usize>cellG * stepG + <usize>cellB * stepB
    // The walk from the cell's low corner to its high one goes along the largest share first.
    let first: usize, second: usize
    let most1: f32, middle: f32, least1: f32
    if (r >= g) {
      if (g >= b) {
        first = 16; second = 16 + stepG; most1 = r; middle = g; least1 = b
      } else if (r >= b) {
        first = 16; second = 16 + stepB; most1 = r; middle = b; least1 = g
      } else {
        first = stepB; second = 16 + stepB; most1 = b; middle = r; least1 = g
      }
    } else if (b >= g) {
      first = stepB; second = stepB + stepG; most1 = b; middle = g; least1 = r
    } else if (b >= r) {
      first = stepG; second = stepB + stepG; most1 = g; middle = b; least1 = r
    } else {
      first = stepG; second = 16 + stepG; most1 = g; middle = r; least1 = b
    }
    let out = f32x4.mul(f32x4.splat(1 - most1), v128.load(origin))
    out = f32x4.add(out, f32x4.mul(f32x4.splat(most1 - middle), v128.load(origin + first)))
    out = f32x4.add(out, f32x4.mul(f32x4.splat(middle - least1), v128.load(origin + second)))
    out = oneNaN(f32x4.add(out, f32x4.mul(f32x4.splat(least1), v128.load(origin + 16 + stepG + stepB))))
    v128.store_lane<u32>(p, out, 0)
    v128.store_lane<u32>(p + PLANE, out, 1)
    v128.store_lane<u32>(p + 2 * PLANE, out, 2)
  }
}
