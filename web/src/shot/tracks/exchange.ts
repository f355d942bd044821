/** Tracks to and from tables of other programs. */

import { readTrackTable, trackTable, type TableTrack } from '../../../../formats/track/track-table'
import { inOrder, lastRank, newId, rankBetween, type Change, type Shot, type Track } from '../../../../core/shot'

/** Every track of a shot as text. */
export const tableOf = (tracks: readonly Track[]): string =>
  trackTable(
    tracks.map(({ name, points }): TableTrack => ({
      name,
      points: Object.entries(points)
        .map(([frame, point]) => ({ frame: Number(frame), point }))
        .sort((a, b) => a.frame - b.frame)
        .map(({ frame, point: { x, y, ...rest } }) =>
          'byHand' in rest ? { frame, x, y } : { frame, x, y, found: rest },
        ),
    })),
  )

/**
 * The edit that brings the tracks of a table into a shot; what has no errors counts as set by hand.
 *
 * @throws UnusableTrackTableError
 */
export function tracksIn(shot: Shot, text: string, file: string): Change {
  let rank = lastRank(inOrder(shot.tracks))
  const changes = readTrackTable(text, file).map(({ name, points }) => {
    const track: Track = {
      ...{ id: newId(), name: name.slice(0, 200), rank, model: 'translation', radius: 10, search: 12 },
      points: Object.fromEntries(
        points.map(({ frame, x, y, found }) => [frame, found ? { x, y, ...found } : { x, y, byHand: true }]),
      ),
    }
    rank = rankBetween(rank, null)
    return { kind: 'add-track', track } as const
  })
  return {
    kind: 'together',
    changes,
    label: `Import ${changes.length === 1 ? 'a track' : `${changes.length} tracks`} from ${file}`,
  }
}
