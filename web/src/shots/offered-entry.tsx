/** A demo shot that nobody can open yet: how long it takes to make, and the making. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import type { OfferedShot, WorkStatus } from '../../../core/work'
import { roughlyText } from '../work/durations'
import { WorkEntry } from '../work/work-entry'

interface OfferedEntryProps {
  readonly shot: OfferedShot
  readonly work: WorkStatus | null
  readonly onMake: (small: boolean) => void
}

export function OfferedEntry({ shot, work, onMake }: OfferedEntryProps) {
  const { name, about, size, frames, seconds, small, smallSeconds } = shot
  return (
    <Box component="article" aria-label={`${name}, not made yet`} sx={{ p: 1, bgcolor: 'background.paper' }}>
      <Stack direction="row" spacing={2} sx={{ alignItems: 'center' }}>
        <Box sx={{ flex: 1 }}>
          <Typography variant="h2" component="h3">
            {name}
          </Typography>
          <Typography variant="body2" color="textSecondary">
            {about}
          </Typography>
          <Typography variant="body2" color="textSecondary">
            {frames} frames, {size.width} × {size.height}. The stand-in camera makes it in about {roughlyText(seconds)};
            it can be opened once the first frame is there.
            {small &&
              smallSeconds !== undefined &&
              ` Small, ${small.frames} frames of ${small.size.width} × ${small.size.height}, in about ${roughlyText(smallSeconds)}.`}
          </Typography>
        </Box>
        {!work && (
          <Stack spacing={0.5}>
            {small && (
              <Button variant="outlined" onClick={() => onMake(true)}>
                Make it small
              </Button>
            )}
            <Button variant="outlined" onClick={() => onMake(false)}>
              Make it
            </Button>
          </Stack>
        )}
      </Stack>
      {work && <WorkEntry work={work} />}
    </Box>
  )
}
