/** Tracks to and from files of other programs. */

import { readTrackJson, trackJson } from '../../../../formats/track/track-json'
import { readTrackTable, trackTable, type TableTrack } from '../../../../formats/track/track-table'
import { inOrder, lastRank, newId, rankBetween, type Change, type Shot, type Track } from '../../../../core/shot'

/** What tracks can be written as. */
export const trackFiles = {
  csv: { name: 'table (CSV)', type: 'text/csv', write: trackTable },
  json: { name: 'JSON', type: 'application/json', write: trackJson },
} as const
export type TrackFile = keyof typeof trackFiles

/** Every track of a shot as text. */
export const textOf = (tracks: readonly Track[], as: TrackFile): string =>
  trackFiles[as].write(
    tracks.map(({ name, points }): TableTrack => ({
      name,
      points: Object.entries(points)
        .map(([frame, point]) => ({ frame: Number(frame), point }))
        .sort((a, b) => a.frame - b.frame)
        .map(({ frame, point: { x, y, ...rest } }) =>
          'likeness' in rest ? { frame, x, y, found: rest } : { frame, x, y },
        ),
    })),
  )

/**
 * The edit that brings the tracks of a file into a shot, JSON or a table by its name; what has no errors counts as set by hand.
 *
 * @throws UnusableTrackTableError
 */
export function tracksIn(shot: Shot, text: string, file: string): Change {
  let rank = lastRank(inOrder(shot.tracks))
  const read = /\.json$/i.test(file) ? readTrackJson : readTrackTable
  const changes = read(text, file).map(({ name, points }) => {
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
