/** Gestures: a pointer says more often where it is than the screen can show; the newest word of each screen frame counts. */

import { useEffect, useRef } from 'react'
import { useStore } from 'react-redux'
import { onAll, type Change } from '../../../../core/shot'
import { useAppDispatch } from '../../store'
import { selectDocument, selectElementIds } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'

export interface Gesturing {
  /** while the gesture goes on */
  draft(edit: Change): void
  /** once, at its end */
  commit(edit: Change): void
}

const shared = (state: RootState, edit: Change): Change => {
  const shot = selectDocument(state)
  return shot ? onAll(shot, selectElementIds(state), edit) : edit
}

export function useDraft(): Gesturing {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const waiting = useRef<{ edit: Change; request: number } | null>(null)
  const drop = () => {
    if (waiting.current) cancelAnimationFrame(waiting.current.request)
    waiting.current = null
  }
  useEffect(() => drop, [])
  return {
    draft: (edit) => {
      if (waiting.current) {
        waiting.current.edit = edit
        return
      }
      const request = requestAnimationFrame(() => {
        const newest = waiting.current?.edit
        waiting.current = null
        if (newest) dispatch(shotActions.drafted(shared(store.getState(), newest)))
      })
      waiting.current = { edit, request }
    },
    commit: (edit) => {
      drop()
      dispatch(shotActions.edited(shared(store.getState(), edit)))
    },
  }
}
