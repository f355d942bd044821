/** The corner of the page that shows the long work under way, and what ended last. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Popover from '@mui/material/Popover'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { isListed, type WorkStatus } from '../../../core/work'
import { underWay } from './durations'
import { WorkEntry } from './work-entry'

const mostShown = 12

export function WorkCorner({ work }: { work: readonly WorkStatus[] }) {
  const works = work.filter(isListed)
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const open = underWay(works)
  const failed = works.filter(({ state }) => state === 'failed').length
  const share = open.reduce((sum, { progress }) => sum + progress, 0) / Math.max(1, open.length)
  const words =
    open.length > 0
      ? `${open.length} under way, ${Math.round(share * 100)} %`
      : failed > 0
        ? `${failed} failed`
        : 'Nothing under way'
  return (
    <>
      <Button
        aria-label={`Work: ${words}`}
        aria-haspopup="dialog"
        sx={{ color: open.length + failed > 0 ? 'text.primary' : 'text.secondary' }}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {words}
      </Button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
      >
        <Box
          role="dialog"
          aria-label="Work under way"
          tabIndex={-1}
          sx={{ p: 1.5, width: 360, maxHeight: 480, overflow: 'auto' }}
        >
          {works.length === 0 ? (
            <Typography variant="body2">
              No long work yet. Deliveries, movies being decoded and sources being measured are shown here.
            </Typography>
          ) : (
            <Stack spacing={1.5} role="list" aria-label="Work">
              {works.slice(0, mostShown).map((work) => (
                <WorkEntry key={work.id} work={work} />
              ))}
            </Stack>
          )}
        </Box>
      </Popover>
    </>
  )
}
