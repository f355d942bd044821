/** The straight lines of the lens whose card is open, on the picture that they were drawn on. */

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
  if (!open || !lines || straight) return null
  const here = allOf(lines).filter(isOn({ source: open.source, frame }))
  if (here.length === 0) return null
  const measured = found?.treatment === open.treatment ? found : null
  const rejected = (id: string) => {
    const at = measured ? measured.lines.indexOf(id) : -1
    return at >= 0 && !measured?.result.used.includes(at)
  }
  return (
    <Box
      component="svg"
      role="img"
      aria-label={`${here.length} straight lines on this frame`}
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
      </g>
    </Box>
  )
}
