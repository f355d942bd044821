/**
 * How places of the plate move from one frame to another: by a matrix, which holds in the picture as it is, or, where the lens is known, in
 * the straight picture: what is flat in the scene moves by a homography there, and not behind a lens.
 */

import type { Lens, Matrix3 } from '../graph/steps'
import { bent, straightener } from './lens'
import { inverseOf, throughMatrix } from './mapping'
import type { Spot } from './placing'

export interface PlateMotion {
  readonly matrix: Matrix3
  /** on the frame where places are given, and on the one where they are wanted; absent: the matrix holds in the picture as it is */
  readonly lens?: { readonly from: Lens; readonly to: Lens }
}

/** Lenses are never changed in place, and are asked for a place at a time. */
const straighteners = new WeakMap<Lens, ReturnType<typeof straightener>>()

/** @returns which straight place is seen at a place of the plate; beyond the lens's fold, where nothing is, the place itself */
export function straightPlace(lens: Lens, [x, y]: Spot): Spot {
  let straight = straighteners.get(lens)
  if (!straight) straighteners.set(lens, (straight = straightener(lens)))
  return straight(x, y) ?? [x, y]
}

/** @param motion null: nothing moves @returns null behind the eye */
export function moved(motion: PlateMotion | null, x: number, y: number): Spot | null {
  if (!motion) return [x, y]
  const { matrix, lens } = motion
  if (!lens) return throughMatrix(matrix, x, y)
  const place = throughMatrix(matrix, ...straightPlace(lens.from, [x, y]))
  return place && bent(lens.to, place)
}

/** @returns the same the other way round; null where it flattens everything */
export function movedBack({ matrix, lens }: PlateMotion): PlateMotion | null {
  const back = inverseOf(matrix)
  return back && { matrix: back, ...(lens ? { lens: { from: lens.to, to: lens.from } } : {}) }
}
