/** The straight lines of the lens whose card is open, and the corners of a chart that it was measured from, on the picture where they are. */

import Box from '@mui/material/Box'
import { find, allOf } from '../../../../core/shot'
import { useAppSelector } from '../../store'
import { selectFrame, selectShownShot } from '../../store/selectors'
import type { Placement } from '../picture/placement'
import { isOn } from './use-lens'

export function LinesOfLens({ placement: { left, top, zoom } }: { placement: Placement }) {
  const open = useAppSelector((state) => state.view.screen.lines)
  const frame = useAppSelector(selectFrame)
  const lines = useAppSelector((state) => {
    const shot = open && selectShownShot(state)
    return shot ? find(shot.treatments, open.treatment)?.lines : undefined
  })
  const found = useAppSelector((state) => state.lens.found)
  const pointed = useAppSelector((state) => state.lens.pointed)
  const straight = useAppSelector(({ view }) => view.looking.shown === 'node' && view.looking.node?.kind === 'straight')
  const chart = useAppSelector((state) => state.lens.chart)
  if (!open || straight) return null
  const here = lines ? allOf(lines).filter(isOn({ source: open.source, frame })) : []
  const ofChart = chart?.treatment === open.treatment && chart.source === open.source ? chart.result : null
  // A still is the same on every frame.
  const photograph =
    ofChart?.looked === 1 ? ofChart.photographs[0] : ofChart?.photographs.find((one) => one.frame === frame)
  const corners = pairsOf(photograph?.seen ?? [])
  if (here.length + corners.length === 0) return null
  const measured = found?.treatment === open.treatment ? found : null
  const rejected = (id: string) => {
    const at = measured ? measured.lines.indexOf(id) : -1
    return at >= 0 && !measured?.result.used.includes(at)
  }
  return (
    <Box
      component="svg"
      role="img"
      aria-label={
        corners.length > 0 ? `${corners.length} corners of a chart` : `${here.length} straight lines on this frame`
      }
      sx={{ position: 'absolute', inset: 0, width: '100%', height: '100%', pointerEvents: 'none' }}
    >
      <g fill="none" transform={`translate(${left} ${top}) scale(${zoom})`}>
        {here.map(({ id, points }) => (
          <g key={id} strokeDasharray={rejected(id) ? `${4 / zoom} ${4 / zoom}` : undefined}>
            <polyline
              points={points.join(' ')}
              stroke="#000"
              strokeWidth={(id === pointed ? 6 : 3) / zoom}
              opacity={0.6}
            />
            <polyline points={points.join(' ')} stroke="#fff" strokeWidth={(id === pointed ? 3 : 1) / zoom} />
          </g>
        ))}
        {corners.map(([x, y]) => (
          <g key={`${x} ${y}`}>
            <circle cx={x} cy={y} r={5 / zoom} stroke="#000" strokeWidth={3 / zoom} opacity={0.6} />
            <circle cx={x} cy={y} r={5 / zoom} stroke="#fff" strokeWidth={1 / zoom} />
          </g>
        ))}
      </g>
    </Box>
  )
}

const pairsOf = (numbers: readonly number[]) =>
  Array.from({ length: numbers.length / 2 }, (_, i) => [numbers[2 * i], numbers[2 * i + 1]] as const)
