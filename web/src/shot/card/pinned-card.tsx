/** A second card, kept below the first while other things are selected, to compare settings. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectPinned } from '../../store/selectors'
import { viewChanged } from '../../store/view'
import { ElementCard } from './element-card'

export function PinnedCard() {
  const dispatch = useAppDispatch()
  const pinned = useAppSelector(selectPinned)
  if (!pinned) return null
  return (
    <Box
      role="region"
      aria-label="Pinned card"
      sx={{ flex: 1, minHeight: 0, display: 'flex', flexDirection: 'column', borderTop: 2, borderColor: 'divider' }}
    >
      <Stack direction="row" sx={{ alignItems: 'center', justifyContent: 'space-between', pl: 1.5, pr: 0.9 }}>
        <Typography variant="caption" color="textSecondary">
          Pinned
        </Typography>
        <Button
          sx={{ minWidth: 0, px: 0.6, py: 0 }}
          onClick={() => dispatch(viewChanged({ screen: { pinned: null } }))}
        >
          Let go
        </Button>
      </Stack>
      <ElementCard element={pinned} pinned />
    </Box>
  )
}
