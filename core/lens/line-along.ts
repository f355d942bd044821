/** A line drawn roughly along an edge, brought onto it: the way of steepest change near the stroke that turns least. */

import type { Spot } from '../motion/placing'
import type { Plane } from '../track/spline'
import { spaced } from './find-lines'
import type { Line } from './lens-from-lines'
import { slopesOfPicture, type Slopes } from '../track/slopes'

const { abs, floor, max, round, sqrt } = Math

const sigma = 1.6
/** How far from the stroke the edge is looked for, in pixels: a lens bows long lines more. */
const leastReach = 6
const shareOfLength = 0.05
/** A way that moves sideways by a pixel must be so much of an edge's usual strength better. */
const forMoving = 0.3
/** An edge is so many times as strong as what lies around it usually is. */
const leastOver = 3

/**
 * @param picture scene-linear brightness
 * @param from where the stroke begins, in pixels of the picture @param to and where it ends
 * @returns places on the edge; null where there is no edge along the stroke, or it is too short to tell
 */
export function lineAlong(picture: Plane, from: Spot, to: Spot): Line | null {
  const length = sqrt((to[0] - from[0]) ** 2 + (to[1] - from[1]) ** 2)
  if (length < 16) return null
  const steps = round(length)
  const reach = round(max(leastReach, shareOfLength * length))
  const [ax, ay] = [(to[0] - from[0]) / length, (to[1] - from[1]) / length]
  const [nx, ny] = [-ay, ax]
  const strip = (slopes: Slopes) => {
    const wide = 2 * reach + 1
    const out = new Float64Array((steps + 1) * wide)
    for (let s = 0; s <= steps; s++)
      for (let t = 0; t < wide; t++) {
        const off = t - reach
        const along = (s * length) / steps
        out[s * wide + t] = acrossAt(slopes, from[0] + ax * along + nx * off, from[1] + ay * along + ny * off, nx, ny)
      }
    return out
  }
  const seen = strip(slopesOfPicture(picture, sigma, 'seen'))
  const ways = [1, -1].map((sign) => bestWay(seen, steps, reach, sign))
  const way = ways[0].score >= ways[1].score ? ways[0] : ways[1]
  const usual = Float64Array.from(seen, abs).sort()[seen.length >> 1]
  if (!(way.score / (steps + 1) > leastOver * max(1e-4, usual))) return null
  const light = strip(slopesOfPicture(picture, sigma, 'light'))
  const places = Array.from(way.offsets).flatMap((off, s): { readonly x: number; readonly y: number }[] => {
    const top = topOf(light, s * (2 * reach + 1), off, reach, way.sign)
    if (top === null) return []
    const along = (s * length) / steps
    return [{ x: from[0] + ax * along + nx * top, y: from[1] + ay * along + ny * top }]
  })
  return places.length < length / 2 ? null : spaced(places)
}

/** How the picture changes towards (nx, ny), between four pixels; 0 outside. */
function acrossAt({ width, height, across, down }: Slopes, x: number, y: number, nx: number, ny: number): number {
  const [px, py] = [x - 0.5, y - 0.5]
  const [left, top] = [floor(px), floor(py)]
  if (left < 0 || top < 0 || left + 1 >= width || top + 1 >= height) return 0
  const [u, v] = [px - left, py - top]
  const at = (i: number) => across[i] * nx + down[i] * ny
  const i = top * width + left
  return (1 - v) * ((1 - u) * at(i) + u * at(i + 1)) + v * ((1 - u) * at(i + width) + u * at(i + width + 1))
}

/** By Viterbi's algorithm, with the light on the same side all along. */
function bestWay(strip: Float64Array, steps: number, reach: number, sign: number) {
  const wide = 2 * reach + 1
  const strong = Float64Array.from(strip, (value) => max(0, sign * value))
  const cost = forMoving * (strong.reduce((sum, one) => sum + one, 0) / strong.length)
  let score = strong.slice(0, wide)
  const came = new Int8Array((steps + 1) * wide)
  for (let s = 1; s <= steps; s++) {
    const next = new Float64Array(wide)
    for (let t = 0; t < wide; t++) {
      let [best, by] = [score[t], 0]
      if (t > 0 && score[t - 1] - cost > best) [best, by] = [score[t - 1] - cost, -1]
      if (t + 1 < wide && score[t + 1] - cost > best) [best, by] = [score[t + 1] - cost, 1]
      next[t] = best + strong[s * wide + t]
      came[s * wide + t] = by
    }
    score = next
  }
  let t = score.reduce((best, one, i) => (one > score[best] ? i : best), 0)
  const total = score[t]
  const offsets = new Int32Array(steps + 1)
  for (let s = steps; s >= 0; s--) {
    offsets[s] = t - reach
    t += came[s * wide + t]
  }
  return { sign, score: total, offsets }
}

/** Where light changes most beside an offset, by a parabola; null where that is not within two pixels. */
function topOf(light: Float64Array, row: number, offset: number, reach: number, sign: number): number | null {
  const at = (off: number) => sign * light[row + off + reach]
  let top = offset
  for (let k = 0; k < 2; k++)
    if (top < reach - 1 && at(top + 1) > at(top)) top++
    else if (top > 1 - reach && at(top - 1) > at(top)) top--
  if (abs(top) >= reach) return null
  const [before, here, after] = [at(top - 1), at(top), at(top + 1)]
  const bend = before - 2 * here + after
  if (!(here >= before && here >= after && bend < 0)) return null
  return top + (0.5 * (before - after)) / bend
}
