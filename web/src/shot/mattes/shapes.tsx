/** The shapes of a drawn matte, and the one that is worked on: its edge, its points, its keyframes, its frames. */

import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { shapeDescription } from '../../../../core/set/owners'
import {
  inOrder,
  matteWays,
  oddities,
  type Change,
  type DrawnMatte,
  type KeyframeChoice,
  type MatteWay,
  type SetShape,
  type Shape,
  type ShapeNow,
} from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectFrame, selectShapeNow } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { viewChanged } from '../../store/view'
import { LabelledNumber } from '../card/labelled-number'
import { ParameterRow } from '../card/parameter-row'
import { wayWords } from './matte-words'
import { ChosenPoints } from './chosen-points'
import { EdgeOfPicture } from './edge-of-picture'
import { ShapeKeyframes } from './shape-keyframes'
import { SimpleShapes } from './simple-shapes'

const field = { select: true, size: 'small', variant: 'standard' } as const
const narrow = { minWidth: 0, px: 0.6, py: 0 } as const

export function Shapes({ matte }: { matte: DrawnMatte }) {
  const dispatch = useAppDispatch()
  const now = useAppSelector(selectShapeNow)
  const tool = useAppSelector((state) => state.view.screen.tool)
  const shapes = inOrder(matte.shapes)
  const hold = (name: 'outline' | 'points') =>
    dispatch(viewChanged({ screen: { tool: tool === name ? 'look' : name } }))
  return (
    <Stack role="group" aria-label="Shapes" spacing={0.75}>
      <Stack direction="row" sx={{ ml: -0.6, flexWrap: 'wrap' }}>
        <Button sx={narrow} aria-pressed={tool === 'outline'} onClick={() => hold('outline')}>
          Draw a shape
        </Button>
        <SimpleShapes matte={matte} />
        {shapes.length > 0 && (
          <Button sx={narrow} aria-pressed={tool === 'points'} onClick={() => hold('points')}>
            Choose points
          </Button>
        )}
      </Stack>
      <Typography variant="caption" color="textSecondary">
        {hints[tool] ?? (shapes.length === 0 ? 'No shape yet: it covers nothing.' : hints.look)}
      </Typography>
      {shapes.length > 1 && (
        <TextField
          {...field}
          label="Shape"
          value={now?.shape.id ?? ''}
          onChange={({ target }) => dispatch(viewChanged({ outlining: { shape: target.value, points: [] } }))}
        >
          {shapes.map(({ id, name, how }) => (
            <MenuItem key={id} value={id} dense>
              {name}, {wayWords[how]}
            </MenuItem>
          ))}
        </TextField>
      )}
      {now && <WorkedOn now={now} many={shapes.length} />}
    </Stack>
  )
}

const hints: Partial<Record<string, string>> = {
  outline:
    'Drag round it in one stroke; or press place by place (with Shift a corner), and the first place again or Enter to close. A press on the line puts a point there.',
  points:
    'Drag a frame round points to choose them; drag inside it to move, its corners to scale, the round handle to turn.',
  look: 'Drag a point to move it. Press one to choose it and see its handles; with Shift several.',
}

const keyframeWords: Readonly<Record<KeyframeChoice, string>> = {
  this: 'this frame',
  all: 'all keyframes',
  on: 'this frame and keyframes after it',
}

function WorkedOn({ now, many }: { now: ShapeNow; many: number }) {
  const dispatch = useAppDispatch()
  const keyframes = useAppSelector((state) => state.view.outlining.keyframes)
  const { matte, shape } = now
  const named = { matte: matte.id, shape: shape.id }
  const edit = (change: Change) => dispatch(shotActions.edited(change))
  const set = (changes: SetShape['changes']) => edit({ kind: 'set-shape', ...named, changes })
  const first = inOrder(matte.shapes)[0].id === shape.id
  return (
    <>
      {oddities(now).map((sentence) => (
        <Typography key={sentence} variant="caption">
          {sentence}
        </Typography>
      ))}
      <Stack direction="row" spacing={1}>
        {!first && (
          <TextField
            {...field}
            label="Is"
            sx={{ flex: 1 }}
            value={shape.how}
            onChange={({ target }) => set({ how: target.value as MatteWay })}
          >
            {matteWays.map((how) => (
              <MenuItem key={how} value={how} dense>
                {wayWords[how]}
              </MenuItem>
            ))}
          </TextField>
        )}
        <TextField
          {...field}
          label="Edge falls"
          sx={{ flex: 1 }}
          value={shape.profile ?? 'smooth'}
          onChange={({ target }) => set({ profile: target.value === 'linear' ? 'linear' : null })}
        >
          <MenuItem value="smooth" dense>
            smoothly
          </MenuItem>
          <MenuItem value="linear" dense>
            evenly
          </MenuItem>
        </TextField>
      </Stack>
      {shapeDescription.parameters.map((parameter) => (
        <ParameterRow
          key={parameter.name}
          parameter={parameter}
          owner={{ kind: 'shape', matte: matte.id, id: shape.id }}
          curves={shape.parameters[parameter.name]}
        />
      ))}
      <ChosenPoints />
      <TextField
        {...field}
        label="Moving points changes"
        value={keyframes}
        onChange={({ target }) => dispatch(viewChanged({ outlining: { keyframes: target.value as KeyframeChoice } }))}
      >
        {(Object.keys(keyframeWords) as KeyframeChoice[]).map((choice) => (
          <MenuItem key={choice} value={choice} dense>
            {keyframeWords[choice]}
          </MenuItem>
        ))}
      </TextField>
      <GoesAlong />
      <ShapeKeyframes />
      <EdgeOfPicture />
      <Frames shape={shape} onSet={set} />
      {many > 1 && (
        <Button
          sx={{ ...narrow, alignSelf: 'flex-start', ml: -0.6 }}
          onClick={() => {
            edit({ kind: 'remove-shape', ...named })
            dispatch(viewChanged({ outlining: { shape: null, points: [] } }))
          }}
        >
          Remove {shape.name}
        </Button>
      )}
    </>
  )
}

/** How far from the points that are moved others go along. */
function GoesAlong() {
  const dispatch = useAppDispatch()
  const reach = useAppSelector((state) => state.view.outlining.reach)
  return (
    <LabelledNumber
      text="Others go along within, px"
      value={reach}
      step={1}
      least={0}
      most={4000}
      digits={0}
      onCommit={(px) => dispatch(viewChanged({ outlining: { reach: px } }))}
    />
  )
}

/** On which frames it is there. */
function Frames({ shape: { from, to }, onSet }: { shape: Shape; onSet: (changes: SetShape['changes']) => void }) {
  const frame = useAppSelector(selectFrame)
  const words =
    from === undefined && to === undefined
      ? 'There on all frames.'
      : `There ${from === undefined ? '' : `from ${from} `}${to === undefined ? '' : `to ${to}`}`.trim() + '.'
  return (
    <Stack direction="row" sx={{ alignItems: 'center', ml: -0.6, flexWrap: 'wrap' }}>
      <Button sx={narrow} onClick={() => onSet({ from: frame })}>
        From here
      </Button>
      <Button sx={narrow} onClick={() => onSet({ to: frame })}>
        Up to here
      </Button>
      {(from !== undefined || to !== undefined) && (
        <Button sx={narrow} onClick={() => onSet({ from: null, to: null })}>
          On all
        </Button>
      )}
      <Typography variant="caption" color="textSecondary">
        {words}
      </Typography>
    </Stack>
  )
}
