/** Points of a picture that can be followed well, spread over all of it. */

import { noiseLevel } from '../measure/noise-level'
import type { Spot } from './aligned-patch'
import type { Plane } from './spline'

/** Places are looked at every so many pixels. */
const step = 4
/** A point must be told to so much from one frame to the next, in pixels, both ways. */
const mostError = 0.15

/**
 * The smaller eigenvalue of the slopes' products over the pattern says how well it is told in its worse direction (Shi and Tomasi,
 * "Good features to track", 1994). The picture is cut into about as many cells as points are wanted; the best of each comes first,
 * then the second of each: so no busy corner takes all of them.
 *
 * @param radius pixels of a pattern on either side of its point; patterns hardly overlap
 * @param margin pixels that stay free at the edges
 * @returns at most `wanted`; pixels' middles lie at whole numbers
 */
export function spreadPoints(plane: Plane, wanted: number, radius: number, margin: number): Spot[] {
  const { width, height } = plane
  const noise = noiseLevel(plane.values, { x: 0, y: 0, width, height })
  const sums = sumsOfSlopes(plane)
  // Differences of noise are no texture.
  const ofNoise = ((2 * radius + 1) ** 2 * noise * noise) / 2
  const least = (2 * noise * noise) / (mostError * mostError)
  const side = Math.sqrt((width * height) / wanted)
  const [across, down] = [Math.max(1, Math.round(width / side)), Math.max(1, Math.round(height / side))]
  const cells: { readonly at: Spot; readonly strength: number }[][] = Array.from({ length: across * down }, () => [])
  for (let y = margin; y < height - margin; y += step)
    for (let x = margin; x < width - margin; x += step) {
      const strength = sums.smaller(x, y, radius) - ofNoise
      if (!(strength > least) || !(strength > 0)) continue
      const cell = Math.floor((y * down) / height) * across + Math.floor((x * across) / width)
      cells[cell].push({ at: { x, y }, strength })
    }
  for (const cell of cells) cell.sort((a, b) => b.strength - a.strength)
  const taken: Spot[] = []
  const isFree = ({ x, y }: Spot) =>
    taken.every((one) => Math.max(Math.abs(one.x - x), Math.abs(one.y - y)) > 1.5 * radius)
  const next = cells.map(() => 0)
  for (let any = true; any && taken.length < wanted;) {
    any = false
    cells.forEach((cell, i) => {
      while (next[i] < cell.length && taken.length < wanted) {
        const { at } = cell[next[i]++]
        if (!isFree(at)) continue
        taken.push(at)
        any = true
        break
      }
    })
  }
  return taken
}

/** Running sums of the products of slopes, so that any pattern's are four numbers each. */
function sumsOfSlopes({ values, width, height }: Plane) {
  const stride = width + 1
  const [xx, xy, yy] = Array.from({ length: 3 }, () => new Float64Array(stride * (height + 1)))
  for (let y = 0; y < height; y++) {
    let [sxx, sxy, syy] = [0, 0, 0]
    for (let x = 0; x < width; x++) {
      const i = y * width + x
      const inside = x > 0 && y > 0 && x + 1 < width && y + 1 < height
      const gx = inside ? (values[i + 1] - values[i - 1]) / 2 : 0
      const gy = inside ? (values[i + width] - values[i - width]) / 2 : 0
      sxx += gx * gx
      sxy += gx * gy
      syy += gy * gy
      const at = (y + 1) * stride + x + 1
      xx[at] = xx[at - stride] + sxx
      xy[at] = xy[at - stride] + sxy
      yy[at] = yy[at - stride] + syy
    }
  }
  return {
    smaller(x: number, y: number, radius: number): number {
      const [left, top] = [Math.max(0, x - radius), Math.max(0, y - radius)]
      const [right, bottom] = [Math.min(width, x + radius + 1), Math.min(height, y + radius + 1)]
      const of = (sums: Float64Array) =>
        sums[bottom * stride + right] -
        sums[top * stride + right] -
        sums[bottom * stride + left] +
        sums[top * stride + left]
      const [a, b, c] = [of(xx), of(xy), of(yy)]
      return (a + c) / 2 - Math.hypot((a - c) / 2, b)
    },
  }
}
