/** Places of a picture that hold one strong, straight edge, by which its sharpness can be measured. */

import { cutWindow } from '../image/cut'
import type { Window } from '../image/window'
import { edgeSpread, planeOf, type EdgeOf, type EdgeSpread } from '../measure/edge-spread'

export interface StrongEdge extends Window {
  readonly edge: EdgeSpread
}

export interface StrongEdgesOptions {
  readonly side: number
  readonly most: number
  readonly of: EdgeOf
  /** places that hold light from here on are left out */
  readonly below?: number
}

/** So many of the strongest are measured. */
const measured = 60
/** An edge is straight where gradients of one direction make up so much of them. */
const leastStraight = 0.8
/** Neither side of an edge makes up less of its place. */
const leastShare = 0.25
/** Of the height of an edge: what its ups and downs may add up to. */
const mostWays = 1.3
/** As the lower quarter, times this. */
const aboutAsSharp = 1.2
/** What is less sure is not worth comparing. */
const mostError = 0.12

/**
 * The strongest by contrast are measured. An edge may be soft by itself, but none is sharper than the picture lets it be: those
 * that are about as sharp as the sharper ones are given, the surest first.
 *
 * @param light premultiplied RGBA of the window
 */
export function strongEdges(
  light: Float32Array,
  window: Window,
  { side, most, of, below = Infinity }: StrongEdgesOptions,
): StrongEdge[] {
  const { x: left, y: top, width, height } = window
  const plane = planeOf(light, of)
  const candidates: { readonly x: number; readonly y: number; readonly strength: number }[] = []
  for (let y = 0; y + side <= height; y += side >> 1)
    for (let x = 0; x + side <= width; x += side >> 1) {
      const place = { x, y, width: side, height: side }
      const strength = strengthOf(plane, width, place, below)
      if (strength > 0) candidates.push({ x, y, strength })
    }
  candidates.sort((a, b) => b.strength - a.strength)
  const found: StrongEdge[] = []
  for (const { x, y } of candidates.slice(0, measured)) {
    const place = { x: left + x, y: top + y, width: side, height: side }
    const edge = edgeSpread(cutWindow(light, window, place), place, of)
    if (edge && edge.error <= mostError) found.push({ ...place, edge })
  }
  const sharper = found.map(({ edge }) => edge.sigma).sort((a, b) => a - b)[found.length >> 2]
  const sharp = found.filter(({ edge }) => edge.sigma <= aboutAsSharp * sharper)
  sharp.sort((a, b) => a.edge.error - b.edge.error)
  const kept: StrongEdge[] = []
  for (const one of sharp) {
    if (kept.length === most) break
    if (!kept.some((other) => Math.abs(other.x - one.x) < side && Math.abs(other.y - one.y) < side)) kept.push(one)
  }
  return kept
}

/** Energy of the gradients, where they have one direction and run through the middle; else nothing. */
function strengthOf(
  plane: Float64Array,
  width: number,
  { x: left, y: top, width: side }: Window,
  below: number,
): number {
  let [xx, xy, yy] = [0, 0, 0]
  let [sum, least, most] = [0, Infinity, -Infinity]
  for (let y = top + 1; y < top + side - 1; y++)
    for (let x = left + 1; x < left + side - 1; x++) {
      const i = y * width + x
      const value = plane[i]
      if (!(value < below)) return 0
      const gx = plane[i + 1] - plane[i - 1]
      const gy = plane[i + width] - plane[i - width]
      xx += gx * gx
      xy += gx * gy
      yy += gy * gy
      sum += value
      if (value < least) least = value
      if (value > most) most = value
    }
  const energy = xx + yy
  if (!(energy > 0) || !Number.isFinite(energy)) return 0
  const onOneSide = (sum / (side - 2) ** 2 - least) / (most - least)
  const straight = Math.hypot(xx - yy, 2 * xy) / energy
  if (straight < leastStraight || onOneSide < leastShare || onOneSide > 1 - leastShare) return 0
  const angle = 0.5 * Math.atan2(2 * xy, xx - yy)
  return isSingle(plane, width, { left, top, side }, angle) ? energy : 0
}

/** Along its normal a single edge rises once: its ups and downs add up to little more than its height. */
function isSingle(
  plane: Float64Array,
  width: number,
  { left, top, side }: { readonly left: number; readonly top: number; readonly side: number },
  angle: number,
): boolean {
  const [nx, ny] = [Math.cos(angle), Math.sin(angle)]
  const sums = new Float64Array(side)
  const counts = new Float64Array(side)
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      const bin = Math.round((x - (side - 1) / 2) * nx + (y - (side - 1) / 2) * ny + (side - 1) / 2)
      if (bin < 0 || bin >= side) continue
      sums[bin] += plane[(top + y) * width + left + x]
      counts[bin]++
    }
  const means = [...sums].flatMap((sum, bin) => (counts[bin] >= side / 2 ? [sum / counts[bin]] : []))
  const range = Math.max(...means) - Math.min(...means)
  const ways = means.slice(1).reduce((total, value, i) => total + Math.abs(value - means[i]), 0)
  return ways <= mostWays * range
}
