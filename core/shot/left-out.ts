/** What is left out of a region that is followed: what a drawn matte covers on the frame where it was outlined. */

import { fittedMotion } from '../motion/fitted-motion'
import { throughMatrix } from '../motion/mapping'
import type { Spot } from '../motion/placing'
import { cornerNumbers, flattened } from '../outline'
import { find, inOrder } from './find'
import { isThere, matteMotion, outlineAt } from './mattes'
import { outlinedOn } from './regions'
import type { Shot, Track, TrackPoint } from './types'

/** Outlines, in full-scale pixels of the frame. Shapes that take away from the matte are not counted. */
export function leftOutOf(shot: Shot, [corner]: readonly Track[], frame: number): readonly (readonly Spot[])[] {
  const id = corner?.region?.leavesOut
  const matte = id === undefined ? null : find(shot.mattes, id)
  if (matte?.kind !== 'drawn') return []
  const motion = matteMotion(shot, matte, frame)
  return inOrder(matte.shapes)
    .filter((shape) => shape.how === 'add' && isThere(shape, frame))
    .map((shape) => {
      const line = flattened(outlineAt(shape, frame), { motion, scale: 1, inside: 0, outside: 0 })
      return Array.from({ length: line.length / cornerNumbers }, (_, i): Spot => [
        line[i * cornerNumbers],
        line[i * cornerNumbers + 1],
      ])
    })
}

/** The same as it is seen on a frame, moved as the region is there. @returns none where the region is not known on it */
export function leftOutOn(shot: Shot, corners: readonly Track[], frame: number): readonly (readonly Spot[])[] {
  const outlined = outlinedOn(corners)
  if (outlined === null) return []
  const areas = leftOutOf(shot, corners, outlined)
  if (areas.length === 0 || frame === outlined) return areas
  const on = (at: number) =>
    corners.flatMap(({ points }): Spot[] => {
      const point = (points as Record<string, TrackPoint | undefined>)[at]
      return point ? [[point.x, point.y]] : []
    })
  const matrix = fittedMotion(on(outlined), on(frame), 'homography')
  if (!matrix) return []
  return areas.map((area) =>
    area.flatMap(([x, y]): Spot[] => {
      const place = throughMatrix(matrix, x, y)
      return place ? [place] : []
    }),
  )
}
