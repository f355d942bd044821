/** From numbers to geometry: where a placed picture comes to lie. Full-scale pixels throughout. */

import type { Matrix3 } from '../graph/steps'
import { byShift, multiplied, throughMatrix } from './mapping'

export interface Rectangle {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

export type Spot = readonly [x: number, y: number]

/** Angles in degrees, clockwise as the frame is seen: y points down. */
export interface Placement {
  readonly x: number
  readonly y: number
  readonly rotation: number
  readonly scale: number
  readonly stretch: number
  readonly skew: number
  readonly pivotX: number
  readonly pivotY: number
}

const radians = Math.PI / 180

/** Skewed and scaled about the pivot, then turned, then moved. */
export function placementMatrix({ x, y, rotation, scale, stretch, skew, pivotX, pivotY }: Placement): Matrix3 {
  // Quarter turns exactly: they only exchange pixels.
  const quarter = rotation / 90
  const [cos, sin] = Number.isInteger(quarter)
    ? [[1, 0, -1, 0][((quarter % 4) + 4) % 4], [0, 1, 0, -1][((quarter % 4) + 4) % 4]]
    : [Math.cos(rotation * radians), Math.sin(rotation * radians)]
  const [wide, high] = [scale * stretch, scale]
  // Leaning to the right: what is higher goes to the right.
  const lean = skew === 0 ? 0 : -Math.tan(skew * radians) * high
  const linear: Matrix3 = [
    ...[cos * wide, cos * lean - sin * high, 0],
    ...[sin * wide, sin * lean + cos * high, 0],
    ...[0, 0, 1],
  ] as unknown as Matrix3
  const shift = (dx: number, dy: number) => byShift(dx, dy).matrix
  return multiplied(shift(x + pivotX, y + pivotY), multiplied(linear, shift(-pivotX, -pivotY)))
}

/** The placement, but for position and pivot, that a matrix without perspective stands for. */
export function placementOf(matrix: Matrix3): Pick<Placement, 'rotation' | 'scale' | 'stretch' | 'skew'> | null {
  const [a, b, , d, e] = matrix
  const wide = Math.hypot(a, d)
  if (wide === 0) return null
  const [cos, sin] = [a / wide, d / wide]
  const high = cos * e - sin * b
  if (high === 0) return null
  const lean = cos * b + sin * e
  return {
    rotation: Math.atan2(d, a) / radians,
    scale: high,
    stretch: wide / high,
    skew: -Math.atan(lean / high) / radians,
  }
}

export const cornersOf = ({ x, y, width, height }: Rectangle): readonly [Spot, Spot, Spot, Spot] => [
  [x, y],
  [x + width, y],
  [x + width, y + height],
  [x, y + height],
]

/** Whether four corners, in order, are those of a picture seen from its front: turning one way all round. */
export function isConvex(corners: readonly Spot[]): boolean {
  return corners.every(([x, y], i) => {
    const [ax, ay] = corners[(i + 1) % corners.length]
    const [bx, by] = corners[(i + 2) % corners.length]
    return (ax - x) * (by - ay) - (ay - y) * (bx - ax) > 0
  })
}

/**
 * The plane projection that leads the box's corners to four others (Heckbert 1989, section 2.2.3).
 *
 * @returns null where it would fold
 */
export function cornerMatrix({ x, y, width, height }: Rectangle, corners: readonly Spot[]): Matrix3 | null {
  if (!isConvex(corners)) return null
  const [[x0, y0], [x1, y1], [x2, y2], [x3, y3]] = corners
  const [sx, sy] = [x0 - x1 + x2 - x3, y0 - y1 + y2 - y3]
  const [dx1, dy1, dx2, dy2] = [x1 - x2, y1 - y2, x3 - x2, y3 - y2]
  const determinant = dx1 * dy2 - dx2 * dy1
  const g = (sx * dy2 - dx2 * sy) / determinant
  const h = (dx1 * sy - sx * dy1) / determinant
  const fromUnit: Matrix3 = [
    ...[x1 - x0 + g * x1, x3 - x0 + h * x3, x0],
    ...[y1 - y0 + g * y1, y3 - y0 + h * y3, y0],
    ...[g, h, 1],
  ] as unknown as Matrix3
  const toUnit: Matrix3 = [1 / width, 0, -x / width, 0, 1 / height, -y / height, 0, 0, 1]
  return multiplied(fromUnit, toUnit)
}

/** The same geometry in pixels of a graph at a scale. */
export function atScale([a, b, c, d, e, f, g, h, i]: Matrix3, scale: number): Matrix3 {
  return [a, b, c / scale, d, e, f / scale, g * scale, h * scale, i]
}

/**
 * How far the corners travel at most while a shutter is open.
 *
 * @param matrices at times that follow each other, from the picture to the frame
 */
export function longestWay(box: Rectangle, matrices: readonly Matrix3[]): number {
  const ways = cornersOf(box).map(([x, y]) => {
    const places = matrices.map((matrix) => throughMatrix(matrix, x, y))
    return places.slice(1).reduce((sum, to, i) => {
      const from = places[i]
      return from && to ? sum + Math.hypot(to[0] - from[0], to[1] - from[1]) : sum
    }, 0)
  })
  return Math.max(...ways)
}
