/** The card of a matte: what it is made of, what is done to it, what it moves with, and what uses it. */

import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useStore } from 'react-redux'
import { motionModels } from '../../../../core/motion/fitted-motion'
import { matteDescriptions } from '../../../../core/set/owners'
import {
  elementsInOrder,
  usersOf,
  type DrawnMatte,
  type Matte,
  type PaintedMatte,
  type Pin,
  type SetMatte,
} from '../../../../core/shot'
import type { ParameterDescription } from '../../../../core/treatments'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectMatteProblems } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { viewChanged } from '../../store/view'
import { ParameterRow } from '../card/parameter-row'
import { PinFields } from '../card/pin'
import { ProblemList } from '../card/problems'
import { RenamedHeading } from '../card/renamed-heading'
import { ObjectsOf } from './objects-of'
import { Painting } from './painting'
import { ChannelOf, CombinedOf, EdgeOf, ElementOf, KeyedBy, LiesIn } from './made-of'
import { Shapes } from './shapes'
import { WhereElementsPass } from './where-elements-pass'

export function MatteCard({ matte }: { matte: Matte }) {
  const dispatch = useAppDispatch()
  const problems = useAppSelector(selectMatteProblems)
  const { id, name, kind, parameters } = matte
  const set = (changes: SetMatte['changes']) => dispatch(shotActions.edited({ kind: 'set-matte', matte: id, changes }))
  return (
    <Stack spacing={1} sx={{ p: 1.5, overflow: 'auto', flex: 1, minHeight: 0 }}>
      <RenamedHeading title={name} name={name} onName={(changed) => set({ name: changed })} />
      <ProblemList problems={problems} />
      <Looks matte={id} isDrawn={kind === 'drawn'} />
      {(kind === 'drawn' || kind === 'painted') && <WhereElementsPass matte={id} />}
      {kind === 'drawn' && <Shapes matte={matte} />}
      {kind === 'painted' && <Painting matte={matte} />}
      {(kind === 'alpha' || kind === 'keyed') && <ElementOf matte={matte} onSet={set} />}
      {kind === 'keyed' && <KeyedBy matte={matte} onSet={set} />}
      {kind === 'objects' && <ObjectsOf matte={matte} onSet={set} />}
      {kind === 'band' && <EdgeOf matte={matte} onSet={set} />}
      {(kind === 'channel' || kind === 'depth') && <ChannelOf matte={matte} onSet={set} />}
      {(kind === 'channel' || kind === 'depth' || kind === 'objects') && <LiesIn matte={matte} onSet={set} />}
      {kind === 'combined' && <CombinedOf matte={matte} onSet={set} />}
      <Stack sx={{ borderTop: 1, borderColor: 'divider', pt: 0.75 }} spacing={0.5}>
        {parametersOf(matte).map((parameter) => (
          <ParameterRow
            key={parameter.name}
            parameter={parameter}
            owner={{ kind: 'matte', id }}
            curves={parameters[parameter.name]}
          />
        ))}
        <Stack direction="row" sx={{ flexWrap: 'wrap' }}>
          <Tick
            label="Inverted"
            checked={matte.inverted === true}
            onSet={(on) => set({ inverted: on ? true : null })}
          />
          {kind === 'drawn' && (
            <Tick
              label="Motion blur"
              checked={matte.shutter === undefined}
              onSet={(on) => set({ shutter: on ? null : 'closed' })}
            />
          )}
        </Stack>
      </Stack>
      {(kind === 'drawn' || kind === 'painted') && <MattePin matte={matte} />}
      <Users matte={id} />
      <Button
        sx={{ alignSelf: 'flex-start', ml: -0.6 }}
        onClick={() => {
          dispatch(shotActions.edited({ kind: 'remove-matte', matte: id }))
          // The element that was selected before comes back.
          dispatch(shotActions.sourceSelected(null))
        }}
      >
        Remove this matte
      </Button>
    </Stack>
  )
}

/** Its colour counts only where it is keyed by one. */
const parametersOf = (matte: Matte): readonly ParameterDescription[] =>
  matteDescriptions[matte.kind].parameters.filter(
    ({ name }) => name !== 'colour' || (matte.kind === 'keyed' && matte.choices.by === 'colour'),
  )

function Tick({ label, checked, onSet }: { label: string; checked: boolean; onSet: (on: boolean) => void }) {
  return (
    <FormControlLabel
      sx={{ my: -0.5 }}
      slotProps={{ typography: { variant: 'body2' } }}
      control={<Checkbox size="small" checked={checked} onChange={(_event, on) => onSet(on)} />}
      label={label}
    />
  )
}

/** Alone as a grey picture, or hatched over it; with the outlines of the keyframes around. */
function Looks({ matte, isDrawn }: { matte: string; isDrawn: boolean }) {
  const dispatch = useAppDispatch()
  const { hatched, neighbours } = useAppSelector((state) => state.view.outlining)
  const alone = useAppSelector(
    ({ view: { looking } }) =>
      looking.shown === 'node' && looking.node?.kind === 'matte' && looking.node.matte === matte,
  )
  const see = (on: boolean) =>
    dispatch(viewChanged({ looking: on ? { shown: 'node', node: { kind: 'matte', matte } } : { shown: 'composite' } }))
  return (
    <Stack direction="row" sx={{ flexWrap: 'wrap' }}>
      <Tick label="See it alone" checked={alone} onSet={see} />
      <Tick label="Hatched" checked={hatched} onSet={(on) => dispatch(viewChanged({ outlining: { hatched: on } }))} />
      {isDrawn && (
        <Tick
          label="Keyframes before and after"
          checked={neighbours}
          onSet={(on) => dispatch(viewChanged({ outlining: { neighbours: on } }))}
        />
      )}
    </Stack>
  )
}

function MattePin({ matte }: { matte: DrawnMatte | PaintedMatte }) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const shot = useAppSelector(selectDocument)
  const { pin } = matte
  const frame = () => store.getState().view.playing.frame
  const set = (next: DrawnMatte['pin'] | null) =>
    dispatch(shotActions.edited({ kind: 'pin-matte', matte: matte.id, pin: next ?? null }))
  const placed = shot ? elementsInOrder(shot).filter(({ element }) => element.placing) : []
  const withElement = pin && 'element' in pin ? pin.element : null
  const gone = withElement !== null && !placed.some(({ element }) => element.id === withElement)
  return (
    <>
      {(placed.length > 0 || withElement !== null) && (
        <TextField
          select
          size="small"
          variant="standard"
          label="Moves with the element"
          value={withElement ?? ''}
          onChange={({ target }) => set(target.value === '' ? null : { element: target.value, frame: frame() })}
          slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
        >
          <MenuItem value="" dense>
            none
          </MenuItem>
          {gone && (
            <MenuItem value={withElement} dense>
              an element that is gone
            </MenuItem>
          )}
          {placed.map(({ element }) => (
            <MenuItem key={element.id} value={element.id} dense>
              {element.name}
            </MenuItem>
          ))}
        </TextField>
      )}
      {withElement === null && <TrackPin pin={pin && 'tracks' in pin ? pin : null} frame={frame} onSet={set} />}
    </>
  )
}

interface TrackPinProps {
  readonly pin: Pin | null | undefined
  readonly frame: () => number
  readonly onSet: (pin: Pin | null) => void
}

function TrackPin({ pin, frame, onSet: set }: TrackPinProps) {
  return (
    <PinFields
      label="Pin"
      title={pin ? `Moves with tracks, as drawn on ${pin.frame}` : 'Pin to tracks'}
      none="To let it move with the plate, track points or a region first (Shift T)."
      pin={pin ?? null}
      models={motionModels}
      beyond
      onSet={set}
      here={{
        text: 'As drawn on this frame',
        act: () => pin && set({ ...pin, frame: frame() }),
      }}
      unpin="Unpin"
      by="Follows their"
    />
  )
}

function Users({ matte }: { matte: string }) {
  const shot = useAppSelector(selectDocument)
  const users = shot ? usersOf(shot, { kind: 'matte', id: matte }) : []
  return (
    <Typography variant="caption" color="textSecondary">
      {users.length === 0
        ? 'Nothing uses it yet. On an element’s card add a holdout, or limit a treatment by it.'
        : `Used by ${users.join(', ')}.`}
    </Typography>
  )
}
