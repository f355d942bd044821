/** Listens to the keyboard; what the shortcuts do is in shortcuts.ts. */

import { useEffect } from 'react'
import { useStore } from 'react-redux'
import type { AppStore } from '../store'
import type { RootState } from '../store/state'
import { viewChanged, type ViewChanges } from '../store/view'
import { shortcutFor } from './shortcuts'

/** A key let go sooner was tapped: its look stays until it is tapped again. */
const tapMs = 250

/** Boxes are ticked, not typed into. */
const isBox = (target: EventTarget | null) =>
  target instanceof HTMLInputElement && (target.type === 'checkbox' || target.type === 'radio')

function typing(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    !isBox(target) &&
    (target.tagName === 'INPUT' || target.tagName === 'TEXTAREA' || target.isContentEditable)
  )
}

/** The values that the view has now of what a look changes. */
function now({ view }: RootState, look: ViewChanges): ViewChanges {
  const partOf = (slice: object, changes: object) =>
    Object.fromEntries(Object.keys(changes).map((name) => [name, slice[name as keyof typeof slice]]))
  const slices = Object.keys(look) as (keyof ViewChanges)[]
  return Object.fromEntries(slices.map((slice) => [slice, partOf(view[slice], look[slice] ?? {})]))
}

interface Held {
  readonly before: ViewChanges
  readonly at: number
  /** pressed and looking; tapped and staying; pressed again to end what stayed */
  readonly state: 'held' | 'stays' | 'ending'
}

export function useShortcuts(): void {
  const store = useStore() as unknown as AppStore
  useEffect(() => {
    const held = new Map<string, Held>()
    const onDown = (event: KeyboardEvent) => {
      // Whoever has taken the key already (an element that is being moved) keeps it.
      if (event.defaultPrevented || typing(event.target)) return
      const shortcut = shortcutFor(event)
      if (!shortcut) return
      if ('act' in shortcut) {
        if (event.code === 'Space' && (event.target instanceof HTMLButtonElement || isBox(event.target))) return
        event.preventDefault()
        shortcut.act(store.getState(), store.dispatch, event.shiftKey)
        return
      }
      if (event.repeat) return
      const last = held.get(shortcut.code)
      if (last?.state === 'stays') {
        held.set(shortcut.code, { ...last, state: 'ending' })
        store.dispatch(viewChanged(last.before))
        return
      }
      held.set(shortcut.code, { before: now(store.getState(), shortcut.look), at: event.timeStamp, state: 'held' })
      store.dispatch(viewChanged(shortcut.look))
    }
    const onUp = (event: KeyboardEvent) => {
      const look = held.get(event.code)
      if (!look || look.state === 'stays') return
      if (look.state === 'held' && event.timeStamp - look.at < tapMs) {
        held.set(event.code, { ...look, state: 'stays' })
        return
      }
      held.delete(event.code)
      if (look.state === 'held') store.dispatch(viewChanged(look.before))
    }
    // What is held when the window is left is let go elsewhere.
    const onBlur = () => {
      for (const [code, look] of held) {
        if (look.state === 'stays') continue
        held.delete(code)
        if (look.state === 'held') store.dispatch(viewChanged(look.before))
      }
    }
    window.addEventListener('keydown', onDown)
    window.addEventListener('keyup', onUp)
    window.addEventListener('blur', onBlur)
    return () => {
      window.removeEventListener('keydown', onDown)
      window.removeEventListener('keyup', onUp)
      window.removeEventListener('blur', onBlur)
    }
  }, [store])
}
