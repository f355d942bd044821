/** What is proposed for an element, how sure that is, and what it rests on; used whole or in part. */

import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useStore } from 'react-redux'
import type { Sure } from '../../../../core/match'
import { newId, type Change, type SingleChange } from '../../../../core/shot'
import { useAppDispatch } from '../../store'
import { selectDocument, selectFrame } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { PlotLater } from '../card/plot-later'
import { additionOf } from '../card/treatment-sources'
import { useProposal, veilAndGainOf, type Proposed } from './use-proposal'

type Name = 'veil' | 'gain'
const labels: Readonly<Record<Name, string>> = { veil: 'Veil', gain: 'Gain' }

export function Proposal({ element, name }: { element: string; name: string }) {
  const found = useProposal(element)
  if (found === null)
    return (
      <Typography variant="caption" color="textSecondary">
        Nothing can be proposed for {name} on this frame: no witness of it is covered by it.
      </Typography>
    )
  if (typeof found === 'string') return <Typography variant="caption">{found}</Typography>
  return <Numbers found={found} element={element} name={name} />
}

function Numbers({ found, element, name }: { found: Proposed; element: string; name: string }) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const { proposal, settings, pairs } = found
  const use = (names: readonly Name[]) => {
    const edit = editOf(store.getState(), element, found, names)
    if (edit) dispatch(shotActions.edited(edit))
  }
  const { rests, against, surer } = proposal
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
        <Row key={one} label={labels[one]} values={proposal[one]} />
      ))}
      <Typography variant="caption" color="textSecondary">
        ± holds the truth nine times in ten. It rests on {rests.join(', ')}
        {rests.length === 1 ? '' : ' together'}, on this frame.
      </Typography>
      {against !== null && (
        <Typography variant="caption">{against} does not fit the others: it may be of other material.</Typography>
      )}
      {surer !== null && <Typography variant="caption">{surer}</Typography>}
      <Stack direction="row" sx={{ ml: -0.6, flexWrap: 'wrap' }}>
        <Button onClick={() => use(['veil', 'gain'])}>Use both</Button>
        <Button onClick={() => use(['veil'])}>Use the veil</Button>
        <Button onClick={() => use(['gain'])}>Use the gain</Button>
      </Stack>
    </Stack>
  )
}

function Row({ label, values }: { label: string; values: readonly Sure[] }) {
  return (
    <Stack direction="row" role="group" aria-label={label} sx={{ gap: 0.5 }}>
      <Typography variant="caption" sx={{ width: 34 }}>
        {label}
      </Typography>
      {values.map(({ value, bar }, c) => (
        <Stack key={c} sx={{ flex: 1, textAlign: 'right' }}>
          <Typography variant="body2">{value.toFixed(4)}</Typography>
          <Typography variant="caption" color="textSecondary">
            {bar === 0 ? 'as it is' : `± ${bar.toFixed(4)}`}
          </Typography>
        </Stack>
      ))}
    </Stack>
  )
}

/** What is there is kept as a try, so that both can be compared. */
function editOf(
  state: RootState,
  element: string,
  { proposal, settings }: Proposed,
  names: readonly Name[],
): Change | null {
  const shot = selectDocument(state)
  if (!shot) return null
  const known = veilAndGainOf(shot, element)
  const addition = known ? null : additionOf('veil-and-gain', { kind: 'element', id: element }, shot, [])
  const treatment = known?.settings.id ?? (addition?.kind === 'add-treatment' ? addition.settings.id : null)
  if (treatment === null) return null
  const sets = names.map((parameter): SingleChange => ({
    kind: 'set-channels',
    at: { owner: { kind: 'treatment', id: treatment }, parameter },
    frame: selectFrame(state),
    values: proposal[parameter].map(({ value }) => Number(value.toFixed(6))),
  }))
  const kept: readonly SingleChange[] = settings
    ? [{ kind: 'keep-treatment-try', treatment, id: newId(), name: 'before the proposal' }]
    : []
  const added = addition ? [addition as SingleChange] : []
  const what = names.map((one) => labels[one].toLowerCase()).join(' and ')
  return { kind: 'together', changes: [...added, ...kept, ...sets], label: `Use the proposed ${what}` }
}
