/** What there may be several of: stops, ranges, picks; each with its numbers, added and taken away. And what is chosen by name. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { valueAt } from '../../../../core/motion/curve'
import {
  newId,
  newPoint,
  type Change,
  type Choices as Chosen,
  type Parameters,
  type Point,
  type PointOwner,
  type Table,
} from '../../../../core/shot'
import type { Description } from '../../../../core/treatments'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectFrame, selectSamples } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { ChannelNames } from './channel-names'
import { ParameterRow } from './parameter-row'
import { useSampleLight } from './use-sample-light'

const narrow = { minWidth: 0, px: 0.6, py: 0 } as const

interface OfDescription {
  readonly description: Description
  readonly of: PointOwner
}

/** Choosing by name; what is chosen may begin with numbers of its own. */
function chosen({ description, of }: OfDescription, name: string, value: string, frame: number): Change {
  const edit = { kind: 'set-choice', of, name, value } as const
  const option = description.choices?.find((one) => one.name === name)?.options.find((one) => one.name === value)
  const numbers = of.kind === 'treatment' ? Object.entries(option?.begins?.(frame) ?? {}) : []
  if (of.kind !== 'treatment' || numbers.length === 0) return edit
  const owner = { kind: 'treatment', id: of.id } as const
  const begins = numbers.map(
    ([parameter, number]) =>
      ({ kind: 'set-parameter', at: { owner, parameter, channel: 0 }, frame, value: number }) as const,
  )
  return { kind: 'together', changes: [edit, ...begins], label: `${description.label}: ${option?.label}` }
}

export function Choices({ description, of, choices = {} }: OfDescription & { readonly choices?: Chosen }) {
  const dispatch = useAppDispatch()
  const frame = useAppSelector(selectFrame)
  return description.choices?.map(({ name, label, help, options, initial }) => (
    <TextField
      key={name}
      select
      size="small"
      variant="standard"
      label={label}
      title={help}
      value={choices[name] ?? initial}
      onChange={({ target: { value } }) =>
        dispatch(shotActions.edited(chosen({ description, of }, name, value, frame)))
      }
    >
      {options.map((one) => (
        <MenuItem key={one.name} value={one.name} dense>
          {one.label}
        </MenuItem>
      ))}
    </TextField>
  ))
}

/** Points by their first number, so that they stand as they lie. */
function inOrder(points: Table<Point>, first: string | undefined): readonly Point[] {
  const at = ({ parameters }: Point) => (first ? valueAt(parameters[first][0], 0) : 0)
  return Object.values(points.byId).sort((a, b) => at(a) - at(b) || (a.id < b.id ? -1 : 1))
}

export function Points({ description, of, points }: OfDescription & { readonly points: Table<Point> }) {
  const dispatch = useAppDispatch()
  const described = description.points
  if (!described) return null
  const { label, help, parameters, fewest, most, sets } = described
  const ordered = inOrder(points, parameters[0]?.channels === 1 ? parameters[0].name : undefined)
  const add = (set?: string) =>
    dispatch(shotActions.edited({ kind: 'add-point', of, point: newPoint(description, newId(), {}, set) }))
  return (
    <Stack spacing={0.5}>
      {ordered.map((point, i) => (
        <Box key={point.id} sx={{ borderLeft: 1, borderColor: 'divider', pl: 0.75 }}>
          <Stack direction="row" sx={{ justifyContent: 'space-between' }}>
            <Typography variant="caption" color="textSecondary">
              {sets?.find(({ name }) => name === point.set)?.label ?? `${label} ${i + 1}`}
            </Typography>
            {ordered.length > fewest && (
              <Button
                sx={narrow}
                aria-label={`Remove ${label.toLowerCase()} ${i + 1}`}
                onClick={() => dispatch(shotActions.edited({ kind: 'remove-point', of, point: point.id }))}
              >
                Remove
              </Button>
            )}
          </Stack>
          {parameters.some(({ channels }) => channels === 3) && <ChannelNames />}
          {parameters.map((parameter) => (
            <ParameterRow
              key={parameter.name}
              parameter={parameter}
              owner={{ kind: 'point', of, id: point.id }}
              curves={point.parameters[parameter.name]}
            />
          ))}
        </Box>
      ))}
      <Typography variant="caption" color="textSecondary">
        {help}
      </Typography>
      <Stack direction="row" sx={{ ml: -0.6, flexWrap: 'wrap' }}>
        {ordered.length < most && !sets && (
          <Button sx={narrow} onClick={() => add()}>
            Add a {label.toLowerCase()}
          </Button>
        )}
        {ordered.length < most && parameters.some(({ name }) => name === 'colour') && (
          <FromSamples description={description} of={of} />
        )}
      </Stack>
    </Stack>
  )
}

/** A pick of the plate's light where a sample lies; with its place, where the description has one. */
function FromSamples({ description, of }: OfDescription) {
  const dispatch = useAppDispatch()
  const samples = useAppSelector(selectSamples)
  const lightOf = useSampleLight()
  const described = description.points
  if (samples.length === 0)
    return (
      <Typography variant="caption" color="textSecondary" sx={{ px: 0.6 }}>
        Ctrl click the picture for samples to pick from.
      </Typography>
    )
  const pick = async (sample: (typeof samples)[number]) => {
    const light = await lightOf(sample)
    if (!light) return
    const places: Parameters = described?.parameters.some(({ name }) => name === 'x')
      ? { x: [sample.x + sample.width / 2], y: [sample.y + sample.height / 2] }
      : {}
    const point = newPoint(description, newId(), { colour: light.map((v) => Math.max(0, v)), ...places })
    dispatch(shotActions.edited({ kind: 'add-point', of, point }))
  }
  return samples.map((sample) => (
    <Button key={sample.id} sx={narrow} onClick={() => void pick(sample)}>
      From sample {sample.name}
    </Button>
  ))
}
