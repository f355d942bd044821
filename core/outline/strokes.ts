/** Strokes of a round brush as lines that go there and back: what lies within the brush's radius of them is covered. */

import { moved, type PlateMotion } from '../motion/plate-motion'

export interface BrushStroke {
  /** x and y of its points by turns, full-scale pixels */
  readonly points: readonly number[]
  readonly radius: number
  /** 1: hard; 0: it falls from the middle on */
  readonly hardness: number
}

/**
 * Strokes of one brush, which cover together.
 *
 * @param motion to where they lie in the frame; null: they lie there @param scale a pixel of the graph is so many of the frame
 * @returns one line for `Lines`, to be grown by the brush's radius
 */
export function strokesLine(strokes: readonly BrushStroke[], motion: PlateMotion | null, scale: number): Float64Array {
  const numbers: number[] = []
  for (const { points, radius, hardness } of strokes) {
    const inside = (radius * (1 - hardness)) / scale
    const spots = Array.from({ length: points.length / 2 }, (_, i) => {
      const [x, y] = [points[2 * i], points[2 * i + 1]]
      return moved(motion, x, y) ?? ([x, y] as const)
    })
    for (const [x, y] of [...spots, ...[...spots].reverse()]) numbers.push(x / scale, y / scale, inside, 0)
    numbers.push(NaN, NaN, 0, 0)
  }
  return Float64Array.from(numbers)
}
