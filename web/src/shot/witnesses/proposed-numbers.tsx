/** Settings of a single number, each by itself in place of a veil and a gain: what it would have to be, and how sure that is. */

import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useStore } from 'react-redux'
import { numberNames, type NumberName, type NumberProposed } from '../../../../core/match'
import { newId, type Change, type Shot, type SingleChange } from '../../../../core/shot'
import { numberChanges } from '../../../../core/witnesses'
import { useAppDispatch } from '../../store'
import { selectDocument, selectFrame } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { useProposedNumbers } from './use-proposed-numbers'

const labels: Readonly<Record<NumberName, string>> = {
  exposure: 'Exposure',
  'white balance': 'As lit by',
  saturation: 'Saturation',
}
const words: Readonly<Record<NumberName, (value: number) => string>> = {
  exposure: (stops) => `${stops > 0 ? '+' : ''}${stops.toFixed(2)} stops`,
  'white balance': (kelvin) => `${Math.round(kelvin / 10) * 10} K`,
  saturation: (amount) => `${amount.toFixed(3)} ×`,
}
const bars: Readonly<Record<NumberName, (bar: number) => string>> = {
  exposure: (bar) => bar.toFixed(2),
  'white balance': (bar) => `${Math.round(bar / 10) * 10} K`,
  saturation: (bar) => bar.toFixed(3),
}

export function ProposedNumbers({ element, name }: { element: string; name: string }) {
  const [open, setOpen] = useState(false)
  return (
    <Stack spacing={0.5} sx={{ borderTop: 1, borderColor: 'divider', pt: 1 }}>
      <Button sx={{ alignSelf: 'flex-start', ml: -0.6 }} aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? 'Hide exposure, white, saturation' : 'Exposure, white, saturation …'}
      </Button>
      {open && <Measured element={element} name={name} />}
    </Stack>
  )
}

function Measured({ element, name }: { element: string; name: string }) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const found = useProposedNumbers(element)
  if (found === null) return <Typography variant="caption">Measuring …</Typography>
  if (typeof found === 'string') return <Typography variant="caption">{found}</Typography>
  const use = (what: NumberName, { value }: NumberProposed) => {
    const state = store.getState()
    const shot = selectDocument(state)
    if (shot) dispatch(shotActions.edited(editOf(shot, element, what, value, selectFrame(state))))
  }
  return (
    <Stack role="group" aria-label={`One number for ${name}`} spacing={0.25}>
      {numberNames.map((what) => (
        <NumberRow key={what} what={what} found={found[what]} use={use} />
      ))}
      <Typography variant="caption" color="textSecondary">
        Each by itself, with everything else as it is set, from the witnesses on this frame.
      </Typography>
    </Stack>
  )
}

interface NumberRowProps {
  readonly what: NumberName
  readonly found: NumberProposed | null
  readonly use: (what: NumberName, found: NumberProposed) => void
}

function NumberRow({ what, found, use }: NumberRowProps) {
  return (
    <Stack direction="row" role="group" aria-label={labels[what]} sx={{ alignItems: 'center', gap: 0.5 }}>
      <Typography variant="caption" sx={{ width: 62 }}>
        {labels[what]}
      </Typography>
      {found ? (
        <>
          <Typography variant="body2" sx={{ flex: 1, textAlign: 'right' }}>
            {words[what](found.value)}
          </Typography>
          <Typography variant="caption" color="textSecondary" sx={{ width: 52, textAlign: 'right' }}>
            {Number.isFinite(found.bar) ? `± ${bars[what](found.bar)}` : 'not sure'}
          </Typography>
          <Button
            sx={{ minWidth: 0 }}
            aria-label={`Use the ${what}`}
            title={found.against === null ? undefined : `${found.against} does not fit the others`}
            onClick={() => use(what, found)}
          >
            Use
          </Button>
        </>
      ) : (
        <Typography variant="caption" color="textSecondary" sx={{ flex: 1, textAlign: 'right' }}>
          needs a witness in the light
        </Typography>
      )}
    </Stack>
  )
}

function editOf(shot: Shot, element: string, what: NumberName, value: number, frame: number): Change {
  const { added, sets } = numberChanges(shot, element, what, { value, frame, id: newId() })
  const addition: SingleChange[] = added ? [{ kind: 'add-treatment', ...added }] : []
  return { kind: 'together', changes: [...addition, sets], label: `Use the proposed ${what}` }
}
