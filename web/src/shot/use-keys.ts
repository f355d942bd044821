/** The keyboard: platform conventions, and keys that are held to look (docs/decisions/0005-keys.md). */

import { useEffect } from 'react'
import { useStore } from 'react-redux'
import type { AppStore } from '../store'
import type { RootState } from '../store/state'
import { shotActions } from '../store/shot-slice'
import { viewActions, type Shown } from '../store/view-slice'

const held: Readonly<Record<string, Shown>> = { KeyP: 'plate', KeyE: 'element' }
const latchMs = 350

function typing(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.tagName === 'INPUT' || target.tagName === 'TEXTAREA' || target.isContentEditable)
  )
}

function step(state: RootState, by: number): number {
  const frames = state.shot.shot?.frames
  return frames ? Math.min(frames.last, Math.max(frames.first, state.view.frame + by)) : state.view.frame
}

function pressed(event: KeyboardEvent, state: RootState, dispatch: AppStore['dispatch']): boolean {
  const command = event.ctrlKey || event.metaKey
  if (command && event.code === 'KeyZ') dispatch(event.shiftKey ? shotActions.redone() : shotActions.undone())
  else if (command && event.code === 'KeyY') dispatch(shotActions.redone())
  else if (command || event.altKey) return false
  else if (event.code === 'Space' && !(event.target instanceof HTMLButtonElement)) dispatch(viewActions.playToggled())
  else if (event.code === 'ArrowLeft')
    dispatch(viewActions.viewChanged({ frame: step(state, event.shiftKey ? -10 : -1) }))
  else if (event.code === 'ArrowRight')
    dispatch(viewActions.viewChanged({ frame: step(state, event.shiftKey ? 10 : 1) }))
  else if (event.code === 'Home') dispatch(viewActions.viewChanged({ frame: step(state, -1e9) }))
  else if (event.code === 'End') dispatch(viewActions.viewChanged({ frame: step(state, 1e9) }))
  else if (event.code === 'Backquote') dispatch(viewActions.viewChanged({ alone: !state.view.alone }))
  else if (event.code === 'Digit0') dispatch(viewActions.viewChanged({ zoom: null }))
  else return false
  return true
}

export function useKeys(): void {
  const store = useStore() as unknown as AppStore
  useEffect(() => {
    let lastPress = { code: '', at: 0 }
    let latched = false
    const onDown = (event: KeyboardEvent) => {
      if (typing(event.target)) return
      const shown = event.ctrlKey || event.metaKey ? undefined : held[event.code]
      if (shown) {
        if (event.repeat) return
        latched = lastPress.code === event.code && event.timeStamp - lastPress.at < latchMs && !latched
        lastPress = { code: event.code, at: event.timeStamp }
        store.dispatch(viewActions.viewChanged({ shown }))
      } else if (pressed(event, store.getState(), store.dispatch)) event.preventDefault()
    }
    const onUp = (event: KeyboardEvent) => {
      if (held[event.code] && !latched) store.dispatch(viewActions.viewChanged({ shown: 'composite' }))
    }
    window.addEventListener('keydown', onDown)
    window.addEventListener('keyup', onUp)
    return () => {
      window.removeEventListener('keydown', onDown)
      window.removeEventListener('keyup', onUp)
    }
  }, [store])
}
