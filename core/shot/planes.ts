/** A followed region as a flat rectangle of the scene: its shape, a grid on it, and pictures laid on it as they are. */

import type { Matrix3 } from '../graph/steps'
import { bent } from '../motion/lens'
import { multiplied, throughMatrix } from '../motion/mapping'
import { cornerMatrix, isConvex, type Rectangle, type Spot } from '../motion/placing'
import { rectangleSeen } from '../motion/rectangle-seen'
import { lensOver } from './plate-lens'
import { straightTrackAt } from './tracks'
import type { PlaneShape, Shot, Track, TrackPoint } from './types'

/** Its shape as the perspective of one frame tells it. */
export interface PlaneTold {
  /** width over height, with its standard error */
  readonly ratio: number
  readonly error: number
  readonly frame: number
}

/** Pixels that a corner is taken to be off by where nothing is known of its error: set by hand, or seen by a camera. */
const givenError = 0.5
/** Standard errors of a corner's place, pixels. */
export const errorsOf = (point: TrackPoint): readonly [number, number] =>
  'across' in point ? [point.across, point.down] : [givenError, givenError]

/** So many frames are looked at, for the one that tells it best. */
const mostLooked = 24
/** A shape that is told no better than this is none. */
const mostError = 0.3

/** @returns null where no frame's perspective tells it: the rectangle is seen from straight ahead, or with two sides parallel */
export function planeTold(shot: Shot, corners: readonly Track[]): PlaneTold | null {
  const frames = Object.keys(corners[0].points)
    .map(Number)
    .filter((frame) => corners.every(({ points }) => Object.hasOwn(points, frame)))
    .sort((a, b) => a - b)
  const step = Math.max(1, Math.ceil(frames.length / mostLooked))
  let best: PlaneTold | null = null
  for (const frame of frames.filter((_, i) => i % step === 0)) {
    const told = toldOn(shot, corners, frame)
    if (told && (!best || told.error < best.error)) best = told
  }
  return best && best.error < mostError * best.ratio ? best : null
}

function toldOn(shot: Shot, corners: readonly Track[], frame: number): PlaneTold | null {
  const lens = lensOver(shot, null)
  const { width, height } = shot.frameSize
  const middle: Spot = lens ? lens.at(frame).centre : [width / 2, height / 2]
  const spots = corners.map((corner) => straightTrackAt(corner, frame, lens))
  const seen = rectangleSeen(spots, middle)
  if (!seen) return null
  let squares = 0
  corners.forEach(({ points }, i) => {
    errorsOf(points[frame]).forEach((error, axis) => {
      const moved = spots.with(i, axis === 0 ? [spots[i][0] + error, spots[i][1]] : [spots[i][0], spots[i][1] + error])
      squares += ((rectangleSeen(moved, middle)?.ratio ?? Infinity) - seen.ratio) ** 2
    })
  })
  return { ratio: seen.ratio, error: Math.sqrt(squares), frame }
}

/** Its width over its height: as it was typed, or as it is told; 1 where neither is. */
export const ratioOf = (shot: Shot, corners: readonly Track[]): number =>
  corners[0].region?.plane?.ratio ?? planeTold(shot, corners)?.ratio ?? 1

/** From the plane, whose height is 1, to the straight picture. */
function onPlane(spots: readonly Spot[], ratio: number): Matrix3 | null {
  if (!isConvex(spots)) return null
  return cornerMatrix({ x: 0, y: 0, width: ratio, height: 1 }, spots)
}

/** Lines of a grid of squares on it as the plate shows them on a frame, full-scale pixels. @returns none where it is not known there */
export function planeGrid(shot: Shot, corners: readonly Track[], frame: number): readonly (readonly Spot[])[] {
  const { squares, turn = 0 } = corners[0].region?.plane ?? {}
  if (squares === undefined || !corners.every(({ points }) => Object.hasOwn(points, frame))) return []
  const lens = lensOver(shot, null)
  const ratio = ratioOf(shot, corners)
  const matrix = onPlane(
    corners.map((corner) => straightTrackAt(corner, frame, lens)),
    ratio,
  )
  if (!matrix) return []
  const seen = (at: Spot): Spot[] => {
    const straight = throughMatrix(matrix, ...at)
    if (!straight) return []
    return [lens ? bent(lens.at(frame), straight) : straight]
  }
  return gridOn(ratio, squares, turn).map(([[ax, ay], [bx, by]]) =>
    Array.from({ length: piecesOfLine + 1 }, (_, i) => i / piecesOfLine).flatMap((share) =>
      seen([ax + (bx - ax) * share, ay + (by - ay) * share]),
    ),
  )
}

/** A line that the lens bends is drawn by so many pieces. */
const piecesOfLine = 12

/** Both ends of each line, on a rectangle so wide and 1 high. */
function gridOn(ratio: number, squares: number, turn: number): readonly (readonly [Spot, Spot])[] {
  const cell = ratio / squares
  const [cos, sin] = [Math.cos((turn * Math.PI) / 180), Math.sin((turn * Math.PI) / 180)]
  const reach = Math.hypot(ratio, 1) / 2
  const [mx, my] = [ratio / 2, 0.5]
  const most = Math.ceil(reach / cell) + 1
  // Unturned, the lines begin at the left edge.
  const first = squares / 2 - Math.floor(squares / 2)
  const family = (dx: number, dy: number, from: number) =>
    Array.from({ length: 2 * most + 1 }, (_, i) => (i - most + from) * cell).flatMap((offset) => {
      const [x, y] = [mx - dy * offset, my + dx * offset]
      const line = clipped([x - dx * reach, y - dy * reach], [x + dx * reach, y + dy * reach], ratio)
      return line ? [line] : []
    })
  return [...family(-sin, cos, first), ...family(cos, sin, 0)]
}

/** What lies on the rectangle (Liang and Barsky 1984). */
function clipped([ax, ay]: Spot, [bx, by]: Spot, width: number): readonly [Spot, Spot] | null {
  let [from, to] = [0, 1]
  const slack = 1e-9
  for (const [way, room] of [
    [ax - bx, ax + slack],
    [bx - ax, width - ax + slack],
    [ay - by, ay + slack],
    [by - ay, 1 - ay + slack],
  ] as const) {
    if (way === 0) {
      if (room < 0) return null
      continue
    }
    const at = room / way
    if (way < 0) from = Math.max(from, at)
    else to = Math.min(to, at)
  }
  if (!(to - from > 1e-6)) return null
  const spot = (share: number): Spot => [ax + (bx - ax) * share, ay + (by - ay) * share]
  return [spot(from), spot(to)]
}

/**
 * Corners of a picture that lies on it as it is, as large as fits, turned as the plane's grid is.
 *
 * @param corners of the plane, in the straight picture
 */
export function asItIsOn(
  corners: readonly Spot[],
  ratio: number,
  { turn = 0 }: PlaneShape,
  { width, height }: Rectangle,
): readonly Spot[] | null {
  const matrix = onPlane(corners, ratio)
  if (!matrix) return null
  const [cos, sin] = [Math.cos((turn * Math.PI) / 180), Math.sin((turn * Math.PI) / 180)]
  // Its turned box fits as well.
  const [boxWidth, boxHeight] = [
    width * Math.abs(cos) + height * Math.abs(sin),
    width * Math.abs(sin) + height * Math.abs(cos),
  ]
  const scale = Math.min(ratio / boxWidth, 1 / boxHeight)
  const turned = multiplied([1, 0, ratio / 2, 0, 1, 0.5, 0, 0, 1], [cos, -sin, 0, sin, cos, 0, 0, 0, 1])
  const onto = multiplied(matrix, turned)
  const places = [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ].map(([x, y]) => throughMatrix(onto, (x * width * scale) / 2, (y * height * scale) / 2))
  return places.every((place) => place !== null) ? places : null
}
