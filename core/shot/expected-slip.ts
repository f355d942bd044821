/** By how much what is pinned may slip, from the errors of the tracks that it moves with. */

import type { Matrix3 } from '../graph/steps'
import { fittedMotion } from '../motion/fitted-motion'
import { inverseOf, multiplied, throughMatrix } from '../motion/mapping'
import { cornersOf } from '../motion/placing'
import { find } from './find'
import { placedMatrix } from './placed'
import { lensOver } from './plate-lens'
import { faultOfPin, pinMatrix, straightTrackAt } from './tracks'
import type { Shot, TrackPoint } from './types'

export interface ExpectedSlip {
  readonly frame: number
  /** standard error of where the corner lies that is told least, in plate pixels */
  readonly pixels: number
}

/**
 * Each track's place is moved by its error, across and down, and what a corner of the element's box goes by is added in squares: so
 * the farther a corner lies from the tracks, the more it may slip. Places that were set by hand count as exact, as nothing is known
 * of their errors; on the pin's own frame nothing can slip. Of a pin that is smoothed it is told without that, which makes it less.
 *
 * @returns null where it is not pinned, or one of its tracks is not known on the frame
 */
export function expectedSlip(shot: Shot, id: string, frame: number): ExpectedSlip | null {
  const element = find(shot.elements, id)
  const { placing } = element ?? {}
  const { pin } = placing ?? {}
  if (!element || !placing || !pin || faultOfPin(shot, pin)) return null
  const points = pin.tracks.map((track) => find(shot.tracks, track)?.points[frame] as TrackPoint | undefined)
  if (!points.every((point) => point !== undefined)) return null
  if (frame === pin.frame) return { frame, pixels: 0 }
  // Through the lens, where it is known: what bends little changes no small error.
  const lens = lensOver(shot, element)
  const tracks = pin.tracks.flatMap((track) => find(shot.tracks, track) ?? [])
  const from = tracks.map((track) => straightTrackAt(track, pin.frame, lens))
  const to = tracks.map((track) => straightTrackAt(track, frame, lens))
  // Where the corners would lie without the pin.
  const back = inverseOf(pinMatrix(shot, pin, frame, lens))
  const motion = fittedMotion(from, to, pin.by)
  if (!back || !motion) return null
  const unpinned = multiplied(back, placedMatrix(shot, id, frame))
  const corners = cornersOf(placing.box).flatMap(([x, y]) => {
    const place = throughMatrix(unpinned, x, y)
    return place ? [place] : []
  })
  const placesBy = (matrix: Matrix3 | null) => corners.map((place) => matrix && throughMatrix(matrix, ...place))
  const still = placesBy(motion)
  const squares = corners.map(() => 0)
  points.forEach((point, i) => {
    if (!('across' in point)) return
    for (const [dx, dy] of [
      [point.across, 0],
      [0, point.down],
    ]) {
      const moved = to.with(i, [to[i][0] + dx, to[i][1] + dy])
      placesBy(fittedMotion(from, moved, pin.by)).forEach((place, corner) => {
        const before = still[corner]
        squares[corner] += place && before ? (place[0] - before[0]) ** 2 + (place[1] - before[1]) ** 2 : Infinity
      })
    }
  })
  return { frame, pixels: Math.sqrt(Math.max(...squares)) }
}

/** The frame on which it may slip most. */
export function mostExpectedSlip(shot: Shot, id: string): ExpectedSlip | null {
  let most: ExpectedSlip | null = null
  for (let frame = shot.frames.first; frame <= shot.frames.last; frame++) {
    const slip = expectedSlip(shot, id, frame)
    if (slip && (!most || slip.pixels > most.pixels)) most = slip
  }
  return most
}
