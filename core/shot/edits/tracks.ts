/** Edits of tracks: points of the plate that are followed from frame to frame. */

import { object, string } from 'yup'
import { find } from '../find'
import { ImpossibleEditError } from '../impossible-edit'
import { mostTracks } from '../limits'
import {
  byFrame,
  faultOf,
  id,
  ifThere,
  lostWhy,
  orNull,
  patternModel,
  planeShapeSchema,
  text,
  trackPointSchema,
  trackRadius,
  trackSchema,
  trackSearch,
} from '../schema'
import type { PatternSize } from '../../track'
import { regionWays, type RegionWay } from '../../track/pattern-models'
import type { PlaneShape, Shot, Track, TrackPoint } from '../types'
import { editKind, put, take, trackIn } from './kind'

export interface AddTrack {
  readonly kind: 'add-track'
  readonly track: Track
}
export interface SetTrack {
  readonly kind: 'set-track'
  readonly track: string
  readonly changes: Partial<Pick<Track, 'name' | 'model' | 'radius' | 'search'>> & {
    /** of a region's corner: how the region may change */
    readonly regionModel?: RegionWay
    /** of a region's corner: the matte whose inside is left out; null: none */
    readonly leavesOut?: string | null
    /** of a region's corner: what is known of it as a flat rectangle; null: nothing */
    readonly plane?: PlaneShape | null
  }
}
/** Where it is on some frames, and where it was lost; null: nothing is known of the frame any more. */
export interface SetTrackPoints {
  readonly kind: 'set-track-points'
  readonly track: string
  readonly points: Readonly<Record<string, TrackPoint | null>>
  readonly lost?: Readonly<Record<string, string | null>>
  /** as large a pattern was followed, and looked for so far: measured, since nobody had chosen them */
  readonly size?: PatternSize
}
export interface RemoveTrack {
  readonly kind: 'remove-track'
  readonly track: string
}

const fields = (shape: Parameters<typeof object>[0]) => object(shape).noUnknown().strict().required()
const trackName = ({ tracks }: Shot, wanted: string) => find(tracks, wanted)?.name ?? wanted

function checkShape(track: unknown): void {
  const fault = faultOf(trackSchema, JSON.parse(JSON.stringify(track)))
  if (fault) throw new ImpossibleEditError(`The track: ${fault}.`)
}

/** Values by frame into those that are there; null takes one away. */
function putByFrame<T>(into: Record<string, T>, changes: Readonly<Record<string, T | null>>): void {
  for (const [frame, value] of Object.entries(changes))
    if (value === null) delete into[frame]
    else into[frame] = value
}

export const addTrack = editKind<AddTrack>({
  kind: 'add-track',
  schema: fields({ kind: string().required(), track: trackSchema }),
  apply(draft, { track }) {
    if (Object.keys(draft.tracks.byId).length >= mostTracks)
      throw new ImpossibleEditError(`A shot has at most ${mostTracks} tracks. Remove some first.`)
    put(draft.tracks, track, 'track')
  },
  sentence: (_shot, { track }) => `Track ${track.name}`,
})

export const setTrack = editKind<SetTrack>({
  kind: 'set-track',
  schema: fields({
    kind: string().required(),
    track: id(),
    changes: fields({
      name: text().notRequired(),
      model: patternModel().notRequired(),
      radius: trackRadius().notRequired(),
      search: trackSearch().notRequired(),
      regionModel: string()
        .oneOf([...regionWays])
        .notRequired(),
      leavesOut: ifThere(orNull(id())),
      plane: ifThere(orNull(planeShapeSchema().required())),
    }),
  }),
  apply(draft, { track: named, changes }) {
    const track = trackIn(draft, named)
    const { regionModel, leavesOut, plane, ...own } = changes
    const { region } = track
    if (regionModel !== undefined || leavesOut !== undefined || plane !== undefined) {
      if (!region) throw new ImpossibleEditError(`${track.name} is no corner of a region.`)
      if (regionModel !== undefined) region.model = regionModel
      if (leavesOut === null) delete region.leavesOut
      else if (leavesOut !== undefined) region.leavesOut = leavesOut
      if (plane === null) delete region.plane
      else if (plane !== undefined) region.plane = plane
    }
    Object.assign(track, own)
    if (own.radius !== undefined || own.search !== undefined) delete track.unsized
    checkShape(track)
  },
  sentence(shot, { track, changes }) {
    const name = trackName(shot, track)
    return changes.name === undefined ? `How track ${name} is looked for` : `Rename track ${name} to ${changes.name}`
  },
})

export const setTrackPoints = editKind<SetTrackPoints>({
  kind: 'set-track-points',
  schema: fields({
    kind: string().required(),
    track: id(),
    points: byFrame(orNull(trackPointSchema)),
    lost: ifThere(byFrame(orNull(lostWhy()))),
    size: ifThere(fields({ radius: trackRadius().required(), search: trackSearch().required() })),
  }),
  apply(draft, { track: named, points, lost = {}, size }) {
    const track = trackIn(draft, named)
    if (size) {
      Object.assign(track, size)
      delete track.unsized
    }
    putByFrame(track.points as Record<string, TrackPoint>, points)
    if (Object.keys(track.points).length === 0)
      throw new ImpossibleEditError(`Track ${track.name} would be nowhere. Remove the track instead.`)
    const where = { ...track.lost }
    putByFrame(where, lost)
    // Where it is known it is lost no more.
    for (const [frame, point] of Object.entries(points)) if (point) delete where[frame]
    if (Object.keys(where).length > 0) track.lost = where
    else delete track.lost
  },
  sentence(shot, { track, points }) {
    const name = trackName(shot, track)
    const frames = Object.keys(points)
    const [one] = Object.values(points)
    if (frames.length === 1 && one && 'byHand' in one) return `Track ${name} set by hand on frame ${frames[0]}`
    return `Track ${name} on ${frames.length} ${frames.length === 1 ? 'frame' : 'frames'}`
  },
})

/** What moves with it stays, and says that it is gone. */
export const removeTrack = editKind<RemoveTrack>({
  kind: 'remove-track',
  schema: fields({ kind: string().required(), track: id() }),
  apply(draft, { track }) {
    trackIn(draft, track)
    take(draft.tracks, track)
  },
  sentence: (shot, { track }) => `Remove track ${trackName(shot, track)}`,
})
