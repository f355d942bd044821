/** Regions of a picture that differ most from each other: what a line through their readings rests on best. */

import { overlap, type Window } from '../image/window'
import { summedArea, sumOver } from './summed-area'
import { darkLight } from './unlikeness'

export interface Region extends Window {
  /** mean of each channel */
  readonly light: readonly [number, number, number]
}

const covered = 0.999

/**
 * The darkest, then always the one that is farthest from those chosen, in the logarithm of light. Only regions whose
 * surroundings are covered as well are chosen, so that no edge reaches into them.
 *
 * @param light premultiplied RGBA of the window
 * @param side of a region, in pixels
 * @param margin so far around a region everything is covered
 */
export function chooseRegions(
  light: Float32Array,
  { x: left, y: top, width, height }: Window,
  { side, margin, most }: { readonly side: number; readonly margin: number; readonly most: number },
): Region[] {
  const sums = [0, 1, 2, 3].map((channel) => summedArea(light, channel, width, height))
  const sumOf = (table: Float64Array, x: number, y: number, size: number) =>
    sumOver(table, width, { x, y, width: size, height: size })
  const candidates: Region[] = []
  const step = Math.max(1, side >> 1)
  const whole = side + 2 * margin
  for (let y = 0; y + whole <= height; y += step)
    for (let x = 0; x + whole <= width; x += step) {
      if (sumOf(sums[3], x, y, whole) < covered * whole * whole) continue
      const mean = [0, 1, 2].map((c) => sumOf(sums[c], x + margin, y + margin, side) / (side * side))
      candidates.push({
        ...{ x: left + x + margin, y: top + y + margin, width: side, height: side },
        light: mean as unknown as Region['light'],
      })
    }
  return farthestApart(candidates, most)
}

/** The darkest, then always the one that is farthest from those chosen, in the logarithm of light, and overlaps none of them. */
export function farthestApart(regions: readonly Region[], most: number): Region[] {
  if (regions.length === 0) return []
  const candidates = regions.map((region) => ({
    region,
    at: region.light.map((value) => Math.log(Math.max(0, value) + darkLight)),
  }))
  let next = candidates.reduce((a, b) => (total(b.at) < total(a.at) ? b : a))
  const chosen: Region[] = []
  /** from the nearest that was chosen */
  const distances = candidates.map(() => Infinity)
  while (chosen.length < most) {
    chosen.push(next.region)
    candidates.forEach(({ region, at }, i) => {
      if (distances[i] === 0) return
      const [r, g, b] = [at[0] - next.at[0], at[1] - next.at[1], at[2] - next.at[2]]
      distances[i] = Math.min(distances[i], overlap(next.region, region) ? 0 : Math.sqrt(r * r + g * g + b * b))
    })
    const farthest = distances.reduce((best, distance, i) => (distance > distances[best] ? i : best), 0)
    if (distances[farthest] === 0) break
    next = candidates[farthest]
  }
  return chosen
}

const total = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0)
