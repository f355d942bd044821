/** Where an element lies: its numbers, what it moves with, how it is sampled, and where it comes on its way. */

import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { memo } from 'react'
import { useStore } from 'react-redux'
import { placingDescription } from '../../../../core/set/owners'
import {
  elementsInOrder,
  fitted,
  moveWith,
  newPlacing,
  type Change,
  type Element,
  type Fitting,
  type Placing,
} from '../../../../core/shot'
import { useEngine } from '../../engine/engine-context'
import { useAppDispatch, useAppSelector } from '../../store'
import { planOf } from '../../store/plans'
import { selectCatalog, selectDocument } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { viewChanged } from '../../store/view'
import { boxOf, fileOf } from './box-of'
import { Extremes } from './extremes'
import { PinRows } from './pin'
import { ParameterRow } from './parameter-row'
import { Section } from './section'

/** The box is measured on a small picture. */
const boxScale = 4
const narrow = { minWidth: 0, px: 0.6, py: 0 } as const
const parts = {
  usual: ['x', 'y', 'rotation', 'scale', 'stretch', 'skew'],
  pivot: ['pivotX', 'pivotY', 'bend', 'twist'],
  corners: placingDescription.parameters.map(({ name }) => name).filter((name) => /(Left|Right)[XY]$/.test(name)),
  shutter: ['angle', 'opens', 'samples'],
}

export const PlacingSection = memo(function PlacingSection({ element }: { element: Element }) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const engine = useEngine()
  const { id, placing } = element
  const place = async () => {
    const state = store.getState()
    const shot = selectDocument(state)
    if (!shot) return
    const plan = planOf(shot, state.view.playing.frame, boxScale, selectCatalog(state))
    const box = await boxOf(engine, plan, shot, element)
    dispatch(viewChanged({ screen: { tool: 'place' } }))
    dispatch(shotActions.edited({ kind: 'place-element', element: id, placing: newPlacing(box) }))
  }
  if (!placing)
    return (
      <Button sx={{ ...narrow, alignSelf: 'flex-start', ml: -0.6 }} onClick={() => void place()}>
        Place: move, turn, scale
      </Button>
    )
  // Folded, so that what is matched stays in sight, unless its handles are in hand.
  const { tool } = store.getState().view.screen
  return (
    <Section
      name="Place"
      summary={placing.pin ? 'pinned to tracks' : 'moved by hand'}
      open={tool === 'place' || tool === 'corners'}
    >
      <Placed element={element} placing={placing} />
    </Section>
  )
})

function Placed({ element, placing }: { element: Element; placing: Placing }) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const tool = useAppSelector((state) => state.view.screen.tool)
  const { id } = element
  const now = () => {
    const state = store.getState()
    return { shot: selectDocument(state), frame: state.view.playing.frame }
  }
  const make = (edit: Change | null) => edit && dispatch(shotActions.edited(edit))
  const fit = (how: Fitting) => {
    const { shot, frame } = now()
    if (shot) make(fitted(shot, id, frame, how, fileOf(shot, element)?.enlarge ?? 1))
  }
  const set = (changes: Extract<Change, { kind: 'set-placing' }>['changes']) =>
    dispatch(shotActions.edited({ kind: 'set-placing', element: id, changes }))
  const take = (name: 'place' | 'corners') => dispatch(viewChanged({ screen: { tool: tool === name ? 'look' : name } }))
  return (
    <>
      <Stack direction="row" sx={{ ml: -0.6, flexWrap: 'wrap' }}>
        <Button sx={narrow} aria-pressed={tool === 'place'} onClick={() => take('place')}>
          {tool === 'place' ? 'Handles away' : 'Handles'}
        </Button>
        <Button sx={narrow} aria-pressed={tool === 'corners'} onClick={() => take('corners')}>
          Corners
        </Button>
        <Button sx={narrow} onClick={() => fit('fit')}>
          Fit
        </Button>
        <Button sx={narrow} onClick={() => fit('fill')}>
          Fill
        </Button>
        <Button sx={narrow} onClick={() => fit('by-pixel')}>
          By pixel
        </Button>
      </Stack>
      <Rows names={parts.usual} element={element} placing={placing} />
      <Choices element={element} placing={placing} onSet={set} />
      <PinRows element={element} placing={placing} />
      <Section name="Pivot, bend and twist" summary="">
        <Rows names={parts.pivot} element={element} placing={placing} />
      </Section>
      <Section name="Corners" summary="">
        <Rows names={parts.corners} element={element} placing={placing} />
      </Section>
      {placing.shutter === 'own' && <Rows names={parts.shutter} element={element} placing={placing} />}
      <Extremes element={element} />
      <Button
        sx={{ ...narrow, alignSelf: 'flex-start', ml: -0.6 }}
        onClick={() => dispatch(shotActions.edited({ kind: 'remove-placing', element: id }))}
      >
        Let it lie as it came
      </Button>
    </>
  )
}

interface OfPlacing {
  readonly element: Element
  readonly placing: Placing
}

function Rows({ names, element, placing }: OfPlacing & { readonly names: readonly string[] }) {
  return names.map((name) => {
    const parameter = placingDescription.parameters.find((one) => one.name === name)
    return (
      parameter && (
        <ParameterRow
          key={name}
          parameter={parameter}
          owner={{ kind: 'placing', element: element.id }}
          curves={placing.parameters[name]}
        />
      )
    )
  })
}

const filterWords = {
  'catmull-rom': 'Catmull-Rom',
  bilinear: 'Bilinear, soft',
  'lanczos-3': 'Lanczos-3, crisp',
  area: 'Mean of areas',
} as const
const shutterWords = { shot: 'As the shot', own: 'Own shutter', closed: 'None' } as const

/** What it moves with, how pixels between pixels are made, and whether its motion blurs it. */
function Choices({
  element,
  placing,
  onSet,
}: OfPlacing & { readonly onSet: (changes: Extract<Change, { kind: 'set-placing' }>['changes']) => void }) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const shot = useAppSelector(selectDocument)
  const others = shot
    ? elementsInOrder(shot).filter(({ element: { id } }) => id !== element.id && id !== shot.plate)
    : []
  const carry = (other: string | null) => {
    const { frame } = store.getState().view.playing
    const edit = shot && moveWith(shot, element.id, frame, other)
    if (edit) dispatch(shotActions.edited(edit))
    // Said as it stands with the rules: with whom it would move in a circle.
    else if (other !== null) onSet({ with: other })
  }
  const field = { select: true, size: 'small', variant: 'standard' } as const
  return (
    <>
      <TextField
        {...field}
        label="Moves with"
        slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
        value={placing.with ?? ''}
        onChange={({ target: { value } }) => carry(value === '' ? null : value)}
      >
        <MenuItem value="" dense>
          nothing else
        </MenuItem>
        {others.map(({ element: { id, name } }) => (
          <MenuItem key={id} value={id} dense>
            {name}
          </MenuItem>
        ))}
      </TextField>
      <Stack direction="row" spacing={1}>
        <TextField
          {...field}
          label="Sampled"
          sx={{ flex: 1, minWidth: 0 }}
          value={placing.filter ?? 'catmull-rom'}
          onChange={({ target: { value } }) =>
            onSet({ filter: value === 'catmull-rom' ? null : (value as NonNullable<Placing['filter']>) })
          }
        >
          {Object.entries(filterWords).map(([value, words]) => (
            <MenuItem key={value} value={value} dense>
              {words}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          {...field}
          label="Motion blur"
          sx={{ flex: 1, minWidth: 0 }}
          value={placing.shutter ?? 'shot'}
          onChange={({ target: { value } }) =>
            onSet({ shutter: value === 'shot' ? null : (value as NonNullable<Placing['shutter']>) })
          }
        >
          {Object.entries(shutterWords).map(([value, words]) => (
            <MenuItem key={value} value={value} dense>
              {words}
            </MenuItem>
          ))}
        </TextField>
      </Stack>
      {placing.box && (
        <Typography variant="caption" color="textSecondary">
          Box {Math.round(placing.box.width)} × {Math.round(placing.box.height)} at {Math.round(placing.box.x)},{' '}
          {Math.round(placing.box.y)}
        </Typography>
      )}
    </>
  )
}
