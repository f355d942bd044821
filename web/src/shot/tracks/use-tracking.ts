/** Tracks what is wanted, on the server: seen as it is found, stopped by any key, and one edit in the end. */

import { useEffect } from 'react'
import { useStore } from 'react-redux'
import { find, stretchesAround, stretchesFrom, type SetTrackPoints, type TrackPoint } from '../../../../core/shot'
import { trackOnServer } from '../../api/client'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
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
    const stretches =
      way === 'around' ? stretchesAround(track, frame, shot.frames) : stretchesFrom(track, frame, way, shot.frames)
    const points: Record<string, TrackPoint> = {}
    const soFar = (): SetTrackPoints => ({ kind: 'set-track-points', track: track.id, points: { ...points } })
    let shownAt = 0
    let left = false
    const show = (at: number, point: TrackPoint) => {
      points[at] = point
      if (left || performance.now() - shownAt < restBetween) return
      shownAt = performance.now()
      dispatch(trackingActions.found(Object.keys(points).length))
      dispatch(shotActions.drafted(soFar()))
    }
    const keep = (edit: SetTrackPoints) => {
      const some = Object.keys(edit.points).length + Object.keys(edit.lost ?? {}).length > 0
      dispatch(some ? shotActions.edited(edit) : shotActions.drafted(null))
      dispatch(trackingActions.ended(null))
    }
    trackOnServer(state.shot.id, { track, stretches }, show, stopping.signal).then(
      (edit) => left || keep(edit),
      (error: Error) => {
        if (left) return
        // Stopped, or broken off: what was found is kept.
        if (stopping.signal.aborted) keep(soFar())
        else {
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
