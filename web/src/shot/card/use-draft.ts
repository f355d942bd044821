/** Gestures: a pointer says more often where it is than the screen can show; the newest word of each screen frame counts. */

import { useEffect, useRef } from 'react'
import { useStore } from 'react-redux'
import { ownedBy, type Change, type Owner, type SingleChange } from '../../../../core/shot'
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

/** A number of an element or its blend that is changed while several elements are selected is changed on all that have it. */
function onAll(state: RootState, edit: Change): Change {
  if (!('at' in edit)) return edit
  const { owner } = edit.at
  const own = owner.kind === 'element' ? owner.id : owner.kind === 'blend' ? owner.element : null
  const chosen = selectElementIds(state)
  const shot = selectDocument(state)
  if (own === null || !shot || chosen.length < 2 || !chosen.includes(own)) return edit
  const owners = chosen
    .filter((id) => id !== shot.plate)
    .map((id): Owner => (owner.kind === 'element' ? { kind: 'element', id } : { kind: 'blend', element: id }))
  const having = owners.filter((one) => ownedBy(shot, one)?.parameters[edit.at.parameter] !== undefined)
  const changes = having.map((one) => ({ ...edit, at: { ...edit.at, owner: one } }) as SingleChange)
  return { kind: 'together', changes }
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
        if (newest) dispatch(shotActions.drafted(onAll(store.getState(), newest)))
      })
      waiting.current = { edit, request }
    },
    commit: (edit) => {
      drop()
      dispatch(shotActions.edited(onAll(store.getState(), edit)))
    },
  }
}
