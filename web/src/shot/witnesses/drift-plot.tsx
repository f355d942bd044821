/** The drift of the selected witness over the frames, with its tolerance as a band. A click goes to the frame. */

import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { useTheme } from '@mui/material/styles'
import { useMemo } from 'react'
import { Area, ComposedChart, Line, ReferenceLine, XAxis, YAxis } from 'recharts'
import { purposes, type WitnessPurpose } from '../../../../core/match'
import { channelStrokes } from '../card/channel-strokes'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDriftOverFrames, selectFrame, type DriftOnFrame } from '../../store/selectors'
import { viewChanged } from '../../store/view'

const [width, height] = [232, 104]
const margin = { top: 6, right: 8, bottom: 0, left: -10 }
const channels = ['r', 'g', 'b'] as const

interface Point {
  readonly frame: number
  readonly within: readonly [number, number]
  readonly r: number | null
  readonly g: number | null
  readonly b: number | null
}

const rounded = (value: number) => (value === 0 ? '0' : value.toPrecision(2))
const known = (value: number) => (Number.isFinite(value) ? value : null)

/** Where the channels may drift by different amounts, the band is that of the least. */
export function pointsOf(course: readonly DriftOnFrame[]): Point[] {
  return course.flatMap(({ frame, judged: { drift, tolerance } }) => {
    const most = Math.min(...tolerance.filter(Number.isFinite))
    if (!Number.isFinite(most)) return []
    const [r, g, b] = drift.map(known)
    return [{ frame, within: [-most, most] as const, r, g, b }]
  })
}

const units: Readonly<Record<WitnessPurpose, string>> = {
  black: 'light',
  mid: 'light',
  white: 'light',
  colour: 'share of the ratio to green',
  sharpness: 'pixels of sigma',
  shadow: 'share of the light left',
  registration: 'pixels across (dashed) and down',
  flicker: 'share of light, from frame to frame',
  grain: 'share of the plate’s grain',
}

/** Which of the three values are drawn. */
const drawnOf = { channels, one: ['g'], 'across and down': ['r', 'g'] } as const

export function DriftPlot({ purpose }: { purpose: WitnessPurpose }) {
  const dispatch = useAppDispatch()
  const course = useAppSelector(selectDriftOverFrames)
  const frame = useAppSelector(selectFrame)
  const { divider, text } = useTheme().palette
  const data = useMemo(() => pointsOf(course), [course])
  const axis = { stroke: text.secondary, tick: { fontSize: 10 }, tickLine: false }
  if (data.length < 2) return null
  const edges = data.map(({ within }) => within[1])
  const far = 1.1 * Math.max(...edges, ...data.flatMap(({ r, g, b }) => [r, g, b].map((value) => Math.abs(value ?? 0))))
  const { parts } = purposes[purpose]
  const drawn = drawnOf[parts]
  return (
    <Box role="img" aria-label="Drift over the frames" sx={{ cursor: 'pointer' }}>
      <ComposedChart
        width={width}
        height={height}
        data={data}
        margin={margin}
        onClick={({ activeLabel }) => {
          if (typeof activeLabel === 'number') dispatch(viewChanged({ playing: { frame: activeLabel } }))
        }}
      >
        <XAxis
          dataKey="frame"
          type="number"
          domain={[data[0].frame, data[data.length - 1].frame]}
          tickCount={4}
          allowDecimals={false}
          {...axis}
        />
        <YAxis domain={[-far, far]} ticks={[-far, 0, far]} tickFormatter={rounded} {...axis} />
        <Area dataKey="within" fill={divider} stroke="none" fillOpacity={0.6} isAnimationActive={false} />
        <ReferenceLine y={0} stroke={divider} />
        <ReferenceLine x={frame} stroke={text.primary} />
        {drawn.map((channel) => (
          <Line
            key={channel}
            dataKey={channel}
            stroke={parts === 'channels' ? channelStrokes[channel] : text.primary}
            strokeDasharray={parts === 'across and down' && channel === 'r' ? '3 2' : undefined}
            dot={data.length < 12 ? { r: 1.5 } : false}
            connectNulls={false}
            isAnimationActive={false}
          />
        ))}
      </ComposedChart>
      <Typography variant="caption" color="textSecondary" component="div" align="right" sx={{ mt: -0.5 }}>
        {units[purpose]}; the band is the tolerance
      </Typography>
    </Box>
  )
}
