/** The card of a witness: what it is for, what it reads on both sides, and what is proposed from all of its element. */

import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { purposes, witnessPurposes, type DriftUnits, type Judged } from '../../../../core/match'
import { changesForPurpose, find, type SetWitness, type Witness } from '../../../../core/shot'
import { useStore } from 'react-redux'
import { useAppDispatch, useAppSelector } from '../../store'
import type { RootState } from '../../store/state'
import { selectDocument, selectDriftUnits, selectFrame, selectTracks, selectVerdicts } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { DragNumber } from '../card/drag-number'
import { RenamedHeading } from '../card/renamed-heading'
import { DriftPlotLater } from './drift-plot-later'
import { Proposal } from './proposal'
import { ShadowToAgree } from './shadow-to-agree'
import { driftMeaning, driftWords, purposeWords, stopsWords, verdictWords } from './verdict-words'

export function WitnessCard({ witness }: { witness: Witness }) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const { id, name, purpose, tolerance, element, on } = witness
  const light = purposes[purpose].comparesLight || purpose === 'colour' || purpose === 'sharpness'
  const found = useAppSelector((state) => selectVerdicts(state).get(id))
  const units = useAppSelector(selectDriftUnits)
  const elementName = useAppSelector((state) => {
    const shot = selectDocument(state)
    return (shot && find(shot.elements, element)?.name) ?? null
  })
  const objectName = useAppSelector((state) => {
    const shot = selectDocument(state)
    return (on !== undefined && shot && find(shot.referenceObjects, on)?.name) || null
  })
  const set = (changes: SetWitness['changes']) =>
    dispatch(shotActions.edited({ kind: 'set-witness', witness: id, changes }))
  const onPurpose = (wanted: Witness['purpose']) => {
    const state = store.getState()
    const shot = selectDocument(state)
    const frame = selectFrame(state)
    const read = state.readings.now[id]
    if (shot) set(changesForPurpose(shot, witness, wanted, frame, read?.frame === frame ? read.places : undefined))
  }
  return (
    <Stack spacing={1} sx={{ p: 1.5, overflow: 'auto', flex: 1, minHeight: 0 }}>
      <RenamedHeading title={`Witness ${name}`} name={name} onName={(changed) => set({ name: changed })} />
      <Typography variant="caption" color="textSecondary">
        {elementName === null
          ? 'Its element is gone. Undo what removed it, or remove the witness.'
          : on === undefined
            ? sidesWords(purpose, elementName)
            : objectName === null
              ? 'What it was read on is gone. Undo what removed it, or remove the witness.'
              : `${objectName} as it was photographed on one side, its render treated as ${elementName} is on the other.`}
      </Typography>
      <TextField
        select
        size="small"
        variant="standard"
        label="Purpose"
        value={purpose}
        onChange={({ target }) => onPurpose(target.value as Witness['purpose'])}
      >
        {witnessPurposes.map((one) => (
          <MenuItem key={one} value={one} dense>
            {purposeWords[one]}
          </MenuItem>
        ))}
      </TextField>
      {found && (tolerance !== undefined || found.tolerance.some((one) => one > 0)) && (
        <Stack direction="row" sx={{ alignItems: 'center', gap: 1 }}>
          <Typography variant="body2" sx={{ flex: 1 }}>
            Tolerance
          </Typography>
          <DragNumber
            label="Tolerance"
            value={tolerance ?? Math.max(...found.tolerance.map((one) => (Number.isNaN(one) ? 0 : one)))}
            step={0.0005}
            least={0.0001}
            most={purposes[purpose].unit === 'pixels' ? 100 : 1}
            digits={4}
            dim={tolerance === undefined}
            onChange={() => undefined}
            onCommit={(value) => set({ tolerance: value })}
          />
          <Button disabled={tolerance === undefined} onClick={() => set({ tolerance: null })}>
            As usual
          </Button>
        </Stack>
      )}
      {found && <Readings found={found} units={units} purpose={purpose} />}
      <DriftPlotLater purpose={purpose} />
      {on === undefined && <Follows witness={witness} onSide={set} />}
      {elementName !== null && purpose === 'shadow' && <ShadowToAgree witness={witness} />}
      {elementName !== null && light && <Proposal key={element} element={element} name={elementName} />}
      <Button
        sx={{ alignSelf: 'flex-start', ml: -0.6 }}
        onClick={() => {
          dispatch(shotActions.edited({ kind: 'remove-witness', witness: id }))
          // The element that was selected before comes back.
          dispatch(shotActions.sourceSelected(null))
        }}
      >
        Remove this witness
      </Button>
    </Stack>
  )
}

/** What is compared, where it is read on the shot itself. */
const sidesWords = (purpose: Witness['purpose'], element: string) =>
  purpose === 'shadow'
    ? `The plate’s own shadow and the same ground in the light (drag the third region there) on one side; on the other what ${element} makes of the plate.`
    : `The plate on one side, ${element} as it is treated on the other.`

/** Whether its sides stay where they are in the frame, or go along with what they were drawn on. */
function Follows({
  witness: { id, reference, adjusted },
  onSide,
}: {
  witness: Witness
  onSide: (changes: Pick<SetWitness['changes'], 'reference' | 'adjusted' | 'lit'>) => void
}) {
  const frame = useAppSelector(selectFrame)
  const read = useAppSelector((state) => state.readings.now[id])
  const places = read?.frame === frame ? read.places : undefined
  const tracks = useAppSelector(selectTracks)
  const sides = [
    { name: 'reference', label: 'Plate’s side', itself: 'the plate', side: reference },
    { name: 'adjusted', label: 'Element’s side', itself: 'the element', side: adjusted },
  ] as const
  return (
    <Stack role="group" aria-label="What moves" spacing={1}>
      {sides.map(({ name, label, itself, side }) => (
        <TextField
          key={name}
          select
          size="small"
          variant="standard"
          label={label}
          value={side.follows === undefined ? stays : (side.along ?? follows)}
          onChange={({ target: { value } }) => {
            // It stays where it is seen now, and ground in the light as the plate's side does.
            const { x, y, width, height } = places?.[name] ?? side
            const since = value === stays ? {} : { follows: frame }
            const along = value === stays || value === follows ? {} : { along: value }
            const lit = name === 'reference' && places?.lit ? { lit: places.lit } : {}
            onSide({ [name]: { x, y, width, height, ...since, ...along }, ...lit })
          }}
        >
          <MenuItem value={stays}>stays where it is</MenuItem>
          <MenuItem value={follows}>
            {side.follows !== undefined && side.along === undefined
              ? `follows ${itself} (${side.follows})`
              : `follows ${itself}`}
          </MenuItem>
          {tracks.map((track) => (
            <MenuItem key={track.id} value={track.id}>
              {side.along === track.id ? `moves with ${track.name} (${side.follows})` : `moves with ${track.name}`}
            </MenuItem>
          ))}
          {side.along !== undefined && !tracks.some((one) => one.id === side.along) && (
            <MenuItem value={side.along}>moves with a track that is gone</MenuItem>
          )}
        </TextField>
      ))}
    </Stack>
  )
}

/** Choices beside the ids of tracks. */
const stays = 'stays'
const follows = 'follows'

function Readings({ found, units, purpose }: { found: Judged; units: DriftUnits | null; purpose: Witness['purpose'] }) {
  const comparable = purposes[purpose].comparesLight || purpose === 'colour'
  return (
    <Stack role="group" aria-label="Drift on this frame" spacing={0.25}>
      <Typography variant="body2">{verdictWords(found)}</Typography>
      <Typography variant="caption" color="textSecondary">
        {driftMeaning[purpose]}
      </Typography>
      <Values of={driftWords(found, purpose)} />
      {units && comparable && !found.drift.some(Number.isNaN) && (
        <>
          <Values of={stopsWords(units)} />
          <Typography variant="caption" color="textSecondary">
            {Number.isNaN(units.difference)
              ? 'No difference of colours can be told.'
              : `dE2000 ${units.difference.toFixed(2)}, seen through sRGB`}
          </Typography>
        </>
      )}
      {found.over !== undefined && (
        <Typography variant="caption" color="textSecondary">
          The plate’s side is the mean of {found.over} frames that agree.
        </Typography>
      )}
    </Stack>
  )
}

function Values({ of }: { of: readonly string[] }) {
  return (
    <Stack direction="row" sx={{ justifyContent: 'space-between' }}>
      {of.map((text, c) => (
        <Typography key={c} variant="body2">
          {text}
        </Typography>
      ))}
    </Stack>
  )
}
