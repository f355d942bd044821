/** How large a pattern is followed best, and how far it is looked for: by what is there. */

import type { Window } from '../image/window'
import type { Spot } from './aligned-patch'
import { brightnessOf } from './brightness'
import type { Plane } from './spline'
import { followable, likest, margin, NothingToFollowError, repeated } from './track-point'

export interface PatternSize {
  /** pixels on either side of the point */
  readonly radius: number
  /** it is looked for so many pixels around where it is expected */
  readonly search: number
}

/** Pixels: worse than this no size is worth choosing. */
const mostError = 0.15
/** With the error that makes each good enough, pixels: a larger one takes in more of what moves otherwise, nearer or farther, and is the last resort. */
const sizes = [
  { radius: 7, enough: 0.02 },
  { radius: 10, enough: mostError },
  { radius: 14, enough: mostError },
  { radius: 20, enough: mostError },
] as const
/** So alike what is found on the next frame has to be, of what noise leaves of likeness. */
const leastLikeness = 0.7
/** A pattern that is mostly noise is found anywhere. */
const leastExpected = 0.1
/** It is looked for on the next frame so far away, to see how fast it goes. */
const fastest = 40
const leastSearch = 8
const faster = 1.5

/**
 * The smallest pattern that noise and slopes there let be followed well; larger where less cannot be, or where the same is seen again within reach. How far it is looked for: what it moves by to the next frame, half as much again, and a rest.
 *
 * @param light premultiplied RGBA of a window of the plate, which may reach beyond the frame
 * @param next the frame that is followed first; null: there is none
 * @returns null where none of any size is worth choosing: flat, an edge only, grain, seen again within reach, gone on the next frame
 */
export async function patternSize(
  light: (frame: number, window: Window) => Promise<Float32Array>,
  frame: { readonly width: number; readonly height: number },
  point: Spot,
  from: number,
  next: number | null,
): Promise<PatternSize | null> {
  const most = sizes[sizes.length - 1].radius
  const [left, top] = [Math.floor(point.x), Math.floor(point.y)]
  const around = (reach: number): Window => ({
    ...{ x: left - reach, y: top - reach },
    ...{ width: 2 * reach + 1, height: 2 * reach + 1 },
  })
  const lightOf = async (at: number, reach: number) => brightnessOf(await light(at, around(reach)), around(reach))
  const whole = await lightOf(from, most + margin + fastest)
  const middleOf = (reach: number): Spot => ({ x: point.x - 0.5 - left + reach, y: point.y - 0.5 - top + reach })
  const isInside = ({ radius }: (typeof sizes)[number]) =>
    point.x >= radius && point.y >= radius && point.x + radius < frame.width && point.y + radius < frame.height
  const fitting = sizes.filter(isInside)
  const patterns = fitting.flatMap(({ radius, enough: wanted }) => {
    // At the border of the frame the smallest may be all that fits.
    const enough = fitting.length === 1 ? mostError : wanted
    const [reach, plane] = [radius + margin, cut(whole, radius + margin)]
    try {
      const told = followable(plane, around(reach), middleOf(reach), radius)
      const isPoor = told.isEdge || told.expected < leastExpected || told.error > enough
      return isPoor ? [] : [{ radius, plane, middle: middleOf(reach), ...told }]
    } catch (error) {
      if (error instanceof NothingToFollowError) return []
      throw error
    }
  })
  if (patterns.length === 0) return null
  const later = next === null ? null : await lightOf(next, most + margin + fastest)
  for (const { radius, plane, middle, expected } of patterns) {
    const reach = radius + margin
    const found = later && likest(plane, cut(later, reach + fastest), middle, radius, fastest)
    // Grain is not found again; what is covered at once is told by whoever follows it.
    if (found && found.likeness < leastLikeness * expected) continue
    const way = found ? Math.hypot(found.x - middle.x - fastest, found.y - middle.y - fastest) : 0
    const search = Math.min(fastest, Math.ceil(leastSearch + faster * way))
    if (!repeated(plane, cut(whole, reach + search), middle, radius, expected)) return { radius, search }
  }
  return null
}

/** So much around the middle. */
function cut({ values, width }: Plane, reach: number): Plane {
  const side = 2 * reach + 1
  const first = (width - side) / 2
  const at = (i: number) => (first + Math.floor(i / side)) * width + first + (i % side)
  return { width: side, height: side, values: Float64Array.from({ length: side * side }, (_, i) => values[at(i)]) }
}
