/** One treatment in a card: look without it, turn it off or remove it; its sources and numbers, and where it counts. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Tooltip from '@mui/material/Tooltip'
import Typography from '@mui/material/Typography'
import ButtonBase from '@mui/material/ButtonBase'
import { memo, useState } from 'react'
import { useStore } from 'react-redux'
import { valueAt } from '../../../../core/motion/curve'
import { valuesAt } from '../../../../core/plan/values'
import { allOf, makeOwn, usedTry, type TreatmentSettings, type Use } from '../../../../core/shot'
import { treatments, type SourceDescription, type TreatmentKind } from '../../../../core/treatments'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectSources } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { viewChanged } from '../../store/view'
import { copyTreatment } from '../column/element-acts'
import { MapFindings } from '../lens/map-findings'
import { StraightLines } from '../lens/straight-lines'
import { ChannelNames } from './channel-names'
import { CurveDrawing } from './curve-drawing'
import { HoldToLook } from './hold-to-look'
import { Limit } from './limit'
import { MeasureBacking } from './measure-backing'
import { MeasureFringe } from './measure-fringe'
import { MeasureGrain } from './measure-grain'
import { Section } from './section'
import { ParameterRow } from './parameter-row'
import { Choices, Points } from './points'
import { PlotLater } from './plot-later'
import { Problems } from './problems'
import { TakenMotion } from './taken-motion'
import { sourcesFor } from './treatment-sources'
import { TreatmentTries } from './treatment-tries'

/** Buttons that share a line. */
const narrow = { minWidth: 0, px: 0.6 } as const

interface TreatmentSourceProps {
  readonly settings: TreatmentSettings
  readonly wanted: SourceDescription
}

function TreatmentSource({ settings, wanted: { name, label, takes, without } }: TreatmentSourceProps) {
  const dispatch = useAppDispatch()
  const all = useAppSelector(selectSources)
  const chosen = settings.sources?.[name] ?? ''
  const choices = sourcesFor(takes, all)
  return (
    <TextField
      select
      size="small"
      variant="standard"
      label={label}
      value={choices.some(({ id }) => id === chosen) ? chosen : ''}
      slotProps={without === undefined ? {} : { select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      onChange={({ target: { value } }) => {
        const source = value === '' ? null : value
        dispatch(shotActions.edited({ kind: 'set-treatment-source', treatment: settings.id, name, source }))
      }}
    >
      {without !== undefined && (
        <MenuItem value="" dense>
          {without}
        </MenuItem>
      )}
      {choices.map(({ id, name: text }) => (
        <MenuItem key={id} value={id} dense>
          {text}
        </MenuItem>
      ))}
    </TextField>
  )
}

/** While it is held, by pointer or by Space, the picture is seen without the treatment; nothing is changed. */
function Without({ use, label }: { use: string; label: string }) {
  const dispatch = useAppDispatch()
  const look = () =>
    dispatch(viewChanged({ looking: { shown: 'other' }, comparing: { other: { kind: 'without', use } } }))
  const letGo = () => dispatch(viewChanged({ looking: { shown: 'composite' } }))
  return (
    <HoldToLook
      text="Look without"
      label={`Without ${label}`}
      title="Hold to see the picture without it"
      onLook={look}
      onLetGo={letGo}
    />
  )
}

/** In how many places the settings act. */
const countOfUses = (uses: Parameters<typeof allOf<Use>>[0], treatment: string) =>
  allOf(uses).filter((use) => use.treatment === treatment).length

/** What it does, in numbers: only what differs from the initial values. */
function summaryOf({ kind, parameters }: TreatmentSettings, frame: number): string {
  const changed = treatments[kind].parameters.filter(({ name, initial }) =>
    parameters[name]?.some((curve) => curve !== initial),
  )
  return changed
    .map(({ name, step, unit }) => {
      const digits = Math.max(0, Math.ceil(-Math.log10(step)))
      const values = [...new Set(parameters[name].map((curve) => valueAt(curve, frame).toFixed(digits)))]
      return `${values.join(' ')}${unit === '' ? '' : ` ${unit}`}`
    })
    .join(', ')
}

/** What is still to be matched, at a frame. */
function toLookAt({ kind, parameters, choices = {} }: TreatmentSettings, frame: number): string {
  const { toLookAt: told, parameters: described } = treatments[kind]
  return told?.(valuesAt(described, parameters, frame), choices) ?? ''
}

/** Nobody has changed a number of it yet. */
function isNew({ kind, parameters, points }: TreatmentSettings): boolean {
  const all = treatments[kind].parameters
  if (points && allOf(points).length > 0) return false
  return (
    (all.length > 0 || points !== undefined) &&
    all.every(({ name, initial }) => parameters[name].every((curve) => curve === initial))
  )
}

interface TreatmentProps {
  readonly use: Use
  readonly settings: TreatmentSettings
  /** at first */
  readonly open: boolean
}

/** Treatments that did not change are not drawn again while another is dragged. */
export const Treatment = memo(function Treatment({ use, settings, open: first }: TreatmentProps) {
  const dispatch = useAppDispatch()
  const [open, setOpen] = useState(first || isNew(settings) || treatments[settings.kind].byMatte === true)
  const description = treatments[settings.kind]
  const name = description.label.toLowerCase()
  const summary = useAppSelector((state) => (open ? '' : summaryOf(settings, state.view.playing.frame)))
  const look = useAppSelector((state) => toLookAt(settings, state.view.playing.frame))
  return (
    <Box sx={{ opacity: use.on ? 1 : 0.8, borderTop: 1, borderColor: 'divider', pt: 0.75 }}>
      <Stack direction="row" sx={{ alignItems: 'center' }}>
        <ButtonBase
          aria-expanded={open}
          aria-label={description.label}
          onClick={() => setOpen(!open)}
          sx={{ flex: 1, minWidth: 0, justifyContent: 'flex-start', gap: 0.75 }}
        >
          <Typography variant="h2" noWrap sx={{ flexShrink: 0 }}>
            {description.label}
          </Typography>
          <Typography variant="caption" color="textSecondary" noWrap>
            {summary}
          </Typography>
        </ButtonBase>
        {use.on && <Without use={use.id} label={name} />}
        <Button
          sx={narrow}
          aria-label={`Turn ${name} ${use.on ? 'off' : 'on'}`}
          onClick={() => dispatch(shotActions.edited({ kind: 'turn-treatment', use: use.id, on: !use.on }))}
        >
          {use.on ? 'Off' : 'On'}
        </Button>
      </Stack>
      <Problems kind="treatment" ids={[use.id]} />
      {use.on && settings.sources?.map !== undefined && <MapFindings source={settings.sources.map} />}
      {use.on && look !== '' && (
        <Typography variant="caption" component="p">
          {look}
        </Typography>
      )}
      {open && <Settings use={use} settings={settings} name={name} />}
    </Box>
  )
})

function Settings({ use, settings, name }: Omit<TreatmentProps, 'open'> & { readonly name: string }) {
  const { kind, id, parameters, tries } = settings
  const description = treatments[kind]
  return (
    <Stack spacing={0.75} sx={{ pt: 0.5 }}>
      <Shared use={use} name={name} />
      {kind === 'veil-and-gain' && <PlotLater settings={settings} />}
      {description.sources?.map((wanted) => (
        <TreatmentSource key={wanted.name} settings={settings} wanted={wanted} />
      ))}
      {kind === 'backing-key' && <MeasureBacking use={use} settings={settings} />}
      {kind === 'fringe' && <MeasureFringe settings={settings} />}
      {kind === 'grain' && <MeasureGrain settings={settings} />}
      {description.pinned && <TakenMotion settings={settings} />}
      {description.lines && <StraightLines settings={settings} />}
      <Choices description={description} of={{ kind: 'treatment', id }} choices={settings.choices} />
      {kind === 'curves' && <CurveDrawing settings={settings} />}
      {description.parameters.some((parameter) => parameter.channels === 3) && <ChannelNames />}
      {description.parameters.map((parameter) => (
        <ParameterRow
          key={parameter.name}
          parameter={parameter}
          owner={{ kind: 'treatment', id }}
          curves={parameters[parameter.name]}
        />
      ))}
      {settings.points && kind !== 'curves' && kind !== 'backing-key' && (
        <Points description={description} of={{ kind: 'treatment', id }} points={settings.points} />
      )}
      {settings.points && kind === 'backing-key' && (
        <Section name="Backing picks" summary={picksWords(allOf(settings.points).length)}>
          <Points description={description} of={{ kind: 'treatment', id }} points={settings.points} />
        </Section>
      )}
      <TreatmentTries
        treatment={id}
        name={name}
        count={tries ? allOf(tries).length : 0}
        used={usedTry(settings)?.name ?? null}
      />
      <Foot use={use} kind={kind} name={name} />
    </Stack>
  )
}

const picksWords = (count: number) => (count === 0 ? 'none: one colour for all' : String(count))

interface OfUse {
  readonly use: Use
  readonly name: string
}

/** Left out of what is seen while it is too slow to work with; a delivery has it. */
function Park({ use, name }: { use: string; name: string }) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const parked = useAppSelector((state) => state.view.looking.parked.includes(use))
  const toggle = () => {
    const all = store.getState().view.looking.parked
    const next = parked ? all.filter((one) => one !== use) : [...all, use]
    dispatch(viewChanged({ looking: { parked: next } }))
  }
  return (
    <Tooltip title="Left out of what you see while it is slow; deliveries have it">
      <Button
        sx={{ ...narrow, alignSelf: 'flex-start', ml: -0.6, py: 0 }}
        aria-label={`${parked ? 'Take up' : 'Park'} ${name}`}
        onClick={toggle}
      >
        {parked ? 'Parked: take it up' : 'Park'}
      </Button>
    </Tooltip>
  )
}

/** Settings that act elsewhere too. */
const Shared = memo(function Shared({ use, name }: OfUse) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const places = useAppSelector((state) => {
    const shot = selectDocument(state)
    return shot ? countOfUses(shot.uses, use.treatment) : 1
  })
  if (places < 2) return null
  const own = () => {
    const shot = selectDocument(store.getState())
    const edit = shot && makeOwn(shot, use.id)
    if (edit) dispatch(shotActions.edited(edit))
  }
  return (
    <Typography variant="caption" color="textSecondary" component="div">
      Shared: a change here changes it in {places} places.
      <Button sx={{ ...narrow, py: 0 }} aria-label={`Make ${name} its own`} onClick={own}>
        Make it its own
      </Button>
    </Typography>
  )
})

/** What stays as it is while a number is dragged: where the treatment counts, what it does, and what can be done with it. */
const Foot = memo(function Foot({ use, kind, name }: OfUse & { readonly kind: TreatmentKind }) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const owner = use.owner.kind === 'element' ? use.owner.id : null
  const copy = () => {
    const shot = selectDocument(store.getState())
    if (shot) void copyTreatment(shot, use.id)
  }
  const upTo = () =>
    owner !== null &&
    dispatch(viewChanged({ looking: { shown: 'node', node: { kind: 'element', id: owner, upTo: { use: use.id } } } }))
  return (
    <>
      <Limit use={use} open={treatments[kind].byMatte === true} />
      {use.on && <Park use={use.id} name={name} />}
      <Typography variant="caption" color="textSecondary">
        {treatments[kind].help}
      </Typography>
      <Stack direction="row" sx={{ ml: -0.6, justifyContent: 'space-between' }}>
        {owner !== null && (
          <Tooltip title="Show the element as it is after this treatment">
            <Button sx={narrow} aria-label={`Show up to ${name}`} onClick={upTo}>
              Show up to here
            </Button>
          </Tooltip>
        )}
        <Tooltip title="As text; Ctrl V puts it on what is selected, here or in another shot">
          <Button sx={narrow} aria-label={`Copy ${name}`} onClick={copy}>
            Copy
          </Button>
        </Tooltip>
        <Button
          sx={narrow}
          aria-label={`Remove ${name}`}
          onClick={() => dispatch(shotActions.edited({ kind: 'remove-treatment', use: use.id }))}
        >
          Remove
        </Button>
      </Stack>
    </>
  )
})
