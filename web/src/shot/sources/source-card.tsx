/** The card of a source: its claims in three voices, each with what you say in place, and what the check found. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { lazy, Suspense, useState, type ReactNode } from 'react'
import { voicesOf, type SourceReport, type Voices } from '../../../../core/check'
import { encodingNames, encodings, primaries, primariesNames } from '../../../../core/colour'
import {
  newLanding,
  newTreatment,
  type Claims,
  type Edit,
  type Source,
  type SourceChanges,
} from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectFindings, selectShownShot } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { FindingList } from './finding-list'

const LineUp = lazy(() => import('./line-up').then((module) => ({ default: module.LineUp })))

interface Choice<T> {
  readonly value: T
  readonly text: string
}

function Choose<T extends string | number>({
  label,
  value,
  choices,
  onChoose,
}: {
  label: string
  value: T
  choices: readonly Choice<T>[]
  onChoose: (value: T) => void
}) {
  return (
    <TextField
      select
      fullWidth
      size="small"
      variant="standard"
      value={value}
      onChange={(event) => onChoose(choices.find(({ value: v }) => String(v) === event.target.value)?.value ?? value)}
      slotProps={{ htmlInput: { 'aria-label': label }, select: { 'aria-label': label } }}
    >
      {choices.map((choice) => (
        <MenuItem key={String(choice.value)} value={choice.value} dense>
          {choice.text}
        </MenuItem>
      ))}
    </TextField>
  )
}

/** file says, pixels say, you say */
const voiceColumns = '66px 66px minmax(0, 1fr)'

/** A claim: the three voices side by side, marked where they do not agree. */
function Claim({ voices, action, children }: { voices: Voices | undefined; action?: ReactNode; children?: ReactNode }) {
  if (!voices) return null
  const { claim, file, pixels, you, agree } = voices
  return (
    <Box data-testid={`claim-${claim}`} data-agree={agree}>
      <Stack direction="row" sx={{ justifyContent: 'space-between', alignItems: 'center' }}>
        <Typography variant="body2">
          {claim}
          {agree ? '' : ' ◆'}
        </Typography>
        {action}
      </Stack>
      <Box sx={{ display: 'grid', gridTemplateColumns: voiceColumns, columnGap: 0.75, alignItems: 'baseline' }}>
        <Typography variant="caption" color="textSecondary">
          {file ?? '–'}
        </Typography>
        <Typography variant="caption" color="textSecondary">
          {pixels ?? '–'}
        </Typography>
        {children ?? <Typography variant="body2">{you}</Typography>}
      </Box>
    </Box>
  )
}

const encodingChoices = encodingNames.map((value) => ({ value, text: encodings[value].label }))
const primariesChoices = primariesNames.map((value) => ({ value, text: primaries[value].label }))
const alphaChoices = (['none', 'premultiplied', 'straight'] as const).map((value) => ({ value, text: value }))
const missingChoices = [
  { value: 'stop', text: 'stop with an error' },
  { value: 'repeat', text: 'repeat the one before' },
  { value: 'empty', text: 'leave empty' },
] as const
const enlargeChoices = [
  { value: 1, text: 'full size' },
  { value: 2, text: 'half size, enlarged' },
  { value: 4, text: 'quarter size, enlarged' },
] as const

function WholeNumber({ label, value, onSet }: { label: string; value: number; onSet: (value: number) => void }) {
  const [typed, setTyped] = useState<string | null>(null)
  const finish = () => {
    const number = Number(typed)
    if (typed !== null && typed.trim() !== '' && Number.isInteger(number)) onSet(number)
    setTyped(null)
  }
  return (
    <TextField
      size="small"
      variant="standard"
      label={label}
      value={typed ?? String(value)}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={finish}
      onKeyDown={(event) => event.key === 'Enter' && finish()}
      sx={{ width: 84 }}
    />
  )
}

/** Passes by name, each with a way to make an element of it. */
function Passes({ source, report }: { source: Source; report: SourceReport | null }) {
  const dispatch = useAppDispatch()
  const shot = useAppSelector(selectShownShot)
  const parts = report?.header?.parts ?? []
  if (!shot || parts.length === 0) return null
  const add = (part: string | null, matte: boolean) => {
    const stem = `${source.id}${part === null ? '' : `-${part.toLowerCase().replace(/[^a-z0-9]+/g, '-')}`}`
    let id = stem
    for (let n = 2; shot.elements.some((element) => element.id === id); n++) id = `${stem}-${n}`
    const name = part === null ? source.name : `${source.name}, ${part}`
    const landing = newLanding(matte ? 'shadow' : 'over')
    const treatments = matte ? [] : [newTreatment('veil-and-gain', 'match')]
    const element = { id, name, source: source.id, part, visible: true, landing, treatments }
    dispatch(shotActions.edited({ kind: 'add-element', element }))
    dispatch(shotActions.selected(id))
  }
  return (
    <Box>
      <Typography variant="body2">{parts.length === 1 ? 'Picture' : `${parts.length} passes`}</Typography>
      {parts.map(({ name, channels, dataWindow }, i) => (
        <Stack key={name ?? i} direction="row" sx={{ alignItems: 'center' }}>
          <Typography variant="caption" color="textSecondary" noWrap sx={{ flex: 1 }}>
            {name ?? 'colour'}: {channels.map((channel) => channel.name).join(' ')}, {dataWindow.width} x{' '}
            {dataWindow.height}
          </Typography>
          <Button sx={{ py: 0, minWidth: 0 }} onClick={() => add(name, channels.length === 1)}>
            Add
          </Button>
        </Stack>
      ))}
    </Box>
  )
}

export function SourceCard({ source }: { source: Source }) {
  const dispatch = useAppDispatch()
  const shot = useAppSelector(selectShownShot)
  const report = useAppSelector((state) => state.shot.reports?.find((one) => one.source === source.id)) ?? null
  const findings = useAppSelector(selectFindings)?.filter((finding) => finding.source === source.id) ?? []
  const [lineUp, setLineUp] = useState(false)
  if (!shot) return null
  const edit = (one: Edit) => dispatch(shotActions.edited(one))
  const claim = (claims: Partial<Claims>) => edit({ kind: 'set-claims', source: source.id, claims })
  const change = (changes: SourceChanges) => edit({ kind: 'set-source', source: source.id, changes })
  const voices = voicesOf(shot, source, report)
  const of = (name: Voices['claim']) => voices.find((one) => one.claim === name)
  const { claims, frames, offset = 0, missing = 'stop', enlarge = 1 } = source
  return (
    <Stack spacing={1.25} sx={{ p: 1.5, overflowX: 'hidden', overflowY: 'auto', flex: 1 }} data-testid="source-card">
      <Box>
        <Stack direction="row" sx={{ justifyContent: 'space-between', alignItems: 'center' }}>
          <Typography variant="h2">{source.name}</Typography>
          <Button sx={{ mr: -0.6 }} onClick={() => dispatch(shotActions.sourceSelected(null))}>
            Close
          </Button>
        </Stack>
        <Typography variant="caption" color="textSecondary" sx={{ overflowWrap: 'anywhere' }}>
          {source.path}
          {report?.header &&
            `, ${report.header.format.toUpperCase()}${report.header.bits ? ` ${report.header.bits} bit` : ''}`}
        </Typography>
      </Box>
      <FindingList findings={findings} named={false} />
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: voiceColumns,
          columnGap: 0.75,
          borderTop: 1,
          borderColor: 'divider',
          pt: 1,
        }}
      >
        {['file says', 'pixels say', 'you say'].map((voice) => (
          <Typography key={voice} variant="caption" color="textSecondary">
            {voice}
          </Typography>
        ))}
      </Box>
      <Claim
        voices={of('encoding')}
        action={
          <Button sx={{ py: 0, mr: -0.6 }} onClick={() => setLineUp(true)}>
            Line-up …
          </Button>
        }
      >
        <Choose
          label="Encoding"
          value={claims.encoding}
          choices={encodingChoices}
          onChoose={(encoding) => claim({ encoding })}
        />
      </Claim>
      <Claim voices={of('primaries')}>
        <Choose
          label="Primaries"
          value={claims.primaries}
          choices={primariesChoices}
          onChoose={(name) => claim({ primaries: name })}
        />
      </Claim>
      <Claim voices={of('alpha')}>
        <Choose label="Alpha" value={claims.alpha} choices={alphaChoices} onChoose={(alpha) => claim({ alpha })} />
      </Claim>
      <Claim voices={of('rate')} />
      <Claim voices={of('range')} />
      {frames && (
        <Stack direction="row" spacing={1}>
          <WholeNumber
            label="First file"
            value={frames.first}
            onSet={(first) => first <= frames.last && change({ frames: { ...frames, first } })}
          />
          <WholeNumber
            label="Last file"
            value={frames.last}
            onSet={(last) => last >= frames.first && change({ frames: { ...frames, last } })}
          />
          <WholeNumber label="Offset" value={offset} onSet={(by) => change({ offset: by === 0 ? undefined : by })} />
        </Stack>
      )}
      {frames && (
        <Box>
          <Typography variant="body2">a missing frame</Typography>
          <Choose
            label="A missing frame"
            value={missing}
            choices={missingChoices}
            onChoose={(value) => change({ missing: value === 'stop' ? undefined : value })}
          />
        </Box>
      )}
      <Claim voices={of('size')}>
        <Choose
          label="Rendered at"
          value={enlarge}
          choices={enlargeChoices}
          onChoose={(value) => change({ enlarge: value === 1 ? undefined : value })}
        />
      </Claim>
      <Claim voices={of('pixel aspect')} />
      <Passes source={source} report={report} />
      <Box>
        <Button
          onClick={() => {
            edit({ kind: 'remove-source', source: source.id })
          }}
          disabled={shot.elements.some(
            (e) =>
              e.source === source.id ||
              e.treatments.some(({ sources = {} }) => Object.values(sources).includes(source.id)),
          )}
        >
          Remove this source
        </Button>
      </Box>
      <Suspense>{lineUp && <LineUp source={source} onClose={() => setLineUp(false)} />}</Suspense>
    </Stack>
  )
}
