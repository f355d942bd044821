/** Gestures: a pointer says more often where it is than the screen can show; the newest word of each screen frame counts. */

import { useEffect, useRef } from 'react'
import type { Change } from '../../../../core/shot'
import { useAppDispatch } from '../../store'
import { shotActions } from '../../store/shot-slice'

export interface Gesturing {
  /** while the gesture goes on */
  draft(edit: Change): void
  /** once, at its end */
  commit(edit: Change): void
}

export function useDraft(): Gesturing {
  const dispatch = useAppDispatch()
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
        if (newest) dispatch(shotActions.drafted(newest))
      })
      waiting.current = { edit, request }
    },
    commit: (edit) => {
      drop()
      dispatch(shotActions.edited(edit))
    },
  }
}
