/**
 * How far an outline lies from the picture's own edge beside it, and the outline brought onto that edge: of all ways along it the one
 * where brightness changes most, that turns least (dynamic programming, after Amini, Weymouth and Jain 1990).
 */

import { solved } from '../algebra/solved'
import { cubicAfter, type Outline } from '../outline'
import { slopesOfPicture, type Slopes } from './slopes'
import type { Plane } from './spline'

const { abs, ceil, floor, max, min, sqrt } = Math

/** A place of the outline, with the direction outwards or inwards that is across it. */
interface Place {
  readonly at: number
  readonly share: number
  readonly x: number
  readonly y: number
  readonly nx: number
  readonly ny: number
}

/** How far the picture's edge lies from the outline there, across it; null where there is no edge. */
export interface EdgeOffset extends Place {
  readonly offset: number | null
}

export interface Departure {
  readonly places: readonly EdgeOffset[]
  /** share of the outline beside which there is an edge */
  readonly found: number
  /** median distance from it, in pixels; null where there is none */
  readonly median: number | null
}

const sigma = 1.2
/** Pixels along the outline from one place to the next. */
const spacing = 2
/** Offsets are looked at so many pixels apart. */
const step = 0.5
/** An offset that changes by a pixel from place to place must be so much of an edge's usual strength better. */
const forTurning = 0.25
/** Of an edge's usual strength: what an edge as far away as is looked must be better than one right here. */
const forBeingFar = 0.35
/** An edge is so many times as strong as what lies around the outline usually is, over so many places either way. */
const leastOver = 3
const together = 3

/**
 * @param picture scene-linear brightness; the outline is in its pixels
 * @param reach pixels on either side within which an edge is looked for
 */
export function edgeOffsets(picture: Plane, outline: Outline, reach: number): Departure {
  const places = placesAlong(outline)
  const slopes = slopesOfPicture(picture, sigma, 'seen')
  const wide = 2 * ceil(reach / step) + 1
  const middle = (wide - 1) / 2
  const strength = new Float64Array(places.length * wide)
  places.forEach(({ x, y, nx, ny }, i) => {
    for (let t = 0; t < wide; t++) {
      const off = (t - middle) * step
      strength[i * wide + t] = acrossAt(slopes, x + nx * off, y + ny * off, nx, ny)
    }
  })
  const usual = [...strength].sort((a, b) => a - b)[strength.length >> 1] || 1e-12
  const strong = [...strength].sort((a, b) => a - b)[floor(strength.length * 0.95)] || 1e-12
  const way = bestWay(strength, places.length, wide, strong)
  // Noise has its steepest places too, but not one beside the other.
  const strengthAround = (i: number) => {
    let sum = 0
    for (let k = -together; k <= together; k++) {
      const at = (i + k + places.length) % places.length
      sum += strength[at * wide + way[at]]
    }
    return sum / (2 * together + 1)
  }
  const offsets = places.map((place, i): EdgeOffset => {
    const t = way[i]
    const here = strength[i * wide + t]
    if (strengthAround(i) < leastOver * usual) return { ...place, offset: null }
    const [before, after] = [strength[i * wide + max(0, t - 1)], strength[i * wide + min(wide - 1, t + 1)]]
    const bend = before - 2 * here + after
    const fine = t > 0 && t < wide - 1 && bend < 0 ? max(-0.5, min(0.5, (0.5 * (before - after)) / bend)) : 0
    return { ...place, offset: (t + fine - middle) * step }
  })
  const known = offsets.flatMap(({ offset }) => (offset === null ? [] : [abs(offset)])).sort((a, b) => a - b)
  return { places: offsets, found: known.length / offsets.length, median: known[known.length >> 1] ?? null }
}

function placesAlong(outline: Outline): readonly Place[] {
  return outline.flatMap((_, at): Place[] => {
    const [ax, ay, bx, by, cx, cy, dx, dy] = cubicAfter(outline, at)
    const length =
      sqrt((bx - ax) ** 2 + (by - ay) ** 2) +
      sqrt((cx - bx) ** 2 + (cy - by) ** 2) +
      sqrt((dx - cx) ** 2 + (dy - cy) ** 2)
    const count = max(2, ceil(length / spacing))
    return Array.from({ length: count }, (_unused, i): Place => {
      const t = (i + 0.5) / count
      const left = 1 - t
      const [p, q, r, s] = [left ** 3, 3 * left * left * t, 3 * left * t * t, t ** 3]
      const [u, v, w] = [3 * left * left, 6 * left * t, 3 * t * t]
      const [tx, ty] = [u * (bx - ax) + v * (cx - bx) + w * (dx - cx), u * (by - ay) + v * (cy - by) + w * (dy - cy)]
      const long = sqrt(tx * tx + ty * ty) || 1
      return {
        ...{ at, share: t, nx: -ty / long, ny: tx / long },
        ...{ x: p * ax + q * bx + r * cx + s * dx, y: p * ay + q * by + r * cy + s * dy },
      }
    })
  })
}

/** How much brightness changes across, between pixels; 0 outside the picture. */
function acrossAt({ width, height, across, down }: Slopes, x: number, y: number, nx: number, ny: number): number {
  const [px, py] = [x - 0.5, y - 0.5]
  const [i, j] = [floor(px), floor(py)]
  if (i < 0 || j < 0 || i >= width - 1 || j >= height - 1) return 0
  const [fx, fy] = [px - i, py - j]
  const at = j * width + i
  const mix = (of: Float32Array) =>
    (of[at] * (1 - fx) + of[at + 1] * fx) * (1 - fy) + (of[at + width] * (1 - fx) + of[at + width + 1] * fx) * fy
  return abs(mix(across) * nx + mix(down) * ny)
}

/** The outline is closed: it is gone round twice, and the second round counts. */
function bestWay(strength: Float64Array, count: number, wide: number, strong: number): Int32Array {
  const rounds = 2
  const turn = forTurning * step
  const middle = (wide - 1) / 2
  const from = new Int32Array(rounds * count * wide)
  let cost = new Float64Array(wide)
  for (let n = 0; n < rounds * count; n++) {
    const next = new Float64Array(wide)
    const at = (n % count) * wide
    for (let t = 0; t < wide; t++) {
      let [best, bestAt] = [Infinity, t]
      for (let k = max(0, t - 4); k <= min(wide - 1, t + 4); k++) {
        const whole = cost[k] + turn * (t - k) * (t - k)
        if (whole < best) [best, bestAt] = [whole, k]
      }
      const far = (t - middle) / middle
      next[t] = best - min(1.5, strength[at + t] / strong) + forBeingFar * far * far
      from[n * wide + t] = bestAt
    }
    cost = next
  }
  const way = new Int32Array(count)
  let t = cost.indexOf(min(...cost))
  for (let n = rounds * count - 1; n >= 0; n--) {
    way[n % count] = t
    t = from[n * wide + t]
    if (n === count) break
  }
  return way
}

/** Points are held to where they were by so much of one place that says otherwise. */
const holding = 0.02
/** Neighbours that move apart, likewise: where there is no edge points go with their neighbours. */
const joining = 0.6

/**
 * The outline with its points moved so that it lies on the edge beside it, as well as its points let it; handles go along.
 *
 * @returns null where there is no edge to speak of
 */
export function pulledOutline(outline: Outline, { places }: Departure): Outline | null {
  const known = places.filter(({ offset }) => offset !== null)
  if (known.length < places.length * 0.15) return null
  const count = outline.length
  const size = 2 * count
  const matrix = new Float64Array(size * size)
  const right = new Float64Array(size)
  const add = (i: number, j: number, value: number) => (matrix[i * size + j] += value)
  for (const { at, share: t, nx, ny, offset } of known) {
    const left = 1 - t
    // Points move with their handles: each counts with two of the cubic's four weights.
    const [one, other] = [left ** 3 + 3 * left * left * t, 3 * left * t * t + t ** 3]
    const next = (at + 1) % count
    const row = [
      [2 * at, one * nx],
      [2 * at + 1, one * ny],
      [2 * next, other * nx],
      [2 * next + 1, other * ny],
    ] as const
    for (const [i, a] of row) {
      right[i] += a * (offset ?? 0)
      for (const [j, b] of row) add(i, j, a * b)
    }
  }
  for (let i = 0; i < size; i++) {
    add(i, i, holding)
    const next = (i + 2) % size
    add(i, i, joining)
    add(next, next, joining)
    add(i, next, -joining)
    add(next, i, -joining)
  }
  const moved = solved(matrix, right)
  return moved && outline.map((place, i) => ({ ...place, x: place.x + moved[2 * i], y: place.y + moved[2 * i + 1] }))
}
