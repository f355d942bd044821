/** A number that can be dragged sideways, typed, and stepped with the arrow keys. */

import InputBase from '@mui/material/InputBase'
import Box from '@mui/material/Box'
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react'
import { useAppDispatch } from '../../store'
import { shotActions } from '../../store/shot-slice'
import { typedNumber, typingFault } from './typed-number'

interface DragNumberProps {
  readonly label: string
  readonly value: number
  readonly step: number
  readonly least: number
  readonly most: number
  readonly digits: number
  readonly signed?: boolean
  /** it is as it was at the beginning */
  readonly dim?: boolean
  /** the number has keys; a notch under it says so */
  readonly keyed?: 'here' | 'elsewhere' | null
  /** while dragging */
  readonly onChange: (value: number) => void
  /** once, when the drag ends or a number was typed */
  readonly onCommit: (value: number) => void
}

/** Pixels of movement for one step; with Shift ten times finer. */
const pixelsPerStep = 1
const deadZone = 3

export function DragNumber({
  label,
  value,
  step,
  least,
  most,
  digits,
  signed,
  dim,
  keyed,
  onChange,
  onCommit,
}: DragNumberProps) {
  const dispatch = useAppDispatch()
  const [typed, setTyped] = useState<string | null>(null)
  const drag = useRef<{ x: number; from: number; now: number; moved: boolean } | null>(null)
  const clamp = (number: number) => Math.min(most, Math.max(least, Number(number.toFixed(6))))
  const text = `${signed && value > 0 ? '+' : ''}${value.toFixed(digits)}`

  const onPointerDown = (event: PointerEvent<HTMLElement>) => {
    if (event.button !== 0) return
    event.currentTarget.setPointerCapture(event.pointerId)
    drag.current = { x: event.clientX, from: value, now: value, moved: false }
  }
  const onPointerMove = (event: PointerEvent<HTMLElement>) => {
    const d = drag.current
    if (!d) return
    const distance = event.clientX - d.x
    if (!d.moved && Math.abs(distance) < deadZone) return
    d.moved = true
    const next = clamp(d.from + (distance / pixelsPerStep) * step * (event.shiftKey ? 0.1 : 1))
    if (next === d.now) return
    d.now = next
    onChange(next)
  }
  const onPointerUp = () => {
    const d = drag.current
    drag.current = null
    if (!d) return
    if (d.moved) onCommit(d.now)
    else setTyped(value.toFixed(digits))
  }
  const onKeyDown = (event: KeyboardEvent) => {
    const by = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : 0
    if (by !== 0) {
      event.preventDefault()
      onCommit(clamp(value + by * step * (event.shiftKey ? 10 : 1)))
    } else if (event.key === 'Enter') setTyped(value.toFixed(digits))
  }
  const finishTyping = () => {
    if (typed === null) return
    const number = typedNumber(typed, value)
    const fault = typingFault(label, typed, number, { least, most })
    if (number !== null) onCommit(clamp(number))
    if (fault !== null) dispatch(shotActions.noticed(fault))
    setTyped(null)
  }

  if (typed !== null) {
    return (
      <InputBase
        autoFocus
        value={typed}
        inputProps={{ 'aria-label': label }}
        onChange={(event) => setTyped(event.target.value)}
        onFocus={(event) => event.target.select()}
        onBlur={finishTyping}
        onKeyDown={(event) => (event.key === 'Enter' ? finishTyping() : event.key === 'Escape' && setTyped(null))}
        sx={{
          width: '100%',
          minWidth: 40,
          height: 19,
          px: 0.5,
          fontSize: 12,
          bgcolor: 'background.default',
          '& input': { p: 0, textAlign: 'right' },
        }}
      />
    )
  }
  return (
    <Box
      role="spinbutton"
      tabIndex={0}
      aria-label={label}
      aria-valuenow={value}
      aria-valuetext={text}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={onPointerUp}
      onPointerCancel={() => (drag.current = null)}
      onKeyDown={onKeyDown}
      sx={{
        minWidth: 'min(56px, 100%)',
        height: 19,
        px: 0.5,
        fontSize: 12,
        color: dim ? 'text.secondary' : undefined,
        lineHeight: '19px',
        textAlign: 'right',
        cursor: 'ew-resize',
        userSelect: 'none',
        touchAction: 'none',
        bgcolor: 'action.selected',
        position: 'relative',
        '&:hover': { outline: 1, outlineColor: 'divider' },
        '&:focus-visible': { outline: 1, outlineColor: 'primary.main' },
        // A notch: filled where a key stands on this frame, hollow where keys stand on others.
        '&::after': keyed
          ? {
              content: '""',
              position: 'absolute',
              left: '50%',
              bottom: -1,
              width: 8,
              height: 3,
              ml: '-4px',
              bgcolor: keyed === 'here' ? 'primary.main' : 'transparent',
              border: 1,
              borderColor: 'primary.main',
            }
          : undefined,
      }}
    >
      {text}
    </Box>
  )
}
