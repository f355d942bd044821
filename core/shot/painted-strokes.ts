/** Strokes of a painted matte where they are seen. */

import { moved } from '../motion/plate-motion'
import { matteMotion } from './mattes'
import { allOf } from './find'
import type { PaintedMatte, PaintStroke } from './matte-types'
import type { Shot } from './types'

/** What is odd about strokes on a frame, as a sentence; they are painted all the same. @returns null where nothing is */
export function strokesOutside(shot: Shot, matte: PaintedMatte, frame: number): string | null {
  const motion = matteMotion(shot, matte, frame)
  const { width, height } = shot.frameSize
  const isOutside = ({ points, radius }: PaintStroke) => {
    for (let i = 0; i < points.length; i += 2) {
      const place = moved(motion, points[i], points[i + 1])
      if (!place) continue
      const [x, y] = place
      if (x > -radius && y > -radius && x < width + radius && y < height + radius) return false
    }
    return true
  }
  const there = allOf(matte.strokes).filter((stroke) => stroke.frame === undefined || stroke.frame === frame)
  const outside = there.filter(isOutside).length
  if (outside === 0) return null
  const which =
    outside === there.length ? 'All strokes lie' : outside === 1 ? 'One stroke lies' : `${outside} strokes lie`
  return `${which} outside the frame on ${frame}: nothing of ${outside === 1 ? 'it' : 'them'} is seen. Undo, or let the matte move with what was painted.`
}
