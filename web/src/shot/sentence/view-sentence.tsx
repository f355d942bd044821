/** Says in words how the picture is being seen; every word can be changed in place. */

import Box from '@mui/material/Box'
import { Compared } from './compared'
import { Made } from './made'
import { Seen } from './seen'

/** What the picture is and how it is seen; then what it is compared with, and how it is made and played. */
export function ViewSentence() {
  return (
    <Box
      sx={{
        gridArea: 'sentence',
        px: 1.5,
        py: 0,
        lineHeight: 1,
        borderTop: 1,
        borderColor: 'divider',
        whiteSpace: 'pre',
        display: 'flex',
        flexDirection: 'column',
        justifyContent: 'space-evenly',
      }}
      role="group"
      aria-label="View sentence"
    >
      <Box sx={{ display: 'flex', alignItems: 'center' }}>
        <Seen />
      </Box>
      <Box sx={{ display: 'flex', alignItems: 'center' }}>
        <Compared />
        <Made />
      </Box>
    </Box>
  )
}
