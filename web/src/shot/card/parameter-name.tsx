/** The name of a parameter: dragged, it moves all channels together; pressed, it offers keyframe and reset, and says what it does. */

import Box from '@mui/material/Box'
import Divider from '@mui/material/Divider'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import Typography from '@mui/material/Typography'
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react'
import type { ParameterDescription } from '../../../../core/treatments'

interface ParameterNameProps {
  readonly parameter: ParameterDescription
  readonly values: readonly number[]
  readonly changed: boolean
  readonly keyedHere: boolean
  /** its channels are changed together */
  readonly linked: boolean
  readonly onLink: () => void
  readonly onDrag: (values: number[]) => void
  readonly onDone: (values: number[]) => void
  readonly onKeyframe: () => void
  readonly onReset: () => void
}

const deadZone = 3
const menuWidth = 260

export function ParameterName(props: ParameterNameProps) {
  const { parameter, values, changed, keyedHere, linked, onLink, onDrag, onDone, onKeyframe, onReset } = props
  const { label, unit, help, channels, step, least, most, initial } = parameter
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const drag = useRef<{ x: number; from: readonly number[]; now: number[] | null } | null>(null)
  const clamped = (value: number) => Math.min(most, Math.max(least, Number(value.toFixed(6))))
  const moved = (event: PointerEvent, from: readonly number[], x: number) => {
    const by = (event.clientX - x) * step * (event.shiftKey ? 0.1 : 1)
    return from.map((value) => clamped(value + by))
  }
  const steps = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }
  const onKeyDown = (event: KeyboardEvent<HTMLElement>) => {
    if (event.key === 'Enter') return setAnchor(event.currentTarget)
    if (!Object.hasOwn(steps, event.key)) return
    event.preventDefault()
    event.stopPropagation()
    const by = steps[event.key as keyof typeof steps] * step * (event.shiftKey ? 10 : 1)
    onDone(values.map((value) => clamped(value + by)))
  }
  const act = (what: () => void) => () => {
    setAnchor(null)
    what()
  }
  return (
    <>
      <Typography
        variant="body2"
        noWrap
        role="spinbutton"
        tabIndex={0}
        aria-haspopup="menu"
        aria-label={channels === 3 ? `${label}, all channels` : `${label}, more`}
        aria-valuetext={values.join(', ')}
        onKeyDown={onKeyDown}
        sx={{
          cursor: 'ew-resize',
          userSelect: 'none',
          touchAction: 'none',
          color: changed ? 'text.primary' : 'text.secondary',
          '&:focus-visible': { outline: 1, outlineColor: 'primary.main' },
        }}
        onPointerDown={(event) => {
          if (event.button !== 0) return
          event.currentTarget.setPointerCapture(event.pointerId)
          drag.current = { x: event.clientX, from: values, now: null }
        }}
        onPointerMove={(event) => {
          const d = drag.current
          if (!d || (!d.now && Math.abs(event.clientX - d.x) < deadZone)) return
          d.now = moved(event, d.from, d.x)
          onDrag(d.now)
        }}
        onPointerUp={(event) => {
          const d = drag.current
          drag.current = null
          if (d?.now) onDone(d.now)
          else if (d) setAnchor(event.currentTarget)
        }}
        onPointerCancel={() => (drag.current = null)}
      >
        {label}
        {unit && <Box component="span" sx={{ color: 'text.secondary' }}>{` ${unit}`}</Box>}
      </Typography>
      {anchor && (
        <Menu open anchorEl={anchor} onClose={() => setAnchor(null)}>
          <MenuItem dense onClick={act(onKeyframe)}>
            {keyedHere ? `Remove the keyframe of ${label}` : `Set a keyframe of ${label}`}
          </MenuItem>
          {channels === 3 && (
            <MenuItem dense onClick={act(onLink)}>
              {linked ? `Change the channels of ${label} apart` : `Change the channels of ${label} together`}
            </MenuItem>
          )}
          <MenuItem dense disabled={!changed} onClick={act(onReset)}>
            Reset {label} to {initial}
          </MenuItem>
          <Divider />
          <Typography variant="caption" color="textSecondary" component="div" sx={{ px: 2, py: 0.5, width: menuWidth }}>
            {help} {channels === 3 ? 'Drag the name to move all channels.' : ''}
          </Typography>
        </Menu>
      )}
    </>
  )
}
