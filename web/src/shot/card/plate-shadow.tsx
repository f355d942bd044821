/** The ratio of a shadow by the plate's own: a sample on ground in the light, another on the same ground in its shadow. */

import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useMemo, useState } from 'react'
import type { ShadowRatio } from '../../../../core/match'
import type { Element } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectFrame, selectSamples, type PlacedSample } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { ProposalRow } from '../witnesses/proposal-row'
import { usePlateShadow } from './use-plate-shadow'

export function PlateShadow({ element }: { element: Element }) {
  const [open, setOpen] = useState(false)
  return (
    <Stack spacing={0.5}>
      <Button sx={{ alignSelf: 'flex-start', ml: -0.6 }} aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? 'Hide the plate’s own shadow' : 'By the plate’s own shadow …'}
      </Button>
      {open && <ByTwoSamples element={element} />}
    </Stack>
  )
}

function ByTwoSamples({ element }: { element: Element }) {
  const samples = useAppSelector(selectSamples)
  const [chosen, setChosen] = useState<{ readonly lit?: string; readonly shadowed?: string }>({})
  const named = (id: string | undefined) => samples.find((one) => one.id === id)
  const lit = named(chosen.lit)
  const shadowed = named(chosen.shadowed)
  const both = useMemo(() => (lit && shadowed && lit !== shadowed ? { lit, shadowed } : null), [lit, shadowed])
  const found = usePlateShadow(element, both)
  if (samples.length < 2)
    return (
      <Typography variant="caption" color="textSecondary">
        Keep two samples first: one on ground in the light, one on the same ground in a shadow of the plate.
      </Typography>
    )
  return (
    <Stack role="group" aria-label="Ratio by the plate’s own shadow" spacing={0.5}>
      <SampleChoice
        label="Ground in the light"
        samples={samples}
        chosen={chosen.lit}
        choose={(id) => setChosen({ ...chosen, lit: id })}
      />
      <SampleChoice
        label="The same ground in shadow"
        samples={samples}
        chosen={chosen.shadowed}
        choose={(id) => setChosen({ ...chosen, shadowed: id })}
      />
      {typeof found === 'string' && <Typography variant="caption">{found}</Typography>}
      {found !== null && typeof found !== 'string' && <Ratio element={element} found={found} />}
    </Stack>
  )
}

interface SampleChoiceProps {
  readonly label: string
  readonly samples: readonly PlacedSample[]
  readonly chosen: string | undefined
  readonly choose: (id: string) => void
}

function SampleChoice({ label, samples, chosen, choose }: SampleChoiceProps) {
  return (
    <TextField
      select
      size="small"
      variant="standard"
      label={label}
      value={samples.some(({ id }) => id === chosen) ? chosen : ''}
      onChange={(event) => choose(event.target.value)}
    >
      {samples.map(({ id, name }) => (
        <MenuItem key={id} dense value={id}>
          {name}
        </MenuItem>
      ))}
    </TextField>
  )
}

function Ratio({ element, found: { ratio } }: { element: Element; found: ShadowRatio }) {
  const dispatch = useAppDispatch()
  const frame = useAppSelector(selectFrame)
  const use = () =>
    dispatch(
      shotActions.edited({
        kind: 'together',
        changes: [
          {
            kind: 'set-channels',
            at: { owner: { kind: 'blend', element: element.id }, parameter: 'ratio' },
            frame,
            values: ratio.map(({ value }) => Number(Math.min(1, Math.max(0, value)).toFixed(6))),
          },
        ],
        label: 'Use the ratio of the plate’s own shadow',
      }),
    )
  return (
    <>
      <ProposalRow label="Ratio" values={ratio} />
      <Typography variant="caption" color="textSecondary">
        With the plate’s veil as it is set above.
      </Typography>
      <Button sx={{ alignSelf: 'flex-start', ml: -0.6 }} onClick={use}>
        Use the ratio
      </Button>
    </>
  )
}
