/** Plays and pauses; beside it the rate, and how many frames could not be shown in time. */

import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import Typography from '@mui/material/Typography'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument } from '../../store/selectors'
import { playToggled, viewChanged } from '../../store/view'
import { namesWidth } from './time-axis'

export function PlayControl() {
  const dispatch = useAppDispatch()
  const { playing, every, played } = useAppSelector((state) => state.view.playing)
  const tallyOpen = useAppSelector((state) => state.view.screen.tallyOpen)
  const rate = useAppSelector((state) => selectDocument(state)?.rate)
  const perSecond = rate ? Number((rate.numerator / rate.denominator / every).toFixed(2)) : 0
  const dropped = played?.dropped ?? 0
  return (
    <Box sx={{ width: namesWidth, flexShrink: 0, display: 'flex', alignItems: 'center', px: 1, gap: 0.75 }}>
      <ButtonBase
        aria-label={playing ? 'Pause' : 'Play'}
        aria-pressed={playing}
        onClick={() => dispatch(playToggled())}
        sx={{ width: 20, height: 20 }}
      >
        {playing ? '❚❚' : '▶'}
      </ButtonBase>
      <ButtonBase
        aria-label={tallyOpen ? 'Less room for the tally' : 'More room for the tally'}
        aria-pressed={tallyOpen}
        title={tallyOpen ? 'Less room for the tally' : 'More room for the tally'}
        onClick={() => dispatch(viewChanged({ screen: { tallyOpen: !tallyOpen } }))}
        sx={{ width: 16, height: 20, color: 'text.secondary' }}
      >
        {tallyOpen ? '▾' : '▴'}
      </ButtonBase>
      <Typography variant="caption" color="textSecondary" noWrap>
        {perSecond} a second{dropped > 0 ? `, ${dropped} dropped` : ''}
      </Typography>
    </Box>
  )
}
