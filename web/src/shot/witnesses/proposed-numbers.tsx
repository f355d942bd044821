/** Settings of a single number, each by itself in place of a veil and a gain: what it would have to be, and how sure that is. */

import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useStore } from 'react-redux'
import { fewestForCurves, numberNames, type NumberName, type ToneCurves } from '../../../../core/match'
import { newId, type Shot, type SingleChange } from '../../../../core/shot'
import { curvesChanges, numberChanges, type NumberFound } from '../../../../core/witnesses'
import { useAppDispatch } from '../../store'
import { selectDocument, selectFrame } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { useProposedNumbers } from './use-proposed-numbers'

const labels: Readonly<Record<NumberName, string>> = {
  exposure: 'Exposure',
  'white balance': 'As lit by',
  saturation: 'Saturation',
  tint: 'Tint',
}
/** What rounds to nothing has no sign. */
function signed(value: number): string {
  const text = value.toFixed(2)
  return Number(text) === 0 ? '0.00' : value > 0 ? `+${text}` : text
}

const words: Readonly<Record<NumberName, (value: number) => string>> = {
  exposure: (stops) => `${signed(stops)} stops`,
  'white balance': (kelvin) => `${Math.round(kelvin / 10) * 10} K`,
  saturation: (amount) => `${amount.toFixed(3)} ×`,
  tint: (amount) => `${amount.toFixed(3)} ×`,
}
const bars: Readonly<Record<NumberName, (bar: number) => string>> = {
  exposure: (bar) => bar.toFixed(2),
  'white balance': (bar) => `${Math.round(bar / 10) * 10} K`,
  saturation: (bar) => bar.toFixed(3),
  tint: (bar) => bar.toFixed(3),
}

const plateBalance = 'white balance of the plate'

export function ProposedNumbers({ element, name }: { element: string; name: string }) {
  const [open, setOpen] = useState(false)
  return (
    <Stack spacing={0.5} sx={{ borderTop: 1, borderColor: 'divider', pt: 1 }}>
      <Button sx={{ alignSelf: 'flex-start', ml: -0.6 }} aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? 'Hide exposure, colour, curves' : 'Exposure, colour, curves …'}
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
  const make = (what: string, changesOf: (shot: Shot, frame: number) => SingleChange[]) => {
    const state = store.getState()
    const shot = selectDocument(state)
    if (!shot) return
    const changes = changesOf(shot, selectFrame(state))
    dispatch(shotActions.edited({ kind: 'together', changes, label: `Use the proposed ${what}` }))
  }
  const { numbers, plate, curves } = found
  return (
    <Stack role="group" aria-label={`One number for ${name}`} spacing={0.25}>
      {numberNames.map((what) => (
        <NumberRow
          key={what}
          what={what}
          name={what}
          label={labels[what]}
          found={numbers[what]}
          use={({ value, picks }) =>
            make(what, (shot, frame) => numberChanges(shot, element, what, { value, frame, picks, id: newId() }))
          }
        />
      ))}
      <NumberRow
        what="white balance"
        name={plateBalance}
        label="Plate lit by"
        found={plate}
        use={({ value }) =>
          make(plateBalance, (shot, frame) =>
            numberChanges(shot, shot.plate, 'white balance', { value, frame, id: newId() }),
          )
        }
      />
      <CurvesRow
        curves={curves}
        use={(proposed) => make('curves', (shot) => curvesChanges(shot, element, proposed, newId()))}
      />
      <Typography variant="caption" color="textSecondary">
        Each by itself, with everything else as it is set, from the witnesses on this frame. Tint takes the colours of
        the plate’s sides. The light of the plate changes it under everything, in place of the element’s.
      </Typography>
    </Stack>
  )
}

interface NumberRowProps {
  readonly what: NumberName
  /** in the history */
  readonly name: string
  readonly label: string
  readonly found: NumberFound | null
  readonly use: (found: NumberFound) => void
}

function NumberRow({ what, name, label, found, use }: NumberRowProps) {
  return (
    <Stack direction="row" role="group" aria-label={label} sx={{ alignItems: 'center', gap: 0.5 }}>
      <Typography variant="caption" sx={{ width: 62 }}>
        {label}
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
            aria-label={`Use the ${name}`}
            title={found.against === null ? undefined : `${found.against} does not fit the others`}
            onClick={() => use(found)}
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

interface CurvesRowProps {
  readonly curves: ToneCurves | null
  readonly use: (curves: ToneCurves) => void
}

function CurvesRow({ curves, use }: CurvesRowProps) {
  const bars = curves?.channels.flat().flatMap(({ out }) => (Number.isFinite(out.bar) ? [out.bar] : [])) ?? []
  return (
    <Stack direction="row" role="group" aria-label="Curves" sx={{ alignItems: 'center', gap: 0.5 }}>
      <Typography variant="caption" sx={{ width: 62 }}>
        Curves
      </Typography>
      {curves ? (
        <>
          <Typography variant="body2" sx={{ flex: 1, textAlign: 'right' }}>
            from {curves.rests.length}
          </Typography>
          <Typography
            variant="caption"
            color="textSecondary"
            title="The widest bar of a point, in code values"
            sx={{ width: 52, textAlign: 'right' }}
          >
            ± {Math.max(...bars).toFixed(3)}
          </Typography>
          <Button
            sx={{ minWidth: 0 }}
            aria-label="Use the curves"
            title={curves.against === null ? undefined : `${curves.against} does not fit the others`}
            onClick={() => use(curves)}
          >
            Use
          </Button>
        </>
      ) : (
        <Typography variant="caption" color="textSecondary" sx={{ flex: 1, textAlign: 'right' }}>
          needs {fewestForCurves} witnesses, dark to light
        </Typography>
      )}
    </Stack>
  )
}
