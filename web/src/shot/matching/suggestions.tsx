/** Witnesses that are suggested for what stands over the plate: accepted one by one, or dismissed. */

import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useRef, useState } from 'react'
import { useStore } from 'react-redux'
import { purposes } from '../../../../core/match'
import { inOrder, lastRank, newId, type Shot } from '../../../../core/shot'
import { suggestWitnesses, toBeSuggestedFor, type Suggested, type Suggestion } from '../../../../core/witnesses'
import { useEngine } from '../../engine/engine-context'
import { useAppDispatch } from '../../store'
import { planOf } from '../../store/plans'
import { selectCatalog, selectDocument } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { viewChanged } from '../../store/view'
import { purposeWords } from '../witnesses/verdict-words'

interface ForElement extends Suggested {
  readonly id: string
  readonly name: string
}

export function Suggestions() {
  const engine = useEngine()
  const store = useStore<RootState>()
  const [looking, setLooking] = useState<string | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const [found, setFound] = useState<readonly ForElement[] | null>(null)
  const asked = useRef(0)
  const suggest = async () => {
    const ask = ++asked.current
    const shot = selectDocument(store.getState())
    const catalog = selectCatalog(store.getState())
    if (!shot) return
    const plan = (seen: Shot, frame: number, scale: 1 | 2 | 4) => planOf(seen, frame, scale, catalog)
    const all: ForElement[] = []
    try {
      for (const element of toBeSuggestedFor(shot)) {
        setLooking(element.name)
        const { id, name } = element
        all.push({ id, name, ...(await suggestWitnesses(shot, engine, plan, element)) })
        if (ask !== asked.current) return
      }
      setFound(all)
      setProblem(null)
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error))
    }
    setLooking(null)
  }
  const stop = () => {
    asked.current++
    setLooking(null)
  }
  const dismiss = (id: string) =>
    setFound(
      (before) =>
        before &&
        before.map((one) => ({ ...one, suggestions: one.suggestions.filter(({ witness }) => witness.id !== id) })),
    )
  return (
    <Stack role="group" aria-label="Suggested witnesses" spacing={0.5}>
      <Stack direction="row" sx={{ ml: -0.6 }}>
        <Button disabled={looking !== null} sx={{ py: 0 }} onClick={() => void suggest()}>
          Suggest witnesses
        </Button>
        {looking !== null && (
          <Button sx={{ py: 0 }} onClick={stop}>
            Stop
          </Button>
        )}
      </Stack>
      {looking !== null && (
        <Typography role="status" variant="caption">
          Looking for places near {looking} that hold still
        </Typography>
      )}
      {problem !== null && (
        <Typography role="alert" variant="body2" color="primary">
          {problem}
        </Typography>
      )}
      {found?.map((one) => (
        <OfElement key={one.id} of={one} onDone={dismiss} />
      ))}
      {found?.length === 0 && <Typography variant="caption">Nothing stands over the plate yet.</Typography>}
    </Stack>
  )
}

function OfElement({ of: { name, suggestions, not }, onDone }: { of: ForElement; onDone: (id: string) => void }) {
  return (
    <Stack role="group" aria-label={`Suggested for ${name}`} spacing={0.5}>
      <Typography variant="body2">{name}</Typography>
      {suggestions.map((suggestion) => (
        <OneSuggestion key={suggestion.witness.id} of={suggestion} onDone={onDone} />
      ))}
      {not.map(({ purpose, why }) => (
        <Typography key={purpose} variant="caption" color="textSecondary">
          {purposeWords[purpose]}: {why}
        </Typography>
      ))}
    </Stack>
  )
}

function OneSuggestion({ of: { witness, reason, error }, onDone }: { of: Suggestion; onDone: (id: string) => void }) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const accept = () => {
    const shot = selectDocument(store.getState())
    if (!shot) return
    const added = { ...witness, id: newId(), rank: lastRank(inOrder(shot.witnesses)) }
    dispatch(shotActions.edited({ kind: 'add-witness', witness: added }))
    // To where its places were chosen, so that they can be seen and moved.
    const { follows } = witness.adjusted
    if (follows !== undefined) dispatch(viewChanged({ playing: { frame: follows } }))
    dispatch(shotActions.thingSelected({ kind: 'witness', id: added.id }))
    onDone(witness.id)
  }
  const inPixels = purposes[witness.purpose].unit === 'pixels'
  const expected = inPixels ? `${error.toFixed(2)} px` : error.toFixed(4)
  return (
    <Stack role="group" aria-label={witness.name}>
      <Typography variant="caption">
        {purposeWords[witness.purpose]}, ± {expected}
      </Typography>
      <Typography variant="caption" color="textSecondary">
        {reason}
      </Typography>
      <Stack direction="row" sx={{ ml: -0.6 }}>
        <Button aria-label={`Accept ${witness.name}`} sx={{ py: 0 }} onClick={accept}>
          Accept
        </Button>
        <Button aria-label={`Dismiss ${witness.name}`} sx={{ py: 0 }} onClick={() => onDone(witness.id)}>
          Dismiss
        </Button>
      </Stack>
    </Stack>
  )
}
