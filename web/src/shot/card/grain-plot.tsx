/** How strong grain is at each level of light: what was measured as points with their errors, and what the settings add as lines. */

import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { useTheme } from '@mui/material/styles'
import { useMemo } from 'react'
import { CartesianGrid, ComposedChart, ErrorBar, Line, Scatter, XAxis, YAxis } from 'recharts'
import { useSelector } from 'react-redux'
import type { GrainOfChannel } from '../../../../core/measure/grain-record'
import type { PlateGrain } from '../../../../core/measure/plate-grain'
import { valueAt } from '../../../../core/motion/curve'
import type { TreatmentSettings } from '../../../../core/shot'
import { selectFrame } from '../../store/selectors'
import { channelStrokes } from './channel-strokes'

const [width, height] = [232, 132]
const margin = { top: 6, right: 8, bottom: 2, left: -22 }
const steps = 24
/** So much farther than what was measured is drawn. */
const beyond = 1.25
const channels = ['r', 'g', 'b'] as const

/** Thousandths of light. */
const pointsOf = ({ bins }: GrainOfChannel) =>
  bins.flatMap(({ light, sigma, error, verdict }) =>
    verdict === 'nothing flat' ? [] : [{ light, sigma: 1000 * sigma, error: 1000 * error }],
  )

export function GrainPlot({
  grain,
  parameters,
}: {
  readonly grain: PlateGrain
  readonly parameters: TreatmentSettings['parameters']
}) {
  const frame = useSelector(selectFrame)
  const { divider, text } = useTheme().palette
  const points = useMemo(() => grain.channels.map(pointsOf), [grain])
  const bins = grain.channels.flatMap((one) => one.bins)
  const known = bins.filter(({ verdict }) => verdict !== 'nothing flat')
  const brightest = Math.max(...known.map(({ light }) => light))
  const most = beyond * brightest
  const now = (name: string, c: number) => valueAt(parameters[name][c], frame)
  const lines = Array.from({ length: steps + 1 }, (_, i) => {
    const light = most * (i / steps) ** 2
    const [r, g, b] = [0, 1, 2].map((c) => Math.sqrt(1000 * now('shot', c) * light + now('read', c) ** 2))
    return { light, r, g, b }
  })
  const further = bins.some(({ to }) => to > beyond * brightest)
  const axis = { stroke: text.secondary, tick: { fontSize: 10 }, type: 'number' as const }
  return (
    <Box role="img" aria-label="Grain at each level of light" sx={{ width: '100%' }}>
      <ComposedChart width={width} height={height} data={lines} margin={margin}>
        <CartesianGrid stroke={divider} strokeDasharray="2 4" />
        <XAxis dataKey="light" domain={[0, most]} tickCount={5} tickFormatter={rounded} {...axis} />
        <YAxis domain={[0, 'auto']} tickCount={5} {...axis} />
        {channels.map((channel, c) => (
          <Line
            key={channel}
            dataKey={channel}
            stroke={channelStrokes[channel]}
            strokeWidth={1.5}
            dot={false}
            activeDot={false}
            isAnimationActive={false}
            name={String(c)}
          />
        ))}
        {channels.map((channel, c) => (
          <Scatter
            key={channel}
            data={points[c]}
            dataKey="sigma"
            fill={channelStrokes[channel]}
            shape={<Dot />}
            isAnimationActive={false}
          >
            <ErrorBar dataKey="error" width={3} stroke={channelStrokes[channel]} direction="y" />
          </Scatter>
        ))}
      </ComposedChart>
      <Typography variant="caption" color="textSecondary" component="div" align="right" sx={{ mt: -0.5 }}>
        deviation ×10⁻³ over light; lines: as it is set
      </Typography>
      {further && (
        <Typography variant="caption" color="textSecondary" component="div">
          Above {rounded(brightest)} no place is flat, so there the lines are not measured.
        </Typography>
      )}
    </Box>
  )
}

const rounded = (value: number) => String(Number(value.toPrecision(2)))

function Dot({ cx, cy, fill }: { cx?: number; cy?: number; fill?: string }) {
  return <circle cx={cx} cy={cy} r={2.2} fill={fill} stroke="#000" strokeWidth={0.5} />
}
