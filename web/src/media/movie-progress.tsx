/** A movie being decoded: how far, how long, how much longer; it can be stopped. */

import Button from '@mui/material/Button'
import LinearProgress from '@mui/material/LinearProgress'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useEffect, useState } from 'react'
import type { MovieStatus } from '../../../core/check'
import { importMovie, cancelMovie, movieStatus } from '../api/client'

const pollMs = 500

/** Decodes a movie, with progress; calls back once its frames are there. */
export function MovieProgress({ path, onDone }: { path: string; onDone: (pattern: string) => void }) {
  const [status, setStatus] = useState<MovieStatus | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  useEffect(() => {
    let left = false
    const look = (answer: Promise<MovieStatus | null>): void => {
      answer.then(
        (now) => {
          if (left) return
          setStatus(now)
          if (now?.state === 'done') onDone(now.pattern)
          else if (now?.state === 'decoding') setTimeout(() => left || look(movieStatus(path)), pollMs)
        },
        (error: Error) => left || setProblem(error.message),
      )
    }
    look(importMovie(path))
    return () => {
      left = true
    }
  }, [path, onDone])
  if (problem !== null) return <Typography variant="body2">{problem}</Typography>
  if (!status) return <Typography variant="caption">Opening …</Typography>
  const { done, says, elapsedMs, state, sentence } = status
  const share = says.frames ? Math.min(1, done / says.frames) : 0
  const left = done > 0 && says.frames ? ((elapsedMs / done) * (says.frames - done)) / 1000 : null
  return (
    <Stack spacing={0.5}>
      <Typography variant="body2">
        {state === 'decoding' ? 'Decoding' : state}: {done} of {says.frames ?? 'unknown many'} frames after{' '}
        {(elapsedMs / 1000).toFixed(0)} s
        {left === null || state !== 'decoding' ? '' : `, about ${left.toFixed(0)} s to go`}
      </Typography>
      <LinearProgress variant={says.frames ? 'determinate' : 'indeterminate'} value={share * 100} />
      {sentence !== null && <Typography variant="body2">{sentence}</Typography>}
      {state === 'decoding' && <Button onClick={() => void cancelMovie(path)}>Stop decoding</Button>}
    </Stack>
  )
}
