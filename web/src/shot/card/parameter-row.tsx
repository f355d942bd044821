/** One parameter in one line: its name, and a number for each channel. */

import Box from '@mui/material/Box'
import { memo } from 'react'
import { shallowEqual, useStore } from 'react-redux'
import { keyframesOf, valueAt } from '../../../../core/motion/curve'
import type { Change, Owner, Parameter } from '../../../../core/shot'
import type { ParameterDescription } from '../../../../core/treatments'
import { useAppSelector } from '../../store'
import type { RootState } from '../../store/state'
import { viewChanged } from '../../store/view'
import { DragNumber } from './drag-number'
import { ParameterName } from './parameter-name'
import { useDraft } from './use-draft'

interface ParameterRowProps {
  readonly parameter: ParameterDescription
  readonly owner: Owner
  readonly curves: Parameter
}

const channelNames = ['red', 'green', 'blue']
/** The names of a card's parameters take this much of its width. */
export const nameWidth = 72

/** An owner is an address: made anew it is the same. */
function sameRow(a: ParameterRowProps, b: ParameterRowProps): boolean {
  return a.parameter === b.parameter && a.curves === b.curves && JSON.stringify(a.owner) === JSON.stringify(b.owner)
}

/** Every channel moved by as much, inside what the parameter may be. */
function shifted(values: readonly number[], by: number, { least, most }: ParameterDescription): number[] {
  return values.map((value) => Math.min(most, Math.max(least, Number((value + by).toFixed(6)))))
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
  const name = `${JSON.stringify(owner)} ${parameter.name}`
  const linked = useAppSelector((state) => state.view.screen.linked.includes(name))
  const toggleLinked = () => {
    const all = store.getState().view.screen.linked
    store.dispatch(viewChanged({ screen: { linked: linked ? all.filter((one) => one !== name) : [...all, name] } }))
  }
  /** one channel, or all moved by as much */
  const change = (channel: number, next: number): Change =>
    linked
      ? { kind: 'set-channels', at, frame: frameNow(), values: shifted(values, next - values[channel], parameter) }
      : { kind: 'set-parameter', at: { ...at, channel }, frame: frameNow(), value: next }
  const changed = curves.some((curve) => curve !== parameter.initial)
  const at = { owner, parameter: parameter.name }
  const all = { ...at, channel: null }
  const digits = Math.max(0, Math.ceil(-Math.log10(parameter.step)))
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
      <Box sx={{ width: nameWidth, flexShrink: 0 }}>
        <ParameterName
          parameter={parameter}
          values={values}
          changed={changed}
          keyedHere={keyedHere}
          linked={linked}
          onLink={toggleLinked}
          onDrag={(next) => draft({ kind: 'set-channels', at, frame: frameNow(), values: next })}
          onDone={(next) => commit({ kind: 'set-channels', at, frame: frameNow(), values: next })}
          onKeyframe={() =>
            commit({ kind: keyedHere ? 'remove-keyframe' : 'add-keyframe', at: all, frame: frameNow() })
          }
          onReset={() => commit({ kind: 'reset-parameter', at: all })}
        />
      </Box>
      {values.map((value, channel) => (
        <Box
          key={channel}
          // A line under all three: they move together.
          sx={{
            flex: 1,
            minWidth: 0,
            borderBottom: linked ? 2 : 0,
            borderColor: 'text.secondary',
            mr: linked ? '-4px' : 0,
          }}
        >
          <DragNumber
            label={parameter.channels === 3 ? `${parameter.label} ${channelNames[channel]}` : parameter.label}
            value={value}
            step={parameter.step}
            least={parameter.least}
            most={parameter.most}
            digits={digits}
            dim={curves[channel] === parameter.initial}
            keyed={keys[channel].length === 0 ? null : keyedAt[channel] ? 'here' : 'elsewhere'}
            onChange={(next) => draft(change(channel, next))}
            onCommit={(next) => commit(change(channel, next))}
          />
        </Box>
      ))}
    </Box>
  )
}, sameRow)
