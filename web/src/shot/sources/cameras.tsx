/** The cameras of a source that is a camera file. */

import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import type { SourceReport } from '../../../../core/check'

export function Cameras({ report }: { readonly report: SourceReport | null }) {
  const cameras = report?.cameras
  if (!cameras) return null
  return (
    <Box>
      {cameras.map(({ name, heightDegrees, moves }, i) => (
        <Typography key={i} variant="body2">
          {name}: {heightDegrees === null ? 'without perspective' : `sees ${heightDegrees.toFixed(2)}° of height`},{' '}
          {moves ? 'moves' : 'stands still'}
        </Typography>
      ))}
      <Typography variant="caption" color="textSecondary">
        Kept with the shot. Nothing is placed by it yet.
      </Typography>
    </Box>
  )
}
