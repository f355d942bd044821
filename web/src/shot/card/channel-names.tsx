/** Names the columns of numbers below. */

import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { memo } from 'react'
import { nameWidth } from './parameter-row'

export const ChannelNames = memo(function ChannelNames() {
  return (
    <Stack direction="row" spacing={0.5} sx={{ pl: `${nameWidth}px` }}>
      {['red', 'green', 'blue'].map((name) => (
        <Typography key={name} variant="caption" color="textSecondary" sx={{ flex: 1, textAlign: 'right', pr: 0.5 }}>
          {name}
        </Typography>
      ))}
    </Stack>
  )
})
