/** An outline as a closed line of straight pieces, moved and at the graph's scale. */

import { moved, type PlateMotion } from '../motion/plate-motion'
import { cubicAfter, type Outline } from './place'

/** Numbers of a corner: across, down, and pixels of feather inside and outside. */
export const cornerNumbers = 4

export interface Flattening {
  /** to where it lies in the frame; null: it lies there */
  readonly motion: PlateMotion | null
  /** a pixel of the graph is so many of the frame */
  readonly scale: number
  /** pixels of the frame */
  readonly inside: number
  readonly outside: number
}

const mostPieces = 400
/** Pixels of the graph that a piece may be off: coverage is off by less than that. */
const exact = 0.003
/** Where an edge is soft, so much more of its width. */
const soft = 0.002

/** Pixels of the frame: a straight piece this long that a lens bends is off by some thousandths of a pixel, of a lens that bends much. */
const longestBehindLens = 8

/** @returns `cornerNumbers` numbers a corner, in pixels of the graph; no numbers where a place lies behind the eye */
export function flattened(outline: Outline, { motion, scale, inside, outside }: Flattening): Float64Array {
  const matrix = motion && !motion.lens ? motion.matrix : null
  const placed = (x: number, y: number): readonly [number, number] => {
    if (motion?.lens) {
      const place = moved(motion, x, y)
      return place ? [place[0] / scale, place[1] / scale] : [NaN, NaN]
    }
    if (!matrix) return [x / scale, y / scale]
    const w = matrix[6] * x + matrix[7] * y + matrix[8]
    return [
      (matrix[0] * x + matrix[1] * y + matrix[2]) / w / scale,
      (matrix[3] * x + matrix[4] * y + matrix[5]) / w / scale,
    ]
  }
  const longest = motion?.lens ? longestBehindLens / scale : Infinity
  const off = exact + (soft * (inside + outside)) / scale
  const corners: number[] = []
  outline.forEach((point, at) => {
    const cubic = cubicAfter(outline, at)
    const [ax, ay, bx, by, cx, cy, dx, dy] = cubic
    const ends = [placed(ax, ay), placed(bx, by), placed(cx, cy), placed(dx, dy)]
    const next = outline[(at + 1) % outline.length]
    const [first, last] = [point.feather ?? 0, next.feather ?? 0]
    // A cubic's second differences bound how far its pieces are off (Wang 1984).
    const bend = Math.max(...[0, 1].map((i) => Math.hypot(...bent(ends[i], ends[i + 1], ends[i + 2]))))
    const wanted = Math.max(Math.ceil(Math.sqrt((0.75 * bend) / off)), Math.ceil(lengthAround(ends) / longest))
    const pieces = Math.min(mostPieces, Math.max(first === last ? 1 : 4, wanted || 1))
    for (let i = 0; i < pieces; i++) {
      const t = i / pieces
      const left = 1 - t
      const [p, q, r, s] = [left * left * left, 3 * left * left * t, 3 * left * t * t, t * t * t]
      const [x, y] = placed(p * ax + q * bx + r * cx + s * dx, p * ay + q * by + r * cy + s * dy)
      corners.push(x, y, inside / scale, Math.max(0, (outside + first + (last - first) * t) / scale))
    }
  })
  return Float64Array.from(corners)
}

/** No shorter than the cubic of these ends. */
const lengthAround = (ends: readonly (readonly number[])[]) =>
  ends.slice(1).reduce((sum, [x, y], i) => sum + Math.hypot(x - ends[i][0], y - ends[i][1]), 0)

const bent = (a: readonly number[], b: readonly number[], c: readonly number[]) => [
  a[0] - 2 * b[0] + c[0],
  a[1] - 2 * b[1] + c[1],
]
