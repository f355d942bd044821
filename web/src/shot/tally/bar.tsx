/** When an element is there: its bar is dragged to move it in time, with Alt to slip what is in it, its ends to trim it. */

import Box from '@mui/material/Box'
import { useRef, type KeyboardEvent, type PointerEvent } from 'react'
import { useStore } from 'react-redux'
import { movedBars, type BarPart, type FrameRange } from '../../../../core/shot'
import { useAppDispatch } from '../../store'
import { selectDocument, selectElementIds } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { useDraft } from '../card/use-draft'
import { countOf, shareOf } from './time-axis'

interface BarProps {
  readonly there: FrameRange
  readonly frames: FrameRange
  /** whose time it is; undefined: it cannot be moved */
  readonly element?: string
  readonly name: string
}

interface Drag {
  readonly x: number
  readonly perFrame: number
  readonly part: BarPart
  by: number
}

export function Bar({ there, frames, element, name }: BarProps) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const { draft, commit } = useDraft()
  const drag = useRef<Drag | null>(null)
  const [first, last] = [Math.max(there.first, frames.first), Math.min(there.last, frames.last)]
  if (last < first) return null
  const half = 0.5 / countOf(frames)

  /** All that is selected is moved along. */
  const moved = (part: BarPart, by: number) => {
    const state = store.getState()
    const shot = selectDocument(state)
    const chosen = selectElementIds(state)
    if (!shot || element === undefined) return { edit: null, fault: null }
    return movedBars(shot, chosen.includes(element) ? chosen : [element], part, by)
  }
  const move = (part: BarPart, by: number, end: boolean) => {
    const { edit, fault } = moved(part, by)
    if (edit) (end ? commit : draft)(edit)
    else {
      dispatch(shotActions.drafted(null))
      if (fault !== null && end) dispatch(shotActions.noticed(fault))
    }
  }
  const begin = (event: PointerEvent<HTMLElement>, part: BarPart) => {
    if (element === undefined) return
    // The row below would move the playhead.
    event.stopPropagation()
    event.currentTarget.setPointerCapture(event.pointerId)
    const axis = event.currentTarget.closest('[data-axis]')?.getBoundingClientRect()
    drag.current = { x: event.clientX, perFrame: (axis?.width ?? 1) / countOf(frames), part, by: 0 }
  }
  const follow = (event: PointerEvent<HTMLElement>) => {
    const now = drag.current
    if (!now) return
    event.stopPropagation()
    const by = Math.round((event.clientX - now.x) / now.perFrame)
    if (by === now.by) return
    now.by = by
    move(now.part, by, false)
  }
  const end = (event: PointerEvent<HTMLElement>) => {
    const now = drag.current
    drag.current = null
    if (!now) return
    event.stopPropagation()
    if (now.by !== 0) move(now.part, now.by, true)
  }
  const handlers = (part: (event: PointerEvent<HTMLElement>) => BarPart) => ({
    onPointerDown: (event: PointerEvent<HTMLElement>) => begin(event, part(event)),
    onPointerMove: follow,
    onPointerUp: end,
    onPointerCancel: end,
  })
  const onKey = (event: KeyboardEvent, part: BarPart) => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
    if (by === undefined) return
    event.preventDefault()
    event.stopPropagation()
    move(event.altKey ? 'slip' : part, by * (event.shiftKey ? 10 : 1), true)
  }
  const grip = (part: 'begin' | 'end') => (
    <Box
      role="button"
      aria-label={`${part === 'begin' ? 'Begin' : 'End'} of ${name}`}
      tabIndex={0}
      {...handlers(() => part)}
      onKeyDown={(event: KeyboardEvent) => onKey(event, part)}
      sx={{
        position: 'absolute',
        [part === 'begin' ? 'left' : 'right']: -3,
        top: -3,
        width: 7,
        height: 11,
        cursor: 'ew-resize',
        borderLeft: part === 'begin' ? 2 : 0,
        borderRight: part === 'end' ? 2 : 0,
        borderColor: 'text.secondary',
      }}
    />
  )
  return (
    <Box
      role={element === undefined ? 'img' : 'button'}
      aria-label={`There from ${there.first} to ${there.last}`}
      title={element === undefined ? undefined : 'Drag to move it in time, with Alt to slip what is in it'}
      tabIndex={element === undefined ? undefined : 0}
      {...handlers((event) => (event.altKey ? 'slip' : 'bar'))}
      onKeyDown={(event: KeyboardEvent) => onKey(event, 'bar')}
      sx={{
        position: 'absolute',
        left: `${(shareOf(first, frames) - half) * 100}%`,
        right: `${(1 - shareOf(last, frames) - half) * 100}%`,
        top: 5,
        height: 7,
        bgcolor: 'action.selected',
        border: 1,
        borderColor: 'divider',
        cursor: element === undefined ? undefined : 'grab',
        touchAction: 'none',
      }}
    >
      {element !== undefined && grip('begin')}
      {element !== undefined && grip('end')}
    </Box>
  )
}
