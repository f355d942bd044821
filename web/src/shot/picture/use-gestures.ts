/** Hands what the pointer does on the picture to the tool in hand. */

import type { UnknownAction } from '@reduxjs/toolkit'
import { useRef, useState, type KeyboardEvent, type MouseEvent, type PointerEvent } from 'react'
import { useStore } from 'react-redux'
import { newSample } from '../../../../core/shot'
import { useEngine } from '../../engine/engine-context'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectDrawn, selectElementId, selectPlan } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { viewChanged, type Point, type Region } from '../../store/view'
import { dragHandle, handleAt, isPick, tools, type Gesture, type Pointed } from '../tools'
import { useDraft } from '../card/use-draft'
import { pickElement } from './pick-element'
import { plateAt, type Placement, type Size } from './placement'

/** A hand that means to press moves less, in screen pixels. */
const trembling = 3

/** Handles are of the document as it is without the gesture. */
const handlesOfState = (state: RootState) => ({
  view: state.view,
  shot: selectDocument(state),
  selected: selectDrawn(state),
})

/** @param frame full-scale size of the picture */
export function useGestures(frame: Size, placement: Placement) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const engine = useEngine()
  const { draft } = useDraft()
  const tool = useAppSelector((state) => tools[state.view.screen.tool])
  const under = useRef<{ gesture: Gesture; from: Point; moved: boolean } | null>(null)
  const [region, setRegion] = useState<Region | null>(null)
  const [screen, setScreen] = useState<Point>({ x: 0, y: 0 })
  const [overHandle, setOverHandle] = useState(false)

  const pointed = (event: PointerEvent<HTMLElement>): Pointed => {
    const bounds = event.currentTarget.getBoundingClientRect()
    const at = { x: event.clientX - bounds.left, y: event.clientY - bounds.top }
    const point = plateAt(placement, at.x, at.y)
    const [x, y] = [Math.floor(point.x), Math.floor(point.y)]
    const inside = x >= 0 && y >= 0 && x < frame.width && y < frame.height
    return {
      screen: at,
      point,
      pixel: inside ? { x, y } : null,
      shift: event.shiftKey,
      control: event.ctrlKey || event.metaKey,
    }
  }
  const follow = (at: Pointed) => {
    const state = store.getState()
    const { view } = state
    setOverHandle(handleAt(handlesOfState(state), placement, at.screen) !== null)
    if (view.comparing.loupe) setScreen(at.screen)
    const { pixel } = at
    const before = view.framing.pointer
    if (pixel?.x !== before?.x || pixel?.y !== before?.y) dispatch(viewChanged({ framing: { pointer: pixel } }))
  }
  const select = async (at: Point) => {
    const state = store.getState()
    const [shot, plan] = [selectDocument(state), selectPlan(state)]
    if (!shot || !plan) return
    // What cannot be read is said by the picture itself.
    const id = await pickElement(engine, plan, shot, at).catch(() => null)
    if (id !== null) dispatch(shotActions.selected(id))
  }
  const end = () => {
    under.current = null
    setRegion(null)
  }
  const handlers = {
    // Dragging with Shift would select text all over the page.
    onMouseDown: (event: MouseEvent<HTMLElement>) => event.preventDefault(),
    onPointerDown: (event: PointerEvent<HTMLElement>) => {
      event.currentTarget.setPointerCapture(event.pointerId)
      const at = pointed(event)
      const state = store.getState()
      const { view } = state
      const shot = selectDocument(state)
      if (!shot) return
      const handle = handleAt(handlesOfState(state), placement, at.screen)
      const selected = selectElementId(state)
      const gesture = handle
        ? dragHandle(handle, placement.zoom)
        : tool.down(at, { view, shot, frame, placement, selected, drawn: selectDrawn(state) })
      under.current = { gesture, from: at.screen, moved: false }
    },
    onPointerMove: (event: PointerEvent<HTMLElement>) => {
      const at = pointed(event)
      const now = under.current
      if (!now) return follow(at)
      now.moved ||= Math.hypot(at.screen.x - now.from.x, at.screen.y - now.from.y) > trembling
      if (!now.moved) return
      const changes = now.gesture.move(at)
      if (changes) dispatch(viewChanged(changes))
      const edit = now.gesture.draft?.(at)
      if (edit) {
        // The values under the hand are read for each picture, and nobody reads them while it moves something.
        if (store.getState().view.framing.pointer) dispatch(viewChanged({ framing: { pointer: null } }))
        draft(edit)
      }
      setRegion(now.gesture.region?.() ?? null)
    },
    onPointerUp: (event: PointerEvent<HTMLElement>) => {
      const now = under.current
      const action = now?.gesture.up(pointed(event), now.moved)
      if (action && isPick(action)) void select(action.pick)
      else if (action) [action].flat().forEach((one) => dispatch(one as UnknownAction))
      end()
    },
    onPointerCancel: () => {
      if (under.current?.gesture.draft) dispatch(shotActions.drafted(null))
      end()
    },
    onPointerLeave: () => dispatch(viewChanged({ framing: { pointer: null } })),
    onKeyDown: (event: KeyboardEvent<HTMLElement>) => {
      const state = store.getState()
      const { framing } = state.view
      const shot = selectDocument(state)
      // Without a pointer, the middle of what is seen is kept.
      if (!shot || event.key !== 'Enter' || event.target !== event.currentTarget) return
      const middle = framing.zoom === null ? { x: frame.width / 2, y: frame.height / 2 } : framing.centre
      const { x, y } = framing.pointer ?? middle
      const region = { x: Math.floor(x), y: Math.floor(y), width: 1, height: 1 }
      dispatch(shotActions.edited({ kind: 'keep-sample', sample: newSample(shot, region) }))
    },
  }
  return { region, screen, cursor: overHandle ? 'move' : tool.cursor, handlers }
}
