/** The border that a moved picture brings into the frame: where the plate ends, nothing is. */

import { along } from '../motion/way'
import type { Planning } from './memo'
import { outputWay } from './whole'

export interface Border {
  /** how far it comes in at most, in pixels of the plate, and on which frame; 0: nowhere */
  readonly pixels: number
  readonly frame: number
  /** enlarged by this about the middle of the frame, the picture would fill it on every frame */
  readonly filledBy: number
}

const mostEnlarged = 20
const precise = 1e-4
/** So many of each side: between them a lens's border bows by next to nothing. */
const pieces = 16

/** Places all round the frame, its corners among them. @param pieces of each side between them */
const edge = (width: number, height: number, pieces: number) =>
  Array.from({ length: pieces + 1 }, (_, i) => i / pieces).flatMap((share) => [
    ...[0, height].map((y) => [share * width, y] as const),
    ...[0, width].map((x) => [x, share * height] as const),
  ])

/** Over every frame of the shot. */
export function borderOf(planning: Planning): Border {
  const { frames, frameSize } = planning.shot
  const { width, height } = frameSize
  const ways = Array.from({ length: frames.last - frames.first + 1 }, (_, i) => ({
    frame: frames.first + i,
    way: outputWay(planning, frames.first + i),
  })).flatMap(({ frame, way }) =>
    way ? [{ frame, through: along(way), straight: way.every((one) => 'matrix' in one) }] : [],
  )
  const corners = edge(width, height, 1)
  // Behind a lens the border is no straight line.
  const places = edge(width, height, pieces)
  const beyond = (by: number) => {
    let [pixels, worst] = [0, frames.first]
    for (const { frame, through, straight } of ways)
      for (const [x, y] of straight ? corners : places) {
        const place = through(width / 2 + (x - width / 2) / by, height / 2 + (y - height / 2) / by)
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
