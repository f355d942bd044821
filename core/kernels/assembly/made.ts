/** Pictures made from nothing: gradients and noise, by the place of a pixel in the frame. */

import { PLANE } from './lanes'

/**
 * A gradient along a line or round a middle.
 *
 * @param settings four doubles: start and end, in pixels
 * @param table premultiplied pixels, red, green, blue and alpha as floats, `size` steps and one more, from start to end
 */
export function gradientRow(
  strip: usize,
  count: i32,
  x: i32,
  y: i32,
  radial: i32,
  settings: usize,
  table: usize,
  size: i32,
): void {
  const x0 = f64.load(settings)
  const y0 = f64.load(settings, 8)
  const dx = f64.load(settings, 16) - x0
  const dy = f64.load(settings, 24) - y0
  const squared = dx * dx + dy * dy
  const over = squared > 0 ? 1 / squared : 0
  const overLength = squared > 0 ? 1 / Math.sqrt(squared) : 0
  const py = <f64>y + 0.5 - y0
  for (let i = 0; i < count; i++) {
    const px = <f64>(x + i) + 0.5 - x0
    const share = radial !== 0 ? Math.sqrt(px * px + py * py) * overLength : (px * dx + py * dy) * over
    const place = Math.min(1, Math.max(0, share)) * <f64>size
    const cell = min(<i32>place, size - 1)
    const rest = f32x4.splat(<f32>(place - <f64>cell))
    const at = table + (<usize>cell << 4)
    const low = v128.load(at)
    const pixel = f32x4.add(low, f32x4.mul(rest, f32x4.sub(v128.load(at, 16), low)))
    const p = strip + (<usize>i << 2)
    f32.store(p, f32x4.extract_lane(pixel, 0))
    f32.store(p, f32x4.extract_lane(pixel, 1), PLANE)
    f32.store(p, f32x4.extract_lane(pixel, 2), 2 * PLANE)
    f32.store(p, f32x4.extract_lane(pixel, 3), 3 * PLANE)
  }
}

/** 32 well mixed bits (a finaliser after Wellons' search of 2018, `lowbias32`). */
// @ts-ignore: decorator
@inline
function mixedBits(value: u32): u32 {
  let h = value
  h ^= h >> 16
  h *= 0x7feb352d
  h ^= h >> 15
  h *= 0x846ca68b
  h ^= h >> 16
  return h
}

// @ts-ignore: decorator
@inline
function hashed(x: i32, y: i32, z: i32, seed: u32): u32 {
  return mixedBits(mixedBits(mixedBits(<u32>x ^ seed) + <u32>y * 0x9e3779b9) + <u32>z * 0x85ebca6b)
}

/** One of twelve directions, to the middles of a cube's edges (Perlin 2002), times the way. */
// @ts-ignore: decorator
@inline
function slope(h: u32, x: f64, y: f64, z: f64): f64 {
  const which = h % 12
  const u = which < 8 ? x : y
  const v = which < 4 ? y : z
  return ((which & 1) === 0 ? u : -u) + ((which & 2) === 0 ? v : -v)
}

// @ts-ignore: decorator
@inline
function faded(t: f64): f64 {
  return t * t * t * (t * (t * 6 - 15) + 10)
}

function noiseAt(x: f64, y: f64, z: f64, seed: u32): f64 {
  const fx = Math.floor(x)
  const fy = Math.floor(y)
  const fz = Math.floor(z)
  const ix = <i32>fx
  const iy = <i32>fy
  const iz = <i32>fz
  const tx = x - fx
  const ty = y - fy
  const tz = z - fz
  const u = faded(tx)
  const v = faded(ty)
  const a0 = slope(hashed(ix, iy, iz, seed), tx, ty, tz)
  const b0 = slope(hashed(ix + 1, iy, iz, seed), tx - 1, ty, tz)
  const c0 = slope(hashed(ix, iy + 1, iz, seed), tx, ty - 1, tz)
  const d0 = slope(hashed(ix + 1, iy + 1, iz, seed), tx - 1, ty - 1, tz)
  const ab = a0 + u * (b0 - a0)
  const cd = c0 + u * (d0 - c0)
  const near = ab + v * (cd - ab)
  if (tz === 0) return near
  const a1 = slope(hashed(ix, iy, iz + 1, seed), tx, ty, tz - 1)
  const b1 = slope(hashed(ix + 1, iy, iz + 1, seed), tx - 1, ty, tz - 1)
  const c1 = slope(hashed(ix, iy + 1, iz + 1, seed), tx, ty - 1, tz - 1)
  const d1 = slope(hashed(ix + 1, iy + 1, iz + 1, seed), tx - 1, ty - 1, tz - 1)
  const ab1 = a1 + u * (b1 - a1)
  const cd1 = c1 + u * (d1 - c1)
  return near + faded(tz) * (ab1 + v * (cd1 - ab1) - near)
}

/**
 * Gradient noise (Perlin 2002) in layers, each half as large and half as strong, as a share from 0 to 1 of a pixel.
 *
 * @param settings doubles: drift across and down and width and height of the largest clouds in pixels, change, middle,
 *   contrast; then the pixel as four floats
 */
export function noiseRow(strip: usize, count: i32, x: i32, y: i32, octaves: i32, settings: usize, seed: i32): void {
  const driftX = f64.load(settings)
  const driftY = f64.load(settings, 8)
  const overX = 1 / f64.load(settings, 16)
  const overY = 1 / f64.load(settings, 24)
  const change = f64.load(settings, 32)
  const middle = f64.load(settings, 40)
  const contrast = f64.load(settings, 48)
  const red = f32.load(settings, 56)
  const green = f32.load(settings, 60)
  const blue = f32.load(settings, 64)
  const alpha = f32.load(settings, 68)
  for (let i = 0; i < count; i++) {
    let px = (<f64>(x + i) + 0.5 - driftX) * overX
    let py = (<f64>y + 0.5 - driftY) * overY
    let pz = change
    let sum: f64 = 0
    let weight: f64 = 1
    let total: f64 = 0
    for (let k = 0; k < octaves; k++) {
      sum += weight * noiseAt(px, py, pz, mixedBits(<u32>seed + <u32>k))
      total += weight
      weight *= 0.5
      px *= 2
      py *= 2
      pz *= 2
    }
    // Its deviation is about a quarter: twice that reaches most of the range.
    const value = 0.5 + sum / total
    const share = <f32>Math.min(1, Math.max(0, (value - middle) * contrast + 0.5))
    const p = strip + (<usize>i << 2)
    f32.store(p, red * share)
    f32.store(p, green * share, PLANE)
    f32.store(p, blue * share, 2 * PLANE)
    f32.store(p, alpha * share, 3 * PLANE)
  }
}
