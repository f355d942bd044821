/** One piece of work: how far it is, why it failed or waits, and what can be done about it. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import LinearProgress from '@mui/material/LinearProgress'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useState, type ReactNode } from 'react'
import { isOver, type WorkStatus } from '../../../core/work'
import { cancelWork, retryWork } from '../api/client'
import { useNow } from './use-now'
import { workText } from './durations'

interface WorkEntryProps {
  readonly work: WorkStatus
  /** instead of the work's own title */
  readonly title?: string
  /** what it made is gone, and it cannot be made again */
  readonly removed?: boolean
  readonly children?: ReactNode
}

export function WorkEntry({ work, title = work.title, removed = false, children }: WorkEntryProps) {
  const [refusal, setRefusal] = useState<string | null>(null)
  const over = isOver(work)
  const now = useNow(!over)
  const canRetry = !removed && (work.state === 'failed' || work.state === 'cancelled' || work.otherBuild)
  const does = (answer: Promise<unknown>) =>
    void answer.then(
      () => setRefusal(null),
      (error: Error) => setRefusal(error.message),
    )
  return (
    <Box role="listitem" aria-label={`${title}, ${work.state}`}>
      <Stack direction="row" sx={{ justifyContent: 'space-between', alignItems: 'baseline', gap: 1 }}>
        <Typography variant="body2" sx={{ minWidth: 0 }} noWrap>
          {title}
        </Typography>
        {!over && <Button onClick={() => does(cancelWork(work.id))}>Cancel</Button>}
        {canRetry && (
          <Button onClick={() => does(retryWork(work.id))}>
            {work.otherBuild && !over ? 'Retry with this build' : 'Retry'}
          </Button>
        )}
      </Stack>
      <Typography variant="caption" color="textSecondary" component="div">
        {workText(work, now)}
      </Typography>
      {!over && (
        <LinearProgress
          variant={work.state === 'waiting' ? 'indeterminate' : 'determinate'}
          color="inherit"
          value={work.progress * 100}
          sx={{ my: 0.5, height: 3 }}
        />
      )}
      {work.otherBuild && (
        <Typography variant="caption" component="div">
          It was begun by another build of the program, which may compute other pixels. It waits for a worker of that
          build, or can be made anew.
        </Typography>
      )}
      {work.heldUp !== null && (
        <Typography variant="caption" component="div">
          {work.heldUp}
        </Typography>
      )}
      {work.failed.map(({ item, sentence }) => (
        <Typography key={item} variant="caption" component="div">
          {work.total > 1 ? `${item}: ` : ''}
          {sentence}
        </Typography>
      ))}
      {refusal !== null && (
        <Typography role="alert" variant="caption" component="div">
          {refusal}
        </Typography>
      )}
      {children}
    </Box>
  )
}
