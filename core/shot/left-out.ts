/** What is left out of a region that is followed: what a drawn matte covers on the frame where it was outlined. */

import { cornerNumbers, flattened } from '../outline'
import type { Spot } from '../motion/placing'
import { find, inOrder } from './find'
import { isThere, matteMatrix, outlineAt } from './mattes'
import type { Shot, Track } from './types'

/** Outlines, in full-scale pixels of the frame. Shapes that take away from the matte are not counted. */
export function leftOutOf(shot: Shot, [corner]: readonly Track[], frame: number): readonly (readonly Spot[])[] {
  const id = corner?.region?.leavesOut
  const matte = id === undefined ? null : find(shot.mattes, id)
  if (matte?.kind !== 'drawn') return []
  const matrix = matteMatrix(shot, matte, frame)
  return inOrder(matte.shapes)
    .filter((shape) => shape.how === 'add' && isThere(shape, frame))
    .map((shape) => {
      const line = flattened(outlineAt(shape, frame), { matrix, scale: 1, inside: 0, outside: 0 })
      return Array.from({ length: line.length / cornerNumbers }, (_, i): Spot => [
        line[i * cornerNumbers],
        line[i * cornerNumbers + 1],
      ])
    })
}
