/** Matching the whole shot by what was shot for reference: what was found, how sure it is, and using it. */

import Button from '@mui/material/Button'
import LinearProgress from '@mui/material/LinearProgress'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useStore } from 'react-redux'
import { newId, type Change } from '../../../../core/shot'
import { accepted, changesOf, lacksReference, type Accept } from '../../../../core/witnesses'
import { matchShot } from '../../api/client'
import { serverCache } from '../../api/server-cache'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectMatchedElements, selectMatching, selectWork } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { viewChanged } from '../../store/view'
import { GainFrom } from './gain-from'
import { MatchedRows } from './matched-rows'
import { ReferenceObjects } from './reference-objects'
import { Suggestions } from './suggestions'

export function MatchingCard() {
  const dispatch = useAppDispatch()
  return (
    <Stack spacing={1} sx={{ p: 1.5, overflow: 'auto', flex: 1, minHeight: 0 }}>
      <Stack direction="row" sx={{ justifyContent: 'space-between', alignItems: 'center' }}>
        <Typography variant="h2">Match</Typography>
        <Button sx={{ mr: -0.6 }} onClick={() => dispatch(viewChanged({ screen: { instead: null } }))}>
          Close
        </Button>
      </Stack>
      <ReferenceObjects />
      <Matching />
      <Suggestions />
    </Stack>
  )
}

function Matching() {
  const dispatch = useAppDispatch()
  const shotId = useAppSelector((state) => state.shot.id) ?? ''
  const { work, state, problem, found } = useAppSelector(selectMatching)
  const revision = useAppSelector((one) => one.shot.revision)
  const elements = useAppSelector(selectMatchedElements)
  const progress = useAppSelector((one) => selectWork(one).find(({ id }) => id === work)?.progress ?? 0)
  const [refusal, setRefusal] = useState<string | null>(null)
  const { gainFrom } = useAppSelector((one) => one.view.screen)
  const lacking = useAppSelector((one) => {
    const shot = selectDocument(one)
    return shot !== null && lacksReference(shot)
  })
  const underWay = state === 'waiting' || state === 'running'
  const match = () =>
    void matchShot(shotId, (lacking ? gainFrom : null) ?? undefined).then(
      (answer) => {
        setRefusal(null)
        dispatch(serverCache.util.upsertQueryData('matching', shotId, answer))
      },
      (error: Error) => setRefusal(error.message),
    )
  return (
    <>
      {lacking && (
        <GainFrom chosen={gainFrom} onChoose={(shot) => dispatch(viewChanged({ screen: { gainFrom: shot } }))} />
      )}
      <Button variant="outlined" disabled={underWay} onClick={match} sx={{ alignSelf: 'flex-start' }}>
        {found ? 'Match all again' : 'Match all'}
      </Button>
      <Typography variant="caption" color="textSecondary">
        Measures softness, then veil and gain, then shadows. Changes nothing until you use it, and never what you have
        set.
      </Typography>
      {underWay && <LinearProgress aria-label="Matching" variant="determinate" value={100 * progress} />}
      {(refusal ?? (underWay ? null : problem)) !== null && (
        <Typography role="alert" variant="body2" color="primary">
          {refusal ?? problem}
        </Typography>
      )}
      {!underWay && found && (
        <>
          {elements.map((element) => (
            <MatchedRows key={element.id} element={element} />
          ))}
          <Using />
          {found.revision !== revision && (
            <Typography variant="caption" color="textSecondary">
              Measured on revision {found.revision}; the shot is at {revision} now.
            </Typography>
          )}
        </>
      )}
    </>
  )
}

/** What is there now is kept as a try of the shot, so that both can be compared. */
function Using() {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const parts = useAppSelector((state) => selectMatching(state).found?.matching.parts)
  const [said, setSaid] = useState<string | null>(null)
  if (!parts || parts.length === 0) return null
  const sure = accepted(parts, 'sure').length
  const use = (accept: Accept) => {
    const edit = editOf(store.getState(), accept)
    if (edit) dispatch(shotActions.edited(edit))
    setSaid(edit ? 'Used. What was before is kept as a try.' : 'Everything of it is used or set already.')
  }
  return (
    <Stack role="group" aria-label="Use what was found" spacing={0.25}>
      <Stack direction="row" sx={{ ml: -0.6, flexWrap: 'wrap' }}>
        <Button disabled={sure === 0} onClick={() => use('sure')}>
          Use what is sure
        </Button>
        {sure < parts.length && <Button onClick={() => use('all')}>Use all</Button>}
      </Stack>
      {said !== null && (
        <Typography role="status" variant="caption">
          {said}
        </Typography>
      )}
    </Stack>
  )
}

function editOf(state: RootState, accept: Accept): Change | null {
  const shot = selectDocument(state)
  const { found } = selectMatching(state)
  if (!shot || !found) return null
  const changes = changesOf(shot, { ...found.matching, parts: accepted(found.matching.parts, accept) })
  if (changes.length === 0) return null
  const before = { kind: 'keep-try', id: newId(), name: 'before matching' } as const
  return { kind: 'together', changes: [before, ...changes], label: 'Use what was matched' }
}
