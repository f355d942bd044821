/** Keeping an element computed: its pictures are read from the disk instead of made, as long as nothing in it changes. */

import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { memo, useState } from 'react'
import type { ComputedElement } from '../../../../core/work'
import { keepComputed, letGoComputed } from '../../api/client'
import { serverCache } from '../../api/server-cache'
import { bytesText } from '../../bytes-text'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectComputed, selectComputedState } from '../../store/selectors'

export const KeepComputed = memo(function KeepComputed({ id }: { id: string }) {
  const dispatch = useAppDispatch()
  const shotId = useAppSelector((state) => state.shot.id)
  const known = useAppSelector((state) => selectComputed(state).find(({ element }) => element === id))
  const how = useAppSelector((state) => selectComputedState(state, id))
  const [refusal, setRefusal] = useState<string | null>(null)
  if (shotId === null || (!known && how === 'nothing')) return null
  const does = (answer: Promise<ComputedElement[]>) =>
    void answer.then(
      (list) => {
        setRefusal(null)
        dispatch(serverCache.util.upsertQueryData('computed', shotId, list))
      },
      (error: Error) => setRefusal(error.message),
    )
  const keep = () => does(keepComputed(shotId, id))
  return (
    <Stack spacing={0.25}>
      <Stack direction="row" sx={{ alignItems: 'center', gap: 0.5 }}>
        <Typography variant="body2" sx={{ flex: 1 }}>
          {known ? 'Kept computed' : 'Made anew each time'}
        </Typography>
        {(!known || how === 'stale') && <Button onClick={keep}>{known ? 'Keep again' : 'Keep computed'}</Button>}
        {known && <Button onClick={() => does(letGoComputed(shotId, id))}>Let go</Button>}
      </Stack>
      {known && (
        <Typography variant="caption" color="textSecondary" role="status" aria-label="What is kept computed">
          {saysOf(known, how)}
        </Typography>
      )}
      {refusal !== null && (
        <Typography role="alert" variant="caption">
          {refusal}
        </Typography>
      )}
    </Stack>
  )
})

function saysOf({ done, total, bytes }: ComputedElement, how: 'nothing' | 'kept' | 'stale'): string {
  const much = `${done} of ${total} frames, ${bytesText(bytes)}`
  if (done < total && how !== 'kept') return `${much}; this frame is still made anew`
  if (how === 'stale') return `${much}; stale here: it has changed since, so it is made anew`
  return how === 'kept' ? `${much}; this frame is read` : `${much}; nothing to compute here`
}
