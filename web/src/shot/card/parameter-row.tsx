/** One parameter: a number a channel, with reset and keyframes. Dragging its name moves all channels together. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Tooltip from '@mui/material/Tooltip'
import Typography from '@mui/material/Typography'
import { memo, useRef, type KeyboardEvent, type PointerEvent } from 'react'
import { shallowEqual, useStore } from 'react-redux'
import { keyframesOf, valueAt } from '../../../../core/motion/curve'
import type { Owner, Parameter } from '../../../../core/shot'
import type { ParameterDescription } from '../../../../core/treatments'
import { useAppSelector } from '../../store'
import type { RootState } from '../../store/state'
import { DragNumber } from './drag-number'
import { useDraft } from './use-draft'

interface ParameterRowProps {
  readonly parameter: ParameterDescription
  readonly owner: Owner
  readonly curves: Parameter
}

const channelNames = ['red', 'green', 'blue']

/** An owner is an address: made anew it is the same. */
function sameRow(a: ParameterRowProps, b: ParameterRowProps): boolean {
  return a.parameter === b.parameter && a.curves === b.curves && JSON.stringify(a.owner) === JSON.stringify(b.owner)
}

/** Rows whose own curves did not change are not drawn again while another is dragged. */
export const ParameterRow = memo(function ParameterRow({ parameter, owner, curves }: ParameterRowProps) {
  const { draft, commit } = useDraft()
  const store = useStore<RootState>()
  const frameNow = () => store.getState().view.playing.frame
  // While it plays the frame changes many times a second, the numbers mostly do not.
  const values = useAppSelector(
    (state) => curves.map((curve) => valueAt(curve, state.view.playing.frame)),
    shallowEqual,
  )
  const keys = curves.map((curve) => keyframesOf(curve).map(({ frame }) => frame))
  const keyedAt = useAppSelector(
    (state) => keys.map((frames) => frames.includes(state.view.playing.frame)),
    shallowEqual,
  )
  const keyedHere = keyedAt.some(Boolean)
  const changed = curves.some((curve) => curve !== parameter.initial)
  const at = { owner, parameter: parameter.name }
  const digits = Math.max(0, Math.ceil(-Math.log10(parameter.step)))

  return (
    <Box>
      <Stack direction="row" sx={{ alignItems: 'center', justifyContent: 'space-between', minHeight: 22 }}>
        <AllChannels
          parameter={parameter}
          values={values}
          onDrag={(next) => draft({ kind: 'set-channels', at, frame: frameNow(), values: next })}
          onDone={(next) => commit({ kind: 'set-channels', at, frame: frameNow(), values: next })}
        />
        <Box>
          <Tooltip title={keyedHere ? 'Remove the keyframe here' : 'Set a keyframe here'}>
            <Button
              sx={{ minWidth: 0, px: 0.7, py: 0 }}
              color={keyedHere ? 'primary' : 'inherit'}
              aria-label={`Keyframe ${parameter.label}`}
              aria-pressed={keyedHere}
              onClick={() =>
                commit({
                  kind: keyedHere ? 'remove-keyframe' : 'add-keyframe',
                  at: { ...at, channel: null },
                  frame: frameNow(),
                })
              }
            >
              Keyframe
            </Button>
          </Tooltip>
          <Button
            sx={{ minWidth: 0, px: 0.7, py: 0, mr: -0.7 }}
            disabled={!changed}
            aria-label={`Reset ${parameter.label}`}
            onClick={() => commit({ kind: 'reset-parameter', at: { ...at, channel: null } })}
          >
            Reset
          </Button>
        </Box>
      </Stack>
      <Stack direction="row" spacing={0.5}>
        {values.map((value, channel) => (
          <Box key={channel} sx={{ flex: 1 }}>
            <DragNumber
              label={parameter.channels === 3 ? `${parameter.label} ${channelNames[channel]}` : parameter.label}
              value={value}
              step={parameter.step}
              least={parameter.least}
              most={parameter.most}
              digits={digits}
              keyed={keys[channel].length === 0 ? null : keyedAt[channel] ? 'here' : 'elsewhere'}
              onChange={(next) =>
                draft({ kind: 'set-parameter', at: { ...at, channel }, frame: frameNow(), value: next })
              }
              onCommit={(next) =>
                commit({ kind: 'set-parameter', at: { ...at, channel }, frame: frameNow(), value: next })
              }
            />
          </Box>
        ))}
      </Stack>
    </Box>
  )
}, sameRow)

interface AllChannelsProps {
  readonly parameter: ParameterDescription
  readonly values: readonly number[]
  readonly onDrag: (values: number[]) => void
  readonly onDone: (values: number[]) => void
}

function AllChannels({ parameter, values, onDrag, onDone }: AllChannelsProps) {
  const drag = useRef<{ x: number; from: readonly number[]; now: number[] | null } | null>(null)
  const moved = (event: PointerEvent, from: readonly number[], x: number) => {
    const by = (event.clientX - x) * parameter.step * (event.shiftKey ? 0.1 : 1)
    return from.map((value) => clamped(value + by))
  }
  const clamped = (value: number) => Math.min(parameter.most, Math.max(parameter.least, Number(value.toFixed(6))))
  const steps = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }
  const onKeyDown = (event: KeyboardEvent) => {
    if (!Object.hasOwn(steps, event.key)) return
    event.preventDefault()
    event.stopPropagation()
    const by = steps[event.key as keyof typeof steps] * parameter.step * (event.shiftKey ? 10 : 1)
    onDone(values.map((value) => clamped(value + by)))
  }
  const together =
    parameter.channels === 3
      ? {
          role: 'spinbutton',
          tabIndex: 0,
          'aria-label': `${parameter.label}, all channels`,
          'aria-valuetext': values.join(', '),
          onKeyDown,
        }
      : {}
  return (
    <Tooltip
      title={`${parameter.help} ${parameter.channels === 3 ? 'Drag the name to move all channels.' : ''}`}
      placement="left"
    >
      <Typography
        variant="body2"
        {...together}
        sx={{ cursor: 'ew-resize', userSelect: 'none', touchAction: 'none' }}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId)
          drag.current = { x: event.clientX, from: values, now: null }
        }}
        onPointerMove={(event) => {
          const d = drag.current
          if (!d) return
          d.now = moved(event, d.from, d.x)
          onDrag(d.now)
        }}
        onPointerUp={() => {
          if (drag.current?.now) onDone(drag.current.now)
          drag.current = null
        }}
      >
        {parameter.label}
        {parameter.unit && <Box component="span" sx={{ color: 'text.secondary' }}>{` (${parameter.unit})`}</Box>}
      </Typography>
    </Tooltip>
  )
}
