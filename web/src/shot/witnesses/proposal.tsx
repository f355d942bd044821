/** What is proposed for an element, how sure that is, and what it rests on; used whole or in part. */

import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useStore } from 'react-redux'
import { type Change, type SingleChange } from '../../../../core/shot'
import type { ProposedForElement } from '../../../../core/witnesses'
import { useAppDispatch } from '../../store'
import { selectFrame } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { PlotLater } from '../card/plot-later'
import { ProposalOverFrames } from './proposal-over-frames'
import { ProposalRow } from './proposal-row'
import { ProposedNumbers } from './proposed-numbers'
import { keptTry, proposedLabels, treatmentFor, type ProposedName } from './proposed-treatment'
import { useProposal } from './use-proposal'

export function Proposal({ element, name }: { element: string; name: string }) {
  const [withGamma, setWithGamma] = useState(false)
  const found = useProposal(element, withGamma)
  if (found === null)
    return (
      <Typography variant="caption" color="textSecondary">
        Nothing can be proposed for {name} on this frame: no witness of it is covered by it.
      </Typography>
    )
  return (
    <>
      {typeof found === 'string' ? (
        <Typography variant="caption">{found}</Typography>
      ) : (
        <Numbers found={found} element={element} name={name} />
      )}
      <FormControlLabel
        control={<Checkbox size="small" checked={withGamma} onChange={(_, wanted) => setWithGamma(wanted)} />}
        label="Gamma as well"
        slotProps={{ typography: { variant: 'caption' } }}
      />
      <ProposalOverFrames element={element} name={name} />
      <ProposedNumbers element={element} name={name} />
    </>
  )
}

function Numbers({ found, element, name }: { found: ProposedForElement; element: string; name: string }) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const { proposal, settings, pairs } = found
  const use = (names: readonly ProposedName[]) => {
    const edit = editOf(store.getState(), element, found, names)
    if (edit) dispatch(shotActions.edited(edit))
  }
  const { rests, contradictions, against, surer } = proposal
  return (
    <Stack
      role="group"
      aria-label={`Proposal for ${name}`}
      spacing={0.5}
      sx={{ borderTop: 1, borderColor: 'divider', pt: 1 }}
    >
      <Typography variant="body2">Proposed for {name}</Typography>
      {settings && <PlotLater settings={settings} pairs={pairs} />}
      {(['veil', 'gain'] as const).map((one) => (
        <ProposalRow key={one} label={proposedLabels[one]} values={proposal[one]} />
      ))}
      {'gamma' in proposal && <ProposalRow label={proposedLabels.gamma} values={proposal.gamma} />}
      {rests.length > 0 && (
        <Typography variant="caption" color="textSecondary">
          ± holds the truth nine times in ten. It rests on {rests.join(', ')}
          {rests.length === 1 ? '' : ' together'}, on this frame.
        </Typography>
      )}
      {contradictions.map(({ names: [one, other], asks, alone }) => (
        <Typography key={`${one} ${other}`} variant="caption">
          {one} and {other} contradict each other: {one} alone asks for a {asks} of {words(alone[0])}, {other} for{' '}
          {words(alone[1])}.
        </Typography>
      ))}
      {against !== null && (
        <Typography variant="caption">{against} does not fit the others: it may be of other material.</Typography>
      )}
      {surer !== null && <Typography variant="caption">{surer}</Typography>}
      {rests.length > 0 && (
        <Stack direction="row" sx={{ ml: -0.6, flexWrap: 'wrap' }}>
          {'gamma' in proposal ? (
            <Button onClick={() => use(['veil', 'gain', 'gamma'])}>Use all three</Button>
          ) : (
            <>
              <Button onClick={() => use(['veil', 'gain'])}>Use both</Button>
              <Button onClick={() => use(['veil'])}>Use the veil</Button>
              <Button onClick={() => use(['gain'])}>Use the gain</Button>
            </>
          )}
        </Stack>
      )}
    </Stack>
  )
}

const words = (values: readonly number[]) => values.map((value) => value.toFixed(3)).join(', ')

function editOf(
  state: RootState,
  element: string,
  { proposal, settings }: ProposedForElement,
  names: readonly ProposedName[],
): Change | null {
  const { addition, treatment } = treatmentFor(state, element)
  if (treatment === null) return null
  const valuesOf = (name: ProposedName) =>
    name === 'gamma' ? ('gamma' in proposal ? proposal.gamma : []) : proposal[name]
  const sets = names.map((parameter): SingleChange => ({
    kind: 'set-channels',
    at: { owner: { kind: 'treatment', id: treatment }, parameter },
    frame: selectFrame(state),
    values: valuesOf(parameter).map(({ value }) => Number(value.toFixed(6))),
  }))
  const what =
    names.length > 2 ? 'veil, gain and gamma' : names.map((one) => proposedLabels[one].toLowerCase()).join(' and ')
  const changes = [...addition, ...keptTry(settings, treatment), ...sets]
  return { kind: 'together', changes, label: `Use the proposed ${what}` }
}
