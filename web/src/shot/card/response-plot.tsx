/**
 * What veil, gain and gamma make of the element's light: drag the line near its left end for the veil, further right for the
 * gain. Pairs that were read are points in it, the plate's light over the element's.
 */

import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { useTheme } from '@mui/material/styles'
import { memo, useDeferredValue, useMemo, useRef, useState, type PointerEvent } from 'react'
import { shallowEqual, useStore } from 'react-redux'
import { CartesianGrid, Line, LineChart, ReferenceDot, ReferenceLine, XAxis, YAxis } from 'recharts'
import { power } from '../../../../core/kernels/power'
import type { PairRead } from '../../../../core/match'
import { valueAt } from '../../../../core/motion/curve'
import type { Change, TreatmentSettings } from '../../../../core/shot'
import { useAppSelector } from '../../store'
import type { RootState } from '../../store/state'
import { channelStrokes } from './channel-strokes'
import { usePaced } from '../use-paced'
import { useDraft } from './use-draft'

const width = 232
const height = 132
const margin = { top: 6, right: 8, bottom: 2, left: -22 }
const plot = { left: 38, right: width - 8, top: 6, bottom: height - 32 }
/** Light at the ends of both axes, where there are no pairs beyond it. */
const usualReach = 0.2
const ticks = 4
const points = 21
/** Left of this share of the plot a drag moves the veil, right of it the gain. */
const veilShare = 0.35
const channels = ['r', 'g', 'b'] as const
/** Drawn anew at most so often, in ms; a plot takes as long as the rest of the page. */
const restBetween = 125
const noPairs: readonly PairRead[] = []

/** Far enough for all pairs, in round numbers. */
function reachOf(pairs: readonly PairRead[]): number {
  const most = Math.max(
    usualReach,
    ...pairs.flatMap(({ adjusted, reference }) => [...adjusted.light, ...reference.light]),
  )
  const round = 10 ** Math.floor(Math.log10(most))
  return ([1, 2, 4, 8, 10].find((times) => times * round >= most) ?? 10) * round
}

interface Gesture {
  readonly kind: 'veil' | 'gain'
  readonly y: number
  readonly x: number
  readonly veil: readonly number[]
  readonly gain: readonly number[]
  edit: Change | null
}

interface LinesProps {
  readonly veil: readonly number[]
  readonly gain: readonly number[]
  readonly gamma: readonly number[]
  readonly pairs: readonly PairRead[]
}

const Lines = memo(function Lines({ veil, gain, gamma, pairs }: LinesProps) {
  const reach = reachOf(pairs)
  const { divider, text } = useTheme().palette
  const data = useMemo(() => {
    const out = (x: number, c: number) => gain[c] * (x > 0 ? power(x, 1 / gamma[c]) : 0) + veil[c]
    return Array.from({ length: points }, (_, i) => {
      const x = (reach * i) / (points - 1)
      return { x, same: x, r: out(x, 0), g: out(x, 1), b: out(x, 2) }
    })
  }, [veil, gain, gamma, reach])
  const axis = useMemo(
    () => ({
      stroke: text.secondary,
      tick: { fontSize: 10 },
      domain: [0, reach],
      ticks: Array.from({ length: ticks + 1 }, (_, i) => Number(((reach * i) / ticks).toFixed(6))),
      type: 'number' as const,
      allowDataOverflow: true,
    }),
    [text, reach],
  )
  return (
    <LineChart width={width} height={height} data={data} margin={margin}>
      <CartesianGrid stroke={divider} strokeDasharray="2 4" />
      <XAxis dataKey="x" {...axis} />
      <YAxis {...axis} />
      <Line dataKey="same" stroke={text.secondary} strokeDasharray="4 3" dot={false} isAnimationActive={false} />
      {(['b', 'g', 'r'] as const).map((channel) => (
        <Line
          key={channel}
          dataKey={channel}
          stroke={channelStrokes[channel]}
          strokeWidth={1.5}
          dot={false}
          isAnimationActive={false}
        />
      ))}
      {pairs.flatMap((pair) => channels.map((channel, c) => pointOf(pair, c, channelStrokes[channel])))}
    </LineChart>
  )
})

/** A pair in one channel, with three standard errors of the plate's side. */
function pointOf({ name, adjusted, reference }: PairRead, c: number, stroke: string) {
  const [x, y, error] = [adjusted.light[c], reference.light[c], 3 * reference.error[c]]
  return [
    <ReferenceLine
      key={`${name} ${c} bar`}
      stroke={stroke}
      segment={[
        { x, y: y - error },
        { x, y: y + error },
      ]}
    />,
    <ReferenceDot key={`${name} ${c}`} x={x} y={y} r={2.5} fill={stroke} stroke="none" />,
  ]
}

export function ResponsePlot({
  settings,
  pairs = noPairs,
}: {
  settings: TreatmentSettings
  pairs?: readonly PairRead[]
}) {
  const reach = reachOf(pairs)
  const { draft, commit } = useDraft()
  const store = useStore<RootState>()
  const gesture = useRef<Gesture | null>(null)
  /** a line is dragged */
  const [held, setHeld] = useState(false)
  const valuesOf = (name: string) => (state: RootState) =>
    settings.parameters[name].map((curve) => valueAt(curve, state.view.playing.frame))
  const veil = useAppSelector(valuesOf('veil'), shallowEqual)
  const gain = useAppSelector(valuesOf('gain'), shallowEqual)
  const gamma = useAppSelector(valuesOf('gamma'), shallowEqual)

  const perPixel = reach / (plot.bottom - plot.top)
  const editFor = (g: Gesture, event: PointerEvent): Change => {
    const by = (g.y - event.clientY) * perPixel * (event.shiftKey ? 0.1 : 1)
    const values =
      g.kind === 'veil'
        ? g.veil.map((v) => Math.min(0.5, Math.max(-0.2, v + by)))
        : g.gain.map((v) => Math.min(8, Math.max(0, v + by / g.x)))
    return {
      kind: 'set-channels',
      at: { owner: { kind: 'treatment', id: settings.id }, parameter: g.kind },
      frame: store.getState().view.playing.frame,
      values: values.map((v) => Number(v.toFixed(6))),
    }
  }
  const onPointerDown = (event: PointerEvent<HTMLElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId)
    setHeld(true)
    const share =
      (event.clientX - event.currentTarget.getBoundingClientRect().left - plot.left) / (plot.right - plot.left)
    gesture.current = {
      kind: share < veilShare ? 'veil' : 'gain',
      x: Math.max(0.05, share * reach),
      y: event.clientY,
      veil,
      gain,
      edit: null,
    }
  }
  const onPointerMove = (event: PointerEvent<HTMLElement>) => {
    const g = gesture.current
    if (!g) return
    g.edit = editFor(g, event)
    draft(g.edit)
  }
  const onPointerUp = () => {
    if (gesture.current?.edit) commit(gesture.current.edit)
    gesture.current = null
    setHeld(false)
  }

  const lines = useMemo(() => ({ veil, gain, gamma, pairs }), [veil, gain, gamma, pairs])
  // The picture comes first: while a number is dragged the plot is drawn a few times a second; its own lines follow the hand.
  const drawn = useDeferredValue(usePaced(lines, held ? 0 : restBetween))
  return (
    <Box
      title="Drag at the left for the veil, further right for the gain; with Shift finer."
      aria-label="Element light in, light out"
      role="img"
      sx={{ cursor: 'ns-resize', touchAction: 'none', userSelect: 'none' }}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={onPointerUp}
    >
      <Lines {...drawn} />
      <Typography variant="caption" color="textSecondary" component="div" align="right" sx={{ mt: -0.5 }}>
        {pairs.length > 0 ? 'light of the plate over light of the element' : 'light out over light in'}
      </Typography>
    </Box>
  )
}
