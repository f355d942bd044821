/** The border that a moved picture brings into the frame: where the plate ends, nothing is. */

import { throughMatrix } from '../motion/mapping'
import type { Planning } from './memo'
import { outputMatrix } from './whole'

export interface Border {
  /** how far it comes in at most, in pixels of the plate, and on which frame; 0: nowhere */
  readonly pixels: number
  readonly frame: number
  /** enlarged by this about the middle of the frame, the picture would fill it on every frame */
  readonly filledBy: number
}

const mostEnlarged = 20
const precise = 1e-4

/** Over every frame of the shot. */
export function borderOf(planning: Planning): Border {
  const { frames, frameSize } = planning.shot
  const { width, height } = frameSize
  const matrices = Array.from({ length: frames.last - frames.first + 1 }, (_, i) => ({
    frame: frames.first + i,
    matrix: outputMatrix(planning, frames.first + i),
  })).flatMap(({ frame, matrix }) => (matrix ? [{ frame, matrix }] : []))
  const corners = [0, width].flatMap((x) => [0, height].map((y) => [x, y] as const))
  const beyond = (by: number) => {
    let [pixels, worst] = [0, frames.first]
    for (const { frame, matrix } of matrices)
      for (const [x, y] of corners) {
        const place = throughMatrix(matrix, width / 2 + (x - width / 2) / by, height / 2 + (y - height / 2) / by)
        const over = place ? Math.max(-place[0], place[0] - width, -place[1], place[1] - height) : Infinity
        if (over > pixels) [pixels, worst] = [over, frame]
      }
    return { pixels, frame: worst }
  }
  const now = beyond(1)
  if (now.pixels <= precise) return { pixels: 0, frame: now.frame, filledBy: 1 }
  let [small, large] = [1, mostEnlarged]
  while (large - small > precise) {
    const middle = (small + large) / 2
    if (beyond(middle).pixels <= precise) large = middle
    else small = middle
  }
  return { ...now, filledBy: large }
}
