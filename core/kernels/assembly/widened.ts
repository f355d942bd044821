/** Where a picture shrinks: the filter is widened by the footprint of a pixel, Lanczos-3 or the mean of an area. */

import { PIXEL, oneNaN, scratch } from './lanes'
import { PI, covered, cosine, sine } from './sampling'

/** The number of the filter that means areas. */
export const AREA: i32 = 3

/** From source pixels to the filter's own, and how far it looks, of the pixel at hand. */
let toFilterXX: f64 = 0
let toFilterXY: f64 = 0
let toFilterYX: f64 = 0
let toFilterYY: f64 = 0
let reachX: f64 = 0
let reachY: f64 = 0
/** By how much a step of one source pixel across, or down, brings nearer the horizon, where it lies at 1; both 0: no perspective. */
let towardsX: f64 = 0
let towardsY: f64 = 0

/**
 * Sets up the filter for a step of one pixel across (a, c) and down (b, d). Directions in which nothing shrinks keep the
 * filter's own width: the singular values of the step are at least 1.
 *
 * @returns whether anything shrinks
 */
export function footprint(a: f64, b: f64, c: f64, d: f64): bool {
  towardsX = 0
  towardsY = 0
  const e = (a + d) * 0.5
  const f = (a - d) * 0.5
  const g = (c + b) * 0.5
  const h = (c - b) * 0.5
  const q = Math.sqrt(e * e + h * h)
  const r = Math.sqrt(f * f + g * g)
  const most = q + r
  // A part in a million of shrinking is none.
  if (!(most > 1.000001) || !(most < 1e6)) return false
  const least = Math.abs(q - r)
  if (least >= 1) {
    setFilter(a, b, c, d)
    return true
  }
  // J = U S V': with S' = max(S, 1), J' = J + (1 - least) u v', u and v those of the least singular value.
  const squaredA = a * a + c * c
  const squaredB = b * b + d * d
  const mixed = a * b + c * d
  // v of the greatest: the eigenvector of J'J.
  let vx = mixed
  let vy = most * most - squaredA
  if (Math.abs(vx) + Math.abs(vy) < 1e-12) {
    vx = most * most - squaredB
    vy = mixed
  }
  if (Math.abs(vx) + Math.abs(vy) < 1e-12) {
    vx = squaredA >= squaredB ? 1 : 0
    vy = squaredA >= squaredB ? 0 : 1
  }
  const length = Math.sqrt(vx * vx + vy * vy)
  vx /= length
  vy /= length
  // J v / most is u of the greatest; u of the least stands across it.
  const ux = (a * vx + b * vy) / most
  const uy = (c * vx + d * vy) / most
  const side: f64 = a * d - b * c < 0 ? -1 : 1
  const more = 1 - least
  setFilter(a + more * side * uy * vy, b - more * side * uy * vx, c - more * side * ux * vy, d + more * side * ux * vx)
  return true
}

/**
 * Near a horizon a step changes much within the filter's reach. From d in the source, with J the step of one pixel and g how fast the
 * perspective's third component grows per pixel (as a share of it), one comes to p = e / (1 - g e) in the picture, e = J^-1 d, exactly; and a
 * source pixel covers 1 / (1 - g e)^3 of what it covers at the middle.
 *
 * @param a as for the footprint, with b, c and d @param g across, h down
 */
export function inPerspective(a: f64, b: f64, c: f64, d: f64, g: f64, h: f64): void {
  const k = 1 / (a * d - b * c)
  if (!(Math.abs(k) < Infinity)) return
  towardsX = (g * d - h * c) * k
  towardsY = (h * a - g * b) * k
}

function setFilter(a: f64, b: f64, c: f64, d: f64): void {
  const k = 1 / (a * d - b * c)
  toFilterXX = d * k
  toFilterXY = -b * k
  toFilterYX = -c * k
  toFilterYY = a * k
  reachX = 3 * (Math.abs(a) + Math.abs(b))
  reachY = 3 * (Math.abs(c) + Math.abs(d))
}

/** sin(pi x) sin(pi x / 3) / (pi^2 x^2 / 3) between -3 and 3, else 0. */
function lanczosAt(x: f64): f64 {
  const z = Math.abs(x)
  if (z < 1e-7) return 1
  if (z >= 3) return 0
  // Both sines by the symmetry about their middle and, from a third of pi on, as a cosine.
  const near = z > 1.5 ? 3 - z : z
  const sineThird = near > 1 ? cosine(PI / 2 - (PI * near) / 3) : sine((PI * near) / 3)
  const integer = Math.floor(z)
  const share = z - integer
  const s = sine((PI * (share > 0.5 ? 1 - share : share)) / 3)
  const sinePi = s * (3 - 4 * s * s) * (((<i32>integer) & 1) === 0 ? 1 : -1)
  return (sinePi * sineThird * 3) / (PI * PI * z * z)
}

/** Entries for a pixel; a straight line between two is within 4e-6 of the filter. */
const LANCZOS_STEPS = 340
let lanczosTable: usize = 0

/** Writes the filter at `LANCZOS_STEPS` places a pixel; every thread writes the same. */
export function writeLanczos(to: usize): void {
  lanczosTable = to
  for (let i = 0; i <= 3 * LANCZOS_STEPS + 1; i++)
    f32.store(to + (<usize>i << 2), <f32>lanczosAt(<f64>i / LANCZOS_STEPS))
}

// @ts-ignore: decorator
@inline
function lanczosNear(x: f64): f64 {
  const place = Math.abs(x) * LANCZOS_STEPS
  if (place >= 3 * LANCZOS_STEPS) return 0
  const cell = <i32>place
  const at = lanczosTable + (<usize>cell << 2)
  const low = <f64>f32.load(at)
  return low + (place - <f64>cell) * (<f64>f32.load(at, 4) - low)
}

const MOST_TAPS = 1024

/** How much of a source pixel, `size` wide in the filter's own pixels, lies in the filter's pixel; over `size`. */
// @ts-ignore: decorator
@inline
function areaAt(x: f64, size: f64): f64 {
  return Math.min(Math.min(1, size), Math.max(0, 0.5 + size * 0.5 - Math.abs(x)))
}

/** The sum of the weights of the last slanted pixel. */
let slantedTotal: f64 = 0

/** Axes that do not stay axes: every tap has a weight of its own. Compiled once for areas and once for Lanczos-3. */
// @ts-ignore: decorator
@inline
function slanted(
  x: f64,
  y: f64,
  x0: i32,
  x1: i32,
  y0: i32,
  y1: i32,
  source: usize,
  width: i32,
  height: i32,
  area: bool,
  leaning: bool,
  sizeX: f64,
  sizeY: f64,
): v128 {
  let sum = f32x4.splat(0)
  let total: f64 = 0
  for (let py = y0; py <= y1; py++) {
    const dy = <f64>py - y
    for (let px = x0; px <= x1; px++) {
      const dx = <f64>px - x
      let across = toFilterXX * dx + toFilterXY * dy
      let down = toFilterYX * dx + toFilterYY * dy
      let covers: f64 = 1
      if (leaning) {
        const left = 1 - towardsX * dx - towardsY * dy
        // On the horizon and beyond it nothing is seen.
        if (!(left > 1e-6)) continue
        const over = 1 / left
        across *= over
        down *= over
        covers = over * over * over
      }
      const w =
        covers * (area ? areaAt(across, sizeX) * areaAt(down, sizeY) : lanczosNear(across) * lanczosNear(down))
      if (w === 0) continue
      total += w
      if (px < 0 || py < 0 || px >= width || py >= height) continue
      const tap = v128.load(source + ((<usize>py * <usize>width + <usize>px) << 4))
      sum = f32x4.add(sum, f32x4.mul(f32x4.splat(<f32>w), tap))
    }
  }
  slantedTotal = total
  return sum
}

/** Stores one pixel of the source at a place, by the footprint that was set up. */
export function sampleWide(to: usize, x: f64, y: f64, source: usize, width: i32, height: i32, filter: i32): void {
  const none = f32x4.splat(0)
  v128.store(to, none)
  const area = filter === AREA
  // The mean of an area looks half a pixel of the picture far, and half a one of the source.
  const farX = area ? reachX / 6 + 0.5 : reachX
  const farY = area ? reachY / 6 + 0.5 : reachY
  if (!(x > -farX && y > -farY && x < <f64>width - 1 + farX && y < <f64>height - 1 + farY)) return
  const sizeX = Math.abs(toFilterXX) + Math.abs(toFilterXY)
  const sizeY = Math.abs(toFilterYX) + Math.abs(toFilterYY)
  const x0 = <i32>Math.ceil(x - farX)
  const x1 = <i32>Math.floor(x + farX)
  const y0 = <i32>Math.ceil(y - farY)
  const y1 = <i32>Math.floor(y + farY)
  let sum = none
  let total: f64 = 0
  // Axes that stay axes have weights that are a product: those across are made once.
  const leaning = towardsX !== 0 || towardsY !== 0
  const straight = !leaning && toFilterXY === 0 && toFilterYX === 0 && x1 - x0 < MOST_TAPS
  if (straight) {
    let across: f64 = 0
    for (let px = x0; px <= x1; px++) {
      const place = (<f64>px - x) * toFilterXX
      const w = area ? areaAt(place, sizeX) : lanczosNear(place)
      across += w
      f32.store(scratch + (<usize>(px - x0) << 2), <f32>w)
    }
    const from = max(x0, 0)
    const last = min(x1, width - 1)
    for (let py = y0; py <= y1; py++) {
      const place = (<f64>py - y) * toFilterYY
      const down = area ? areaAt(place, sizeY) : lanczosNear(place)
      total += down * across
      if (py < 0 || py >= height) continue
      let row = none
      let p = source + ((<usize>py * <usize>width + <usize>from) << 4)
      for (let px = from; px <= last; px++) {
        row = f32x4.add(row, f32x4.mul(v128.load32_splat(scratch + (<usize>(px - x0) << 2)), v128.load(p)))
        p += PIXEL
      }
      sum = f32x4.add(sum, f32x4.mul(f32x4.splat(<f32>down), row))
    }
  } else {
    if (leaning)
      sum = area
        ? slanted(x, y, x0, x1, y0, y1, source, width, height, true, true, sizeX, sizeY)
        : slanted(x, y, x0, x1, y0, y1, source, width, height, false, true, sizeX, sizeY)
    else
      sum = area
        ? slanted(x, y, x0, x1, y0, y1, source, width, height, true, false, sizeX, sizeY)
        : slanted(x, y, x0, x1, y0, y1, source, width, height, false, false, sizeX, sizeY)
    total = slantedTotal
  }
  if (total > 0) v128.store(to, covered(oneNaN(f32x4.mul(sum, f32x4.splat(<f32>(1 / total))))))
}
