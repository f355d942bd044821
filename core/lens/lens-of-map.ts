/** The numbers of a lens that is given as a map, so that what moves behind it is known: by least squares over the whole frame, in pixels of the plate. */

import { leastSquares } from '../algebra/least-squares'
import { made, resample, type FrameStep, type Step } from '../graph/steps'
import type { Window } from '../image/window'
import { bent, type Lens } from '../motion/lens'
import { byField } from '../motion/mapping'
import type { Spot } from '../motion/placing'
import { unbent, type LinesGiven } from './lens-from-lines'

/** Places of the plate, and where the map says that they lie in the straight picture. */
export interface MapSeen {
  readonly seen: readonly Spot[]
  readonly straight: readonly Spot[]
  /** so many places of the frame were looked at */
  readonly looked: number
}

export interface LensOfMap {
  readonly lens: Lens
  /** how far the lens puts places from where the map has them: root mean square, and the worst; pixels of the plate */
  readonly rms: number
  readonly worst: number
}

/** The map is not that of a lens, or not read as it is meant: says why. */
export class MapTellsNoLensError extends Error {
  override readonly name = 'MapTellsNoLensError'
}

/** Of the places that were looked at. */
const leastKnown = 1 / 3
/** Pixels: a map that differs by more is no lens of this model. */
const mostOff = 1
/** Pixels: maps of 16 bits hold no more. */
const exactEnough = 0.002
/** So many places across. */
const across = 48

const { hypot, max, sqrt } = Math

type OfLens = Pick<LinesGiven, 'frame' | 'squeeze'>

/** @throws MapTellsNoLensError */
export function lensOfMap(map: MapSeen, given: OfLens): LensOfMap {
  const { seen, straight, looked } = map
  if (!(seen.length > leastKnown * looked))
    throw new MapTellsNoLensError(
      'The map says nothing for most of the frame, so it tells no lens. Choose a map of the whole frame.',
    )
  const found = nearest(map, given)
  if (found.worst <= mostOff) return found
  // Whether it lies upside down is found by trying.
  const over = straight.map(([x, y]): Spot => [x, given.frame.height - y])
  if (nearest({ ...map, straight: over }, given).worst <= mostOff)
    throw new MapTellsNoLensError(
      'The map lies upside down: turned over it is that of a lens. Say on its card, among the sources, which way its green grows.',
    )
  throw new MapTellsNoLensError(
    `No numbers of a lens bend as this map does: they are off by ${found.worst.toFixed(1)} px. Bend by the map itself (Lens map), or choose the map that leads the other way.`,
  )
}

function nearest({ seen, straight }: MapSeen, given: OfLens): LensOfMap {
  const start = unbent(given)
  const of = (at: readonly number[]) => {
    const lens = withNumbers(start, at)
    const left = new Float64Array(2 * seen.length)
    straight.forEach((place, i) => {
      const [x, y] = bent(lens, place)
      left[2 * i] = x - seen[i][0]
      left[2 * i + 1] = y - seen[i][1]
    })
    return left
  }
  // Where a lens bends nothing its centre says nothing: the bend comes first. What the map does not ask for stays 0.
  let found = leastSquares([0, 0, 0], (bends) => of(bends))
  for (const more of [2, 2]) {
    if (worstOf(found.left) < exactEnough) break
    found = leastSquares([...found.at, ...Array.from({ length: more }, () => 0)], of)
  }
  const { at, left } = found
  const worst = worstOf(left)
  return { lens: withNumbers(start, at), rms: sqrt(left.reduce((sum, one) => sum + one * one, 0) / seen.length), worst }
}

/** Of distances across and down, one after the other. */
const worstOf = (left: Float64Array) =>
  left.reduce((most, one, i) => (i % 2 === 0 ? max(most, hypot(one, left[i + 1])) : most), 0)

function withNumbers(start: Lens, [k1, k2, k3, x = 0, y = 0, p1 = 0, p2 = 0]: readonly number[]): Lens {
  const centre = [start.centre[0] + x * start.unit, start.centre[1] + y * start.unit] as const
  return { ...start, centre, k1, k2, k3, p1, p2 }
}

/** What is sampled at the map's places tells them: light that rises evenly across, and down, far beyond the frame. */
export function placesInMap(map: FrameStep, { width, height }: Window): readonly [across: Step, down: Step] {
  const window = { x: -width, y: -height, width: 3 * width, height: 3 * height }
  const rising = (end: Spot) =>
    made(
      {
        ...{ made: 'gradient', shape: 'linear', start: [-end[0], -end[1]], end: [2 * end[0], 2 * end[1]] },
        stops: [
          { at: 0, pixel: [-1, -1, -1, 1] },
          { at: 1, pixel: [2, 2, 2, 1] },
        ],
      },
      window,
    )
  const sampled = (one: Step) => resample(one, byField(map), 'catmull-rom')
  return [sampled(rising([width, 0])), sampled(rising([0, height]))]
}

/** @param right @param below light of both steps over the frame, RGBA; where a map has holes nothing is covered */
export function mapSeen(right: Float32Array, below: Float32Array, { width, height }: Window): MapSeen {
  const step = max(1, width / across)
  const seen: Spot[] = []
  const straight: Spot[] = []
  let looked = 0
  for (let y = 0; y < height; y += step)
    for (let x = 0; x < width; x += step) {
      const [column, row] = [Math.floor(x), Math.floor(y)]
      const i = 4 * (row * width + column)
      looked++
      if (!(right[i + 3] > 0.999) || !(below[i + 3] > 0.999)) continue
      seen.push([column + 0.5, row + 0.5])
      straight.push([right[i] * width, below[i] * height])
    }
  return { seen, straight, looked }
}
