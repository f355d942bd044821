/** A track that goes on by another one where what it was followed by cannot be seen. */

import type { SetTrackPoints } from './edits/tracks'
import type { FrameRange, Track, TrackPoint } from './types'

const fine = (value: number) => Math.round(value * 1e4) / 1e4
const known = ({ points }: Track, frame: number) => (points as Record<string, TrackPoint | undefined>)[frame]
const errorOf = (point: TrackPoint, axis: 'across' | 'down') => (axis in point ? point[axis as never] : 0) as number

/** Whether both are known on the frame, and the other on frames on which the track is not. */
export function canContinueBy(track: Track, other: Track, frame: number, { first, last }: FrameRange): boolean {
  if (track.id === other.id || !known(track, frame) || !known(other, frame)) return false
  return Object.keys(other.points)
    .map(Number)
    .some((at) => at >= first && at <= last && !known(track, at))
}

/**
 * On frames of the shot on which it is not known, it goes as the other does, as far from it as on the frame. Errors of the distance
 * and of the other add up in squares.
 *
 * @returns null where it cannot, as `canContinueBy` says
 */
export function continuedBy(track: Track, other: Track, frame: number, range: FrameRange): SetTrackPoints | null {
  const [own, beside] = [known(track, frame), known(other, frame)]
  if (!own || !beside || !canContinueBy(track, other, frame, range)) return null
  const [dx, dy] = [own.x - beside.x, own.y - beside.y]
  const error = (point: TrackPoint, axis: 'across' | 'down') =>
    fine(Math.hypot(errorOf(point, axis), errorOf(own, axis), errorOf(beside, axis)))
  const points = Object.entries(other.points)
    .filter(([at]) => Number(at) >= range.first && Number(at) <= range.last && !known(track, Number(at)))
    .map(([at, point]): [string, TrackPoint] => [
      at,
      {
        ...{ x: fine(point.x + dx), y: fine(point.y + dy) },
        ...{ across: error(point, 'across'), down: error(point, 'down') },
        likeness: 'likeness' in point ? point.likeness : 1,
      },
    ])
  return { kind: 'set-track-points', track: track.id, points: Object.fromEntries(points) }
}
