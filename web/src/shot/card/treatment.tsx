/** One treatment in a card: look without it, turn it off or remove it; its sources and numbers, and where it counts. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Tooltip from '@mui/material/Tooltip'
import Typography from '@mui/material/Typography'
import { lazy, memo, Suspense, type KeyboardEvent } from 'react'
import { allOf, type TreatmentSettings, type Use } from '../../../../core/shot'
import { treatments, type SourceDescription } from '../../../../core/treatments'
import { firstPicture } from '../../engine/first-picture'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectSources } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { viewChanged } from '../../store/view'
import { ChannelNames } from './channel-names'
import { Limit } from './limit'
import { ParameterRow } from './parameter-row'
import { Problems } from './problems'
import { sourcesFor } from './treatment-sources'

// The plotting package is large; the picture should not wait for it.
const ResponsePlot = lazy(() =>
  firstPicture.then(() => import('./response-plot')).then((module) => ({ default: module.ResponsePlot })),
)

/** Four buttons share a line. */
const narrow = { minWidth: 0, px: 0.6 } as const

/** Room kept for the plot while it is loaded. */
const plotHeight = 150

interface TreatmentSourceProps {
  readonly settings: TreatmentSettings
  readonly wanted: SourceDescription
}

function TreatmentSource({ settings, wanted: { name, label, takes } }: TreatmentSourceProps) {
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
      onChange={({ target: { value: source } }) =>
        dispatch(shotActions.edited({ kind: 'set-treatment-source', treatment: settings.id, name, source }))
      }
    >
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
  const onKey = (event: KeyboardEvent, act: () => void) => {
    if (event.key !== ' ' || event.repeat) return
    event.stopPropagation()
    act()
  }
  return (
    <Tooltip title="Hold to see the picture without it">
      <Button
        sx={narrow}
        aria-label={`Without ${label}`}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId)
          look()
        }}
        onPointerUp={letGo}
        onPointerCancel={letGo}
        onKeyDown={(event) => onKey(event, look)}
        onKeyUp={(event) => onKey(event, letGo)}
      >
        Without
      </Button>
    </Tooltip>
  )
}

/** In how many places the settings act. */
const countOfUses = (uses: Parameters<typeof allOf<Use>>[0], treatment: string) =>
  allOf(uses).filter((use) => use.treatment === treatment).length

/** Treatments that did not change are not drawn again while another is dragged. */
export const Treatment = memo(function Treatment({ use, settings }: { use: Use; settings: TreatmentSettings }) {
  const dispatch = useAppDispatch()
  const { kind, id, parameters } = settings
  const description = treatments[kind]
  const name = description.label.toLowerCase()
  const shared = useAppSelector((state) => {
    const shot = selectDocument(state)
    return shot ? countOfUses(shot.uses, id) : 1
  })
  const owner = use.owner.kind === 'element' ? use.owner.id : null
  const upTo = () =>
    owner !== null &&
    dispatch(viewChanged({ looking: { shown: 'node', node: { kind: 'element', id: owner, upTo: { use: use.id } } } }))
  return (
    <Stack spacing={1} sx={{ opacity: use.on ? 1 : 0.55 }}>
      <Box sx={{ borderTop: 1, borderColor: 'divider', pt: 1 }}>
        <Typography variant="h2" noWrap>
          {description.label}
        </Typography>
        <Stack direction="row" sx={{ ml: -0.6 }}>
          {use.on && <Without use={use.id} label={name} />}
          {owner !== null && (
            <Tooltip title="Show the element as it is after this treatment">
              <Button sx={narrow} aria-label={`Show up to ${name}`} onClick={upTo}>
                Up to here
              </Button>
            </Tooltip>
          )}
          <Button
            sx={narrow}
            aria-label={`Turn ${name} ${use.on ? 'off' : 'on'}`}
            onClick={() => dispatch(shotActions.edited({ kind: 'turn-treatment', use: use.id, on: !use.on }))}
          >
            {use.on ? 'Off' : 'On'}
          </Button>
          <Button
            sx={narrow}
            aria-label={`Remove ${name}`}
            onClick={() => dispatch(shotActions.edited({ kind: 'remove-treatment', use: use.id }))}
          >
            Remove
          </Button>
        </Stack>
        {shared > 1 && (
          <Typography variant="caption" color="textSecondary" component="div">
            Shared: a change here changes it in {shared} places.
          </Typography>
        )}
      </Box>
      <Problems kind="treatment" ids={[use.id]} />
      {kind === 'veil-and-gain' && (
        <Suspense fallback={<Box sx={{ height: plotHeight }} />}>
          <ResponsePlot settings={settings} />
        </Suspense>
      )}
      <Typography variant="caption" color="textSecondary">
        {description.help}
      </Typography>
      {description.sources?.map((wanted) => (
        <TreatmentSource key={wanted.name} settings={settings} wanted={wanted} />
      ))}
      {description.parameters.some((parameter) => parameter.channels === 3) && <ChannelNames />}
      {description.parameters.map((parameter) => (
        <ParameterRow
          key={parameter.name}
          parameter={parameter}
          owner={{ kind: 'treatment', id }}
          curves={parameters[parameter.name]}
        />
      ))}
      <Limit use={use} />
    </Stack>
  )
})
