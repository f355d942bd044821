/**
 * A rectangle of the scene as a camera sees it: what shape it has, and the camera's focal length, from four corners in one straight picture. A rectangle's
 * sides stand upright on each other, which tells the focal length; with that, how long they are (Zhang and He, "Whiteboard scanning and image enhancement", 2007).
 */

import type { Matrix3 } from '../graph/steps'
import { multiplied } from './mapping'
import { cornerMatrix, type Spot } from './placing'

export interface RectangleSeen {
  /** width over height */
  readonly ratio: number
  /** pixels */
  readonly focal: number
  /** from the rectangle, 1 wide and 1 high, to the picture */
  readonly matrix: Matrix3
}

/**
 * @param corners upper left, upper right, lower right, lower left, in the straight picture
 * @param middle where the camera looks: the lens's centre
 * @returns null where they fold, or where their perspective does not tell: two sides look parallel
 */
export function rectangleSeen(corners: readonly Spot[], [u, v]: Spot): RectangleSeen | null {
  const matrix = cornerMatrix({ x: 0, y: 0, width: 1, height: 1 }, corners)
  if (!matrix) return null
  const [ax, bx, , ay, by, , aw, bw] = multiplied([1, 0, -u, 0, 1, -v, 0, 0, 1], matrix)
  const squared = -(ax * bx + ay * by) / (aw * bw)
  if (!(squared > 0) || !Number.isFinite(squared)) return null
  const side = (x: number, y: number, w: number) => Math.sqrt((x * x + y * y) / squared + w * w)
  return { ratio: side(ax, ay, aw) / side(bx, by, bw), focal: Math.sqrt(squared), matrix }
}
