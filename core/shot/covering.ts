/** Where placed elements come on their way, and how they are made to cover the frame's edge again. */

import { throughMatrix } from '../motion/mapping'
import { cornersOf, type Spot } from '../motion/placing'
import { applyEdit, type Together } from './edits'
import { find } from './find'
import { closingScale, extremesOf, scaleAbout, type Extremes } from './moving'
import { placedMatrix } from './placed'
import type { Shot } from './types'

/** @returns null where it is not placed, or never has a size */
export function wayOf(shot: Shot, id: string): Extremes | null {
  const box = find(shot.elements, id)?.placing?.box
  if (!box) return null
  return extremesOf(shot, box, (frame): readonly Spot[] | null => {
    const matrix = placedMatrix(shot, id, frame)
    const corners = cornersOf(box).map(([x, y]) => throughMatrix(matrix, x, y))
    return corners.every((one) => one !== null) ? corners : null
  })
}

export interface Cure {
  readonly scale: number
  readonly edit: Together
}

/**
 * The smallest scale, about the middle of its box on a frame, with which an element covers every edge that it ought to.
 *
 * @returns null where even four times its size is not enough
 */
export function coveringScale(shot: Shot, id: string, frame: number): Cure | null {
  const box = find(shot.elements, id)?.placing?.box
  if (!box) return null
  const spot = throughMatrix(placedMatrix(shot, id, frame), box.x + box.width / 2, box.y + box.height / 2)
  if (!spot) return null
  const scale = closingScale((factor) => {
    const change = factor === 1 ? null : scaleAbout(shot, id, frame, spot, factor)
    const tried = change ? applyEdit(shot, change).shot : shot
    return (wayOf(tried, id)?.gap ?? null) !== null
  })
  const edit = scale === null ? null : scaleAbout(shot, id, frame, spot, scale)
  return scale !== null && edit ? { scale, edit } : null
}
