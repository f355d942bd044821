/** What a matte that is not drawn is made of. */

import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import {
  type AlphaMatte,
  type BandMatte,
  type ChannelMatte,
  type CombinedMatte,
  type DepthMatte,
  elementsInOrder,
  inOrder,
  type KeyedMatte,
  lastRank,
  type MattePart,
  mattesOf,
  type MatteWay,
  matteWays,
  mediaKind,
  newId,
  type ObjectsMatte,
  type SetMatte,
  type SingleChange,
} from '../../../../core/shot'
import { matteDescriptions } from '../../../../core/set/owners'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectFrame, selectReports, selectSamples, selectSources } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { useSampleLight } from '../card/use-sample-light'
import { useReports } from '../sources/use-reports'
import { wayWords } from './matte-words'

interface OfProps<M> {
  readonly matte: M
  readonly onSet: (changes: SetMatte['changes']) => void
}

const field = { select: true, size: 'small', variant: 'standard' } as const

export function ElementOf({ matte, onSet }: OfProps<AlphaMatte | KeyedMatte>) {
  const shot = useAppSelector(selectDocument)
  const elements = shot ? elementsInOrder(shot) : []
  const known = elements.some(({ element }) => element.id === matte.element)
  return (
    <TextField
      {...field}
      label={matte.kind === 'alpha' ? 'The coverage of' : 'The light of, before its treatments'}
      value={known ? matte.element : ''}
      onChange={({ target }) => onSet({ element: target.value })}
    >
      {elements.map(({ element }) => (
        <MenuItem key={element.id} value={element.id} dense>
          {element.name}
        </MenuItem>
      ))}
    </TextField>
  )
}

/** In the frame, or in the picture of an element, so that it is moved and bent as that is. */
export function LiesIn({ matte, onSet }: OfProps<ChannelMatte | DepthMatte | ObjectsMatte>) {
  const shot = useAppSelector(selectDocument)
  const elements = shot ? elementsInOrder(shot).filter(({ element }) => element.id !== shot.plate) : []
  const gone = matte.lies !== undefined && !elements.some(({ element }) => element.id === matte.lies)
  return (
    <TextField
      {...field}
      label="Lies in"
      value={matte.lies ?? ''}
      onChange={({ target }) => onSet({ lies: target.value === '' ? null : target.value })}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
    >
      <MenuItem value="" dense>
        the frame
      </MenuItem>
      {gone && (
        <MenuItem value={matte.lies} dense>
          an element that is gone
        </MenuItem>
      )}
      {elements.map(({ element }) => (
        <MenuItem key={element.id} value={element.id} dense>
          {element.name}, moved as it is
        </MenuItem>
      ))}
    </TextField>
  )
}

export function KeyedBy({ matte, onSet }: OfProps<KeyedMatte>) {
  const [by] = matteDescriptions.keyed.choices
  return (
    <>
      <TextField
        {...field}
        label={by.label}
        value={matte.choices.by}
        onChange={({ target }) => onSet({ choices: { ...matte.choices, by: target.value } })}
      >
        {by.options.map(({ name, label }) => (
          <MenuItem key={name} value={name} dense>
            {label}
          </MenuItem>
        ))}
      </TextField>
      {matte.choices.by === 'colour' && <FromSamples matte={matte.id} />}
    </>
  )
}

/** Levels of a distance: full near the colour, gone a little farther. */
const nearLevels = { low: -2, full: -1, fullTo: 0.02, high: 0.06 }

/** The colour is the plate's light where a sample lies. */
function FromSamples({ matte }: { matte: string }) {
  const dispatch = useAppDispatch()
  const frame = useAppSelector(selectFrame)
  const samples = useAppSelector(selectSamples)
  const lightOf = useSampleLight()
  if (samples.length === 0)
    return <Typography variant="caption">Ctrl click the picture for samples to pick the colour from.</Typography>
  const owner = { kind: 'matte', id: matte } as const
  const pick = async (sample: (typeof samples)[number]) => {
    const light = await lightOf(sample)
    if (!light) return
    const levels = Object.entries(nearLevels).map(([parameter, value]): SingleChange => ({
      ...{ kind: 'set-parameter', frame, value },
      at: { owner, parameter, channel: 0 },
    }))
    const values = light.map((value) => Math.max(0, value))
    const colour: SingleChange = { kind: 'set-channels', at: { owner, parameter: 'colour' }, frame, values }
    dispatch(
      shotActions.edited({ kind: 'together', changes: [colour, ...levels], label: `Colour of sample ${sample.name}` }),
    )
  }
  return (
    <Stack direction="row" sx={{ flexWrap: 'wrap', ml: -0.6 }}>
      {samples.map((sample) => (
        <Button key={sample.id} sx={{ minWidth: 0, px: 0.6, py: 0 }} onClick={() => void pick(sample)}>
          Colour of sample {sample.name}
        </Button>
      ))}
    </Stack>
  )
}

/** Which channel of which part of a source, as the files' headers name them. */
export function ChannelOf({ matte, onSet }: OfProps<ChannelMatte | DepthMatte>) {
  useReports(true)
  const reports = useAppSelector(selectReports)
  const sources = useAppSelector(selectSources)
  const valueOf = (source: string, part: string | null, channel: string | null) =>
    JSON.stringify([source, part, channel])
  const choices = sources
    .filter(({ path, forComparing }) => mediaKind(path) === 'picture' && !forComparing)
    .flatMap(({ id, name }) => [
      { value: valueOf(id, null, null), text: `${name}, its first channel` },
      ...(reports?.find(({ source }) => source === id)?.header?.parts ?? []).flatMap((part) =>
        part.channels.map((channel) => ({
          value: valueOf(id, part.name ?? null, channel.name),
          text: [name, part.name?.replace(/_/g, ' '), channel.name].filter(Boolean).join(', '),
        })),
      ),
    ])
  const present = valueOf(matte.source, matte.part, matte.channel)
  return (
    <TextField
      {...field}
      label={matte.kind === 'depth' ? 'The depths in' : 'The channel'}
      value={choices.some(({ value }) => value === present) ? present : ''}
      onChange={({ target }) => {
        const [source, part, channel] = JSON.parse(target.value) as [string, string | null, string | null]
        onSet({ of: { source, part, channel } })
      }}
    >
      {choices.map(({ value, text }) => (
        <MenuItem key={value} value={value} dense>
          {text}
        </MenuItem>
      ))}
    </TextField>
  )
}

/** The matte whose edge it is. */
export function EdgeOf({ matte, onSet }: OfProps<BandMatte>) {
  const shot = useAppSelector(selectDocument)
  const others = shot ? mattesOf(shot).filter(({ id }) => id !== matte.id) : []
  return (
    <TextField
      {...field}
      label="The edge of"
      value={others.some(({ id }) => id === matte.matte) ? matte.matte : ''}
      onChange={({ target }) => onSet({ edgeOf: target.value })}
    >
      {others.map(({ id, name }) => (
        <MenuItem key={id} value={id} dense>
          {name}
        </MenuItem>
      ))}
    </TextField>
  )
}

/** One after the other, from the top down. */
export function CombinedOf({ matte, onSet }: OfProps<CombinedMatte>) {
  const shot = useAppSelector(selectDocument)
  const others = shot ? mattesOf(shot).filter(({ id }) => id !== matte.id) : []
  const parts = inOrder(matte.parts)
  const set = (part: MattePart) => onSet({ parts: { [part.id]: part } })
  const add = () =>
    set({ id: newId(), rank: lastRank(parts), matte: others[0].id, how: parts.length === 0 ? 'add' : 'subtract' })
  return (
    <Stack role="group" aria-label="Made of" spacing={0.75}>
      {parts.length === 0 && (
        <Typography variant="caption">It is made of no matte yet, so it covers nothing.</Typography>
      )}
      {parts.map((part) => (
        <Stack key={part.id} direction="row" spacing={0.5} sx={{ alignItems: 'baseline' }}>
          <TextField
            {...field}
            sx={{ flex: 1, minWidth: 0 }}
            slotProps={{ htmlInput: { 'aria-label': 'Matte' } }}
            value={others.some(({ id }) => id === part.matte) ? part.matte : ''}
            onChange={({ target }) => set({ ...part, matte: target.value })}
          >
            {others.map(({ id, name }) => (
              <MenuItem key={id} value={id} dense>
                {name}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            {...field}
            slotProps={{ htmlInput: { 'aria-label': 'How it is combined' } }}
            value={`${part.how}${part.inverted ? ' inverted' : ''}`}
            onChange={({ target: { value } }) => {
              const { inverted: _before, ...rest } = part
              const [how, inverted] = value.split(' ') as [MatteWay, string | undefined]
              set({ ...rest, how, ...(inverted ? { inverted: true } : {}) })
            }}
          >
            {matteWays.flatMap((how) => [
              <MenuItem key={how} value={how} dense>
                {wayWords[how]}
              </MenuItem>,
              <MenuItem key={`${how} inverted`} value={`${how} inverted`} dense>
                {wayWords[how]}, inverted
              </MenuItem>,
            ])}
          </TextField>
          <Button
            aria-label="Leave it out"
            sx={{ minWidth: 0, px: 0.6 }}
            onClick={() => onSet({ parts: { [part.id]: null } })}
          >
            ×
          </Button>
        </Stack>
      ))}
      {others.length > 0 && (
        <Button sx={{ alignSelf: 'flex-start', ml: -0.6 }} onClick={add}>
          Add a matte
        </Button>
      )}
    </Stack>
  )
}
