/**
 * The motion that leads points to where they went, by least squares: by position; by position, rotation and scale (Umeyama 1991,
 * in two dimensions); affine; or a homography (direct linear transform on normalised points: Hartley and Zisserman 2004, section 4.4).
 */

import { solved } from '../algebra/solved'
import type { Matrix3 } from '../graph/steps'
import { byShift, inverseOf, multiplied } from './mapping'
import type { Spot } from './placing'

/** By how much of the points' motion, from least to most. */
export const motionModels = ['position', 'similarity', 'affine', 'homography'] as const
export type MotionModel = (typeof motionModels)[number]

/** So many points tell as much. */
export const pointsNeeded: Readonly<Record<MotionModel, number>> = {
  position: 1,
  similarity: 2,
  affine: 3,
  homography: 4,
}

/**
 * @param from places, full-scale pixels @param to where each of them went
 * @returns null where the points do not tell: there are too few, or they lie in one place, on one line, or fold
 */
export function fittedMotion(from: readonly Spot[], to: readonly Spot[], by: MotionModel): Matrix3 | null {
  if (from.length !== to.length || from.length < pointsNeeded[by]) return null
  const [middle, there] = [meanOf(from), meanOf(to)]
  if (by === 'position') return byShift(there[0] - middle[0], there[1] - middle[1]).matrix
  const [size, thereSize] = [spreadAbout(from, middle), spreadAbout(to, there)]
  if (!(size > 1e-6)) return null
  if (by === 'similarity') return similarity(from, to, middle, there, size)
  if (!(thereSize > 1e-6)) return null
  // About their middle and by their size, so that the sums are of numbers near 1.
  const near = normalised(from, middle, size)
  const far = normalised(to, there, thereSize)
  const fitted = by === 'affine' ? affine(near, far) : homography(near, far)
  if (!fitted) return null
  const matrix = multiplied(back(there, thereSize), multiplied(fitted, forth(middle, size)))
  return faces(matrix, from) ? scaledToOne(matrix) : null
}

function meanOf(points: readonly Spot[]): Spot {
  const sum = points.reduce(([x, y], [px, py]) => [x + px, y + py] as const, [0, 0] as Spot)
  return [sum[0] / points.length, sum[1] / points.length]
}

const spreadAbout = (points: readonly Spot[], [x, y]: Spot) =>
  Math.sqrt(points.reduce((sum, [px, py]) => sum + (px - x) ** 2 + (py - y) ** 2, 0) / points.length)

const normalised = (points: readonly Spot[], [x, y]: Spot, size: number) =>
  points.map(([px, py]): Spot => [(px - x) / size, (py - y) / size])
const forth = ([x, y]: Spot, size: number): Matrix3 => [1 / size, 0, -x / size, 0, 1 / size, -y / size, 0, 0, 1]
const back = ([x, y]: Spot, size: number): Matrix3 => [size, 0, x, 0, size, y, 0, 0, 1]
const scaledToOne = (m: Matrix3) => m.map((value) => value / m[8]) as unknown as Matrix3

/** Every point before the eye, and no mirroring. */
function faces(m: Matrix3, points: readonly Spot[]): boolean {
  const turns =
    m[0] * (m[4] * m[8] - m[5] * m[7]) - m[1] * (m[3] * m[8] - m[5] * m[6]) + m[2] * (m[3] * m[7] - m[4] * m[6])
  const depths = points.map(([x, y]) => (m[6] * x + m[7] * y + m[8]) / m[8])
  return inverseOf(m) !== null && turns / m[8] ** 3 > 0 && depths.every((depth) => depth > 1e-6)
}

function similarity(
  from: readonly Spot[],
  to: readonly Spot[],
  middle: Spot,
  there: Spot,
  size: number,
): Matrix3 | null {
  let [along, across] = [0, 0]
  from.forEach(([x, y], i) => {
    const [px, py, qx, qy] = [x - middle[0], y - middle[1], to[i][0] - there[0], to[i][1] - there[1]]
    along += px * qx + py * qy
    across += px * qy - py * qx
  })
  const squares = size * size * from.length
  const [cos, sin] = [along / squares, across / squares]
  if (!(Math.hypot(cos, sin) > 1e-9)) return null
  return multiplied(byShift(there[0], there[1]).matrix, [
    ...[cos, -sin, -cos * middle[0] + sin * middle[1]],
    ...[sin, cos, -sin * middle[0] - cos * middle[1]],
    ...[0, 0, 1],
  ] as unknown as Matrix3)
}

function affine(from: readonly Spot[], to: readonly Spot[]): Matrix3 | null {
  const rows = from.map(([x, y]) => [x, y, 1])
  const across = leastSquares(
    rows,
    to.map(([x]) => x),
  )
  const down = leastSquares(
    rows,
    to.map(([, y]) => y),
  )
  return across && down && ([...across, ...down, 0, 0, 1] as unknown as Matrix3)
}

/** Of points that are about their middle: its last number can be taken as 1. */
function homography(from: readonly Spot[], to: readonly Spot[]): Matrix3 | null {
  const rows = from.flatMap(([x, y], i) => {
    const [u, v] = to[i]
    return [
      [x, y, 1, 0, 0, 0, -u * x, -u * y],
      [0, 0, 0, x, y, 1, -v * x, -v * y],
    ]
  })
  const found = leastSquares(
    rows,
    to.flatMap(([u, v]) => [u, v]),
  )
  return found && ([...found, 1] as unknown as Matrix3)
}

/** By normal equations. @returns null where something is not told */
function leastSquares(rows: readonly (readonly number[])[], right: readonly number[]): Float64Array | null {
  const count = rows[0].length
  const normal = Array.from({ length: count * count }, (_, at) =>
    rows.reduce((sum, row) => sum + row[Math.floor(at / count)] * row[at % count], 0),
  )
  const sums = Array.from({ length: count }, (_, i) => rows.reduce((sum, row, k) => sum + row[i] * right[k], 0))
  return solved(normal, sums, 1e-10 * Math.max(...normal))
}
