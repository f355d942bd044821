/** By how much what is pinned may slip, from the errors of the tracks that it moves with. */

import { throughMatrix } from '../motion/mapping'
import { cornersOf } from '../motion/placing'
import { find } from './find'
import { placedMatrix } from './placed'
import { faultOfPin } from './tracks'
import type { Shot, Track } from './types'

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
export function expectedSlip(given: Shot, id: string, frame: number): ExpectedSlip | null {
  const element = find(given.elements, id)
  const { placing } = element ?? {}
  const { pin } = placing ?? {}
  if (!element || !placing || !pin || faultOfPin(given, pin)) return null
  const { smooth: _smooth, ...measured } = pin
  const asMeasured = { ...element, placing: { ...placing, pin: measured } }
  const shot = { ...given, elements: { byId: { ...given.elements.byId, [id]: asMeasured } } }
  const tracks = pin.tracks.flatMap((track) => find(shot.tracks, track) ?? [])
  if (!tracks.every(({ points }) => Object.hasOwn(points, frame))) return null
  const corners = cornersOf(placing.box)
  const placesBy = (changed: Shot) => {
    const matrix = placedMatrix(changed, id, frame)
    return corners.map(([x, y]) => throughMatrix(matrix, x, y))
  }
  const still = placesBy(shot)
  const squares = corners.map(() => 0)
  for (const track of tracks) {
    const point = track.points[frame]
    if (!('across' in point)) continue
    for (const [dx, dy] of [
      [point.across, 0],
      [0, point.down],
    ]) {
      const moved = { ...track, points: { ...track.points, [frame]: { ...point, x: point.x + dx, y: point.y + dy } } }
      placesBy(withTrack(shot, moved)).forEach((place, i) => {
        const before = still[i]
        squares[i] += place && before ? (place[0] - before[0]) ** 2 + (place[1] - before[1]) ** 2 : Infinity
      })
    }
  }
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

const withTrack = (shot: Shot, track: Track): Shot => ({
  ...shot,
  tracks: { byId: { ...shot.tracks.byId, [track.id]: track } },
})
