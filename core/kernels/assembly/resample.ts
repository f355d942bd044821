/**
 * Rows of pixels at places given by a mapping: offsets, then a matrix, and where a picture is bent its warp.
 */

import { PIXEL, oneNaN } from './lanes'
import { covered, inParts, pair, sample, shiftedRow, sine, cosine } from './sampling'
import { AREA, footprint, inPerspective, sampleWide } from './widened'

/**
 * A row of pixels from where a mapping leads: pixel i stands at (x + i + 0.5, y + 0.5), is moved by what `offsets` says,
 * and goes through the matrix. Behind the eye (third component not above 0) all is 0. Where a step of one pixel passes more
 * than one of the source, the filter is widened by the footprint: to areas where they are asked for, else Lanczos-3.
 *
 * @param offsets RGBA pixels, red across and green down, one for each output pixel; 0 for none
 * @param matrix nine doubles, row by row
 * @param left of the source buffer's first pixel, with `top`
 */
export function resample(
  to: usize,
  count: i32,
  x: i32,
  y: i32,
  offsets: usize,
  matrix: usize,
  source: usize,
  left: i32,
  top: i32,
  width: i32,
  height: i32,
  filter: i32,
): void {
  if (count <= 0) return
  // Areas are for what shrinks; elsewhere they are what is used mostly.
  const near = filter === AREA ? 1 : filter
  const a = f64.load(matrix)
  const b = f64.load(matrix, 8)
  const c = f64.load(matrix, 16)
  const d = f64.load(matrix, 24)
  const e = f64.load(matrix, 32)
  const f = f64.load(matrix, 40)
  const g = f64.load(matrix, 48)
  const h = f64.load(matrix, 56)
  const i = f64.load(matrix, 64)
  const origin = pair(<f64>left, <f64>top)
  const affine = g === 0 && h === 0 && i === 1
  if (affine && a === 1 && b === 0 && d === 0 && e === 1) {
    // Rounded before it is added to a whole number: so the places are the same wherever the row begins.
    const first = f64x2.add(pair(<f64>x, <f64>y), inParts(pair(c, f)))
    moved(to, count, first, offsets, origin, source, width, height, near)
    return
  }
  let wide = affine && footprint(a, b, d, e)
  for (let k = 0; k < count; k++) {
    let px = <f64>(x + k) + 0.5
    let py = <f64>y + 0.5
    if (offsets !== 0) {
      px += <f64>f32.load(offsets + (<usize>k << 4))
      py += <f64>f32.load(offsets + (<usize>k << 4), 4)
    }
    const w = g * px + h * py + i
    if (!(w > 0)) {
      v128.store(to + (<usize>k << 4), f32x4.splat(0))
      continue
    }
    const u = (a * px + b * py + c) / w
    const v = (d * px + e * py + f) / w
    if (!affine) {
      const across = (a - u * g) / w
      const slant = (b - u * h) / w
      const sag = (d - v * g) / w
      const down = (e - v * h) / w
      wide = footprint(across, slant, sag, down)
      if (wide) inPerspective(across, slant, sag, down, g / w, h / w)
    }
    const place = inParts(f64x2.sub(pair(u, v), f64x2.splat(0.5)))
    const at = to + (<usize>k << 4)
    if (wide) {
      const inBuffer = f64x2.sub(place, origin)
      const wx = f64x2.extract_lane(inBuffer, 0)
      sampleWide(at, wx, f64x2.extract_lane(inBuffer, 1), source, width, height, filter)
    } else v128.store(at, covered(sample(place, origin, source, width, height, near)))
  }
}

/** Nothing but a shift, and offsets. What is used most, Catmull-Rom through a field, is compiled on its own. */
function moved(
  to: usize,
  count: i32,
  first: v128,
  offsets: usize,
  origin: v128,
  source: usize,
  width: i32,
  height: i32,
  filter: i32,
): void {
  const x = f64x2.extract_lane(first, 0)
  const y = f64x2.extract_lane(first, 1)
  // On whole pixels bits are copied.
  const between = x !== Math.floor(x) || y !== Math.floor(y)
  if (filter === 1 && offsets === 0 && between && x - x === 0 && y - y === 0)
    shiftedRow(to, count, x, y, f64x2.extract_lane(origin, 0), f64x2.extract_lane(origin, 1), source, width, height)
  else if (filter === 1 && offsets !== 0) movedRow(to, count, first, offsets, true, origin, source, width, height, 1)
  else movedRow(to, count, first, offsets, offsets !== 0, origin, source, width, height, filter)
}

// @ts-ignore: decorator
@inline
function movedRow(
  to: usize,
  count: i32,
  first: v128,
  offsets: usize,
  withOffsets: bool,
  origin: v128,
  source: usize,
  width: i32,
  height: i32,
  filter: i32,
): void {
  let t = to
  let m = offsets
  let at = first
  const one = pair(1, 0)
  const end = to + (<usize>count << 4)
  do {
    let place = at
    if (withOffsets) {
      place = f64x2.add(place, f64x2.promote_low_f32x4(v128.load64_zero(m)))
      m += PIXEL
    }
    v128.store(t, covered(sample(place, origin, source, width, height, filter)))
    at = f64x2.add(at, one)
    t += PIXEL
  } while (t < end)
}

/** The place in the source of the last pixel that was led there. */
let placeX: f64 = 0
let placeY: f64 = 0

/**
 * Through the matrix, the warp and the matrix after it; see `Warp` in core/graph/steps.ts.
 *
 * @param leading 24 doubles: matrix, matrix after the warp, middle, half size, bow, twist
 * @returns whether it lies before the eye
 */
function leads(leading: usize, px: f64, py: f64): bool {
  const w = f64.load(leading, 48) * px + f64.load(leading, 56) * py + f64.load(leading, 64)
  if (!(w > 0)) return false
  let u = (f64.load(leading) * px + f64.load(leading, 8) * py + f64.load(leading, 16)) / w
  let v = (f64.load(leading, 24) * px + f64.load(leading, 32) * py + f64.load(leading, 40)) / w
  const cx = f64.load(leading, 144)
  const cy = f64.load(leading, 152)
  const hx = f64.load(leading, 160)
  const hy = f64.load(leading, 168)
  const bow = f64.load(leading, 176)
  const twist = f64.load(leading, 184)
  if (twist !== 0) {
    const dx = u - cx
    const dy = v - cy
    const size = Math.max(hx, hy)
    const away = 1 - (dx * dx + dy * dy) / (size * size)
    if (away > 0) {
      // An eighth of the angle lies where the sums below are exact; doubled three times.
      const eighth = (Math.abs(twist) * away * away) / 8
      let s = sine(eighth)
      let c = cosine(eighth)
      for (let i = 0; i < 3; i++) {
        const doubled = 2 * s * c
        c = 1 - 2 * s * s
        s = doubled
      }
      if (twist > 0) s = -s
      u = cx + c * dx - s * dy
      v = cy + s * dx + c * dy
    }
  }
  const share = (u - cx) / hx
  const inside = 1 - share * share
  if (inside > 0) v += bow * inside * inside
  const z = f64.load(leading, 120) * u + f64.load(leading, 128) * v + f64.load(leading, 136)
  if (!(z > 0)) return false
  placeX = (f64.load(leading, 72) * u + f64.load(leading, 80) * v + f64.load(leading, 88)) / z
  placeY = (f64.load(leading, 96) * u + f64.load(leading, 104) * v + f64.load(leading, 112)) / z
  return true
}

/** As `resample`, of a bent picture: the footprint is that of the steps to the pixels right and below. */
export function resampleBent(
  to: usize,
  count: i32,
  x: i32,
  y: i32,
  offsets: usize,
  leading: usize,
  source: usize,
  left: i32,
  top: i32,
  width: i32,
  height: i32,
  filter: i32,
): void {
  const near = filter === AREA ? 1 : filter
  const origin = pair(<f64>left, <f64>top)
  for (let k = 0; k < count; k++) {
    let px = <f64>(x + k) + 0.5
    let py = <f64>y + 0.5
    if (offsets !== 0) {
      px += <f64>f32.load(offsets + (<usize>k << 4))
      py += <f64>f32.load(offsets + (<usize>k << 4), 4)
    }
    const seen = leads(leading, px, py)
    const u = placeX
    const v = placeY
    const at = to + (<usize>k << 4)
    v128.store(at, f32x4.splat(0))
    if (seen && leads(leading, px + 1, py)) {
      const a = placeX - u
      const c = placeY - v
      if (leads(leading, px, py + 1)) {
        const wide = footprint(a, placeX - u, c, placeY - v)
        const place = inParts(f64x2.sub(pair(u, v), f64x2.splat(0.5)))
        if (wide) {
          const inBuffer = f64x2.sub(place, origin)
          const wx = f64x2.extract_lane(inBuffer, 0)
          sampleWide(at, wx, f64x2.extract_lane(inBuffer, 1), source, width, height, filter)
        } else v128.store(at, covered(sample(place, origin, source, width, height, near)))
      }
    }
  }
}

/** Adds packed pixels to others. */
export function addPacked(to: usize, from: usize, count: i32): void {
  for (let k: usize = 0, end = <usize>count << 4; k < end; k += PIXEL)
    v128.store(to + k, f32x4.add(v128.load(to + k), v128.load(from + k)))
}

/** Divides packed pixels by a number: the mean of as many that were added. */
export function dividePacked(to: usize, count: i32, by: f32): void {
  const divisor = f32x4.splat(by)
  for (let k: usize = 0, end = <usize>count << 4; k < end; k += PIXEL)
    v128.store(to + k, oneNaN(f32x4.div(v128.load(to + k), divisor)))
}
