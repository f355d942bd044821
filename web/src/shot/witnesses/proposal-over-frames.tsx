/** Veil and gain for the whole shot, from all frames that were read: one setting, or keyframes where the plate's veil changes. */

import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useStore } from 'react-redux'
import type { SingleChange } from '../../../../core/shot'
import { useAppDispatch } from '../../store'
import { selectFrame } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { ProposalRow } from './proposal-row'
import { keptTry, proposedLabels, treatmentFor } from './proposed-treatment'
import { useProposalOverFrames, type ProposedForShot } from './use-proposal-over-frames'

export function ProposalOverFrames({ element, name }: { element: string; name: string }) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const found = useProposalOverFrames(element)
  if (!found) return null
  const { together, veil, frames, settings } = found
  const use = () => {
    const { addition, treatment } = treatmentFor(store.getState(), element)
    if (treatment === null) return
    const changes = [
      ...addition,
      ...keptTry(settings, treatment),
      ...changesForShot(found, treatment, store.getState()),
    ]
    const label = 'Use the veil and gain proposed for the shot'
    dispatch(shotActions.edited({ kind: 'together', changes, label }))
  }
  return (
    <Stack
      role="group"
      aria-label={`Proposal for ${name} over the shot`}
      spacing={0.5}
      sx={{ borderTop: 1, borderColor: 'divider', pt: 1 }}
    >
      <Typography variant="body2">From {frames} frames together</Typography>
      {(['veil', 'gain'] as const).map((one) => (
        <ProposalRow key={one} label={proposedLabels[one]} values={together[one]} />
      ))}
      <Typography variant="caption" color="textSecondary">
        {veil.kind === 'one'
          ? 'One veil and one gain hold for all of them.'
          : `No one veil holds for all of them: ${veil.keyframes.length} keyframes follow it, with one gain.`}
      </Typography>
      <Button sx={{ alignSelf: 'flex-start', ml: -0.6 }} onClick={use}>
        Use for the shot
      </Button>
    </Stack>
  )
}

/** Whatever keyframes there were are taken away first. */
function changesForShot({ together, veil }: ProposedForShot, treatment: string, state: RootState): SingleChange[] {
  const owner = { kind: 'treatment', id: treatment } as const
  const rounded = (value: number) => Number(value.toFixed(6))
  const whole = (parameter: 'veil' | 'gain'): SingleChange => ({
    ...{ kind: 'set-channels', at: { owner, parameter }, frame: selectFrame(state) },
    values: together[parameter].map(({ value }) => rounded(value)),
  })
  const resets = (['veil', 'gain'] as const).map((parameter): SingleChange => ({
    ...{ kind: 'reset-parameter', at: { owner, parameter, channel: null } },
  }))
  if (veil.kind === 'one') return [...resets, whole('veil'), whole('gain')]
  const curves = [0, 1, 2].map((channel) => ({
    at: { owner, parameter: 'veil', channel },
    keyframes: Object.fromEntries(
      veil.keyframes.map(({ frame, value }) => [frame, { value: rounded(value[channel]), to: 'straight' as const }]),
    ),
  }))
  return [...resets, { kind: 'set-keyframes', curves }, whole('gain')]
}
