/** The history of the shot: every change in words, with time and person; any state can be looked at, named, returned to. */

import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useEffect, useState } from 'react'
import { listRevisions, loadRevision, type Revision } from '../../api/client'
import { useAppDispatch, useAppSelector } from '../../store'
import { shotActions } from '../../store/shot-slice'
import { viewChanged } from '../../store/view'
import { RevisionEntry } from './revision-entry'

export function HistoryCard() {
  const dispatch = useAppDispatch()
  const id = useAppSelector((state) => state.shot.id) ?? ''
  const revision = useAppSelector((state) => state.shot.revision)
  const looked = useAppSelector(({ view: { comparing } }) =>
    comparing.other.kind === 'revision' ? comparing.other : null,
  )
  const [revisions, setRevisions] = useState<readonly Revision[]>([])
  const [again, setAgain] = useState(0)
  const [problem, setProblem] = useState<string | null>(null)
  const complain = (error: Error) => setProblem(error.message)
  useEffect(() => {
    let left = false
    listRevisions(id).then((found) => left || setRevisions(found), complain)
    return () => {
      left = true
    }
  }, [id, revision, again])
  const close = () => dispatch(viewChanged({ screen: { instead: null } }))
  const look = (wanted: number) =>
    void loadRevision(id, wanted).then(
      (shot) =>
        dispatch(
          viewChanged({
            looking: { shown: 'other' },
            comparing: { other: { kind: 'revision', revision: wanted, shot } },
          }),
        ),
      complain,
    )
  const stopLooking = () =>
    dispatch(viewChanged({ looking: { shown: 'composite' }, comparing: { other: { kind: 'plate' } } }))
  const returnTo = ({ revision: wanted, called }: Revision) =>
    void loadRevision(id, wanted).then((document) => {
      stopLooking()
      dispatch(shotActions.edited({ kind: 'return-to', document, called: called ?? `revision ${wanted}` }))
    }, complain)
  return (
    <Stack spacing={1} sx={{ p: 1.5, overflow: 'auto', flex: 1 }}>
      <Stack direction="row" sx={{ justifyContent: 'space-between', alignItems: 'center' }}>
        <Typography variant="h2">History</Typography>
        <Button sx={{ mr: -0.6 }} onClick={close}>
          Close
        </Button>
      </Stack>
      {problem !== null && (
        <Typography role="alert" variant="body2" color="primary">
          {problem}
        </Typography>
      )}
      <Stack role="list" aria-label="Revisions" spacing={0.5}>
        {revisions.map((one) => (
          <RevisionEntry
            key={one.revision}
            shot={id}
            revision={one}
            present={one.revision === revision}
            looked={looked?.revision === one.revision ? looked.shot : null}
            onLook={() => (looked?.revision === one.revision ? stopLooking() : look(one.revision))}
            onReturn={() => returnTo(one)}
            onNamed={() => setAgain((count) => count + 1)}
          />
        ))}
      </Stack>
    </Stack>
  )
}
