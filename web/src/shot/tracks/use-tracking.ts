/** Tracks what is wanted, on the server: seen as it is found, stopped by any key, and one edit in the end. */

import { useEffect } from 'react'
import { useStore } from 'react-redux'
import {
  cornersOfRegion,
  find,
  isGiven,
  nameOfRegion,
  outlinedOn,
  stretchesAround,
  stretchesFrom,
  type Change,
  type CornersFound,
  type SetTrackPoints,
  type Track,
  type TrackPoint,
} from '../../../../core/shot'
import { cancelWork, trackOnServer } from '../../api/client'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { tabName } from '../../store/tab'
import { trackingActions } from '../../store/tracking'

/** What was found is shown at most so often, in ms. */
const restBetween = 150
/** Keys that are held to press others. */
const holding = ['Shift', 'Control', 'Alt', 'Meta']

export function useTracking(): void {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const wanted = useAppSelector((state) => state.tracking.wanted)
  useEffect(() => {
    if (!wanted) return
    const state = store.getState()
    const shot = selectDocument(state)
    const track = shot && find(shot.tracks, wanted.track)
    if (!shot || !track || state.shot.id === null) {
      dispatch(trackingActions.ended(null))
      return
    }
    const stopping = new AbortController()
    const stop = (event: KeyboardEvent) => {
      if (holding.includes(event.key)) return
      event.preventDefault()
      event.stopPropagation()
      stopping.abort()
    }
    window.addEventListener('keydown', stop, { capture: true })
    const { way, frame } = wanted
    const corners = track.region && cornersOfRegion(shot, track.region.id)
    // A region is looked for as it was outlined, on the frame where that was.
    const from = corners ? soleAnchor(track, outlinedOn(corners)) : track
    const stretches =
      way === 'around' ? stretchesAround(from, frame, shot.frames) : stretchesFrom(from, frame, way, shot.frames)
    const frames: Record<string, CornersFound> = {}
    const soFar = () => pointsFound(corners ?? [track], frames)
    let shownAt = 0
    let left = false
    const show = (at: number, points: CornersFound) => {
      frames[at] = points
      if (left || performance.now() - shownAt < restBetween) return
      shownAt = performance.now()
      dispatch(trackingActions.found(Object.keys(frames).length))
      dispatch(shotActions.drafted(soFar()))
    }
    const as = { id: crypto.randomUUID(), tab: tabName(), baseRevision: state.shot.revision }
    const keep = (edit: Change, id?: string) => {
      dispatch(saysSomething(edit) ? shotActions.edited(edit, id) : shotActions.drafted(null))
      dispatch(trackingActions.ended(null))
    }
    const body = { track, stretches, as, ...(corners ? { corners } : {}) }
    trackOnServer(state.shot.id, body, show, stopping.signal).then(
      // The server has made this edit already: sent once more it counts once.
      (edit) => left || keep(edit, as.id),
      (error: Error) => {
        if (left) return
        // Stopped: what was found is kept.
        if (stopping.signal.aborted) {
          void cancelWork(as.id).catch(() => undefined)
          keep(soFar())
        } else {
          dispatch(shotActions.drafted(null))
          dispatch(trackingActions.ended({ track: track.id, sentence: error.message }))
        }
      },
    )
    return () => {
      left = true
      stopping.abort()
      window.removeEventListener('keydown', stop, { capture: true })
    }
  }, [wanted, dispatch, store])
}

/** The track with nothing set by hand but on one frame: a region is looked for from there only. */
function soleAnchor(track: Track, frame: number | null): Track {
  if (frame === null) return track
  const points = Object.entries(track.points).map(([at, point]): [string, TrackPoint] => [
    at,
    isGiven(point) && Number(at) !== frame ? { x: point.x, y: point.y, across: 0, down: 0, likeness: 1 } : point,
  ])
  return { ...track, points: Object.fromEntries(points) }
}

/** What was found so far, as an edit: of one track, or of all corners of a region. */
function pointsFound(tracks: readonly Track[], frames: Readonly<Record<string, CornersFound>>): Change {
  const changes = tracks.map(({ id }): SetTrackPoints => ({
    ...{ kind: 'set-track-points', track: id },
    points: Object.fromEntries(
      Object.entries(frames).flatMap(([frame, points]) => (Object.hasOwn(points, id) ? [[frame, points[id]]] : [])),
    ),
  }))
  return changes.length === 1
    ? changes[0]
    : { kind: 'together', changes, label: `${nameOfRegion(tracks[0])}, as far as it was tracked` }
}

function saysSomething(change: Change): boolean {
  if (change.kind === 'together') return change.changes.some(saysSomething)
  if (change.kind !== 'set-track-points') return true
  return Object.keys(change.points).length + Object.keys(change.lost ?? {}).length > 0
}
