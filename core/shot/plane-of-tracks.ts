/** A plane from four points that are followed each by itself. */

import { isConvex, type Spot } from '../motion/placing'
import type { Together } from './edits'
import { inOrder, lastRank, newId, rankBetween } from './find'
import { cornerCount, newRegionName } from './regions'
import { isGiven } from './tracks'
import type { Shot, Track, TrackPoint } from './types'

/** The same things, clockwise as they are seen, from the one that is seen nearest to the upper left. */
export function fromUpperLeft<T>(things: readonly T[], seen: (thing: T) => Spot): readonly T[] {
  const spots = things.map((thing) => ({ thing, spot: seen(thing) }))
  const middle = [0, 1].map((axis) => spots.reduce((sum, { spot }) => sum + spot[axis], 0) / spots.length)
  const angle = ([x, y]: Spot) => Math.atan2(y - middle[1], x - middle[0])
  const around = spots.sort((a, b) => angle(a.spot) - angle(b.spot))
  const sums = around.map(({ spot: [x, y] }) => x + y)
  const from = sums.indexOf(Math.min(...sums))
  return [...around.slice(from), ...around.slice(0, from)].map(({ thing }) => thing)
}

/**
 * A region whose corners lie where four tracks are, on the frames on which all of them are known; it is outlined on the first of these, on one where all
 * were set by hand if there is one. What becomes of the tracks later does not change it.
 *
 * @returns null where they are never known together, or three of them lie in a line there
 */
export function planeOfTracks(shot: Shot, tracks: readonly Track[]): Together | null {
  const pointOf = ({ points }: Track, frame: number) => (points as Record<string, TrackPoint | undefined>)[frame]
  const known = Object.keys(tracks[0].points)
    .map(Number)
    .filter((frame) => tracks.every((track) => pointOf(track, frame)))
    .sort((a, b) => a - b)
  if (tracks.length !== cornerCount || known.length === 0) return null
  const isSet = (frame: number) => tracks.every(({ points }) => isGiven(points[frame]))
  const outlined = known.find(isSet) ?? known[0]
  const spotOf = ({ points }: Track): Spot => [points[outlined].x, points[outlined].y]
  const ordered = fromUpperLeft(tracks, spotOf)
  if (!isConvex(ordered.map(spotOf))) return null
  const region = newId()
  const name = newRegionName(shot, 'Plane')
  let rank = lastRank(inOrder(shot.tracks))
  const changes = ordered.map(({ points, model, radius, search }, corner) => {
    const outline: TrackPoint = { x: points[outlined].x, y: points[outlined].y, byHand: true }
    const track: Track = {
      ...{ id: newId(), name: `${name}, corner ${corner + 1}`, rank, model, radius, search },
      region: { id: region, corner, model: 'homography' },
      points: Object.fromEntries(known.map((frame) => [frame, frame === outlined ? outline : points[frame]])),
    }
    rank = rankBetween(rank, null)
    return { kind: 'add-track', track } as const
  })
  return {
    kind: 'together',
    changes,
    label: `Make ${name.toLowerCase()} of ${tracks.map((one) => one.name).join(', ')}`,
  }
}
