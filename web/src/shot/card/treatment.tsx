/** One treatment in a card: look without it, bypass or remove it; its sources and numbers. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Tooltip from '@mui/material/Tooltip'
import Typography from '@mui/material/Typography'
import { lazy, memo, Suspense } from 'react'
import type { TreatmentSettings } from '../../../../core/shot'
import { treatments, type SourceDescription } from '../../../../core/treatments'
import { firstPicture } from '../../engine/first-picture'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { viewActions } from '../../store/view-slice'
import { ChannelNames } from './channel-names'
import { ParameterRow } from './parameter-row'
import { sourcesFor } from './treatment-sources'

// The plotting package is large; the picture should not wait for it.
const ResponsePlot = lazy(() =>
  firstPicture.then(() => import('./response-plot')).then((module) => ({ default: module.ResponsePlot })),
)

/** Three buttons and a name share a line. */
const narrow = { minWidth: 0, px: 0.7 } as const

/** Room kept for the plot while it is brought. */
const plotHeight = 150

interface TreatmentSourceProps {
  readonly element: string
  readonly settings: TreatmentSettings
  readonly wanted: SourceDescription
}

function TreatmentSource({ element, settings, wanted: { name, label, takes } }: TreatmentSourceProps) {
  const dispatch = useAppDispatch()
  const all = useAppSelector((state) => selectDocument(state)?.sources) ?? []
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
        dispatch(shotActions.edited({ kind: 'set-treatment-source', element, treatment: settings.id, name, source }))
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

/** While it is held the picture is seen without the treatment; nothing is changed. */
function Without({ treatment }: { treatment: string }) {
  const dispatch = useAppDispatch()
  const letGo = () => dispatch(viewActions.viewChanged({ shown: 'composite' }))
  return (
    <Tooltip title="Hold to see the picture without it">
      <Button
        sx={narrow}
        data-testid={`without-${treatment}`}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId)
          dispatch(viewActions.viewChanged({ shown: 'other', other: { kind: 'without', treatment } }))
        }}
        onPointerUp={letGo}
        onPointerCancel={letGo}
      >
        Without
      </Button>
    </Tooltip>
  )
}

/** Treatments that did not change are not drawn again while another is dragged. */
export const Treatment = memo(function Treatment({
  element,
  settings,
}: {
  element: string
  settings: TreatmentSettings
}) {
  const dispatch = useAppDispatch()
  const { kind, id, enabled, parameters } = settings
  const description = treatments[kind]
  const toggle = () =>
    dispatch(shotActions.edited({ kind: 'enable-treatment', element, treatment: id, enabled: !enabled }))
  return (
    <Stack spacing={1} sx={{ opacity: enabled ? 1 : 0.55 }}>
      <Stack
        direction="row"
        sx={{ alignItems: 'center', justifyContent: 'space-between', borderTop: 1, borderColor: 'divider', pt: 1 }}
      >
        <Typography variant="h2" noWrap>
          {description.label}
        </Typography>
        <Box sx={{ flexShrink: 0 }}>
          {enabled && <Without treatment={id} />}
          <Button sx={narrow} onClick={toggle}>
            {enabled ? 'Bypass' : 'Use'}
          </Button>
          <Button
            sx={{ ...narrow, mr: -0.7 }}
            data-testid={`remove-${id}`}
            onClick={() => dispatch(shotActions.edited({ kind: 'remove-treatment', element, treatment: id }))}
          >
            Remove
          </Button>
        </Box>
      </Stack>
      {kind === 'veil-and-gain' && (
        <Suspense fallback={<Box sx={{ height: plotHeight }} />}>
          <ResponsePlot element={element} settings={settings} />
        </Suspense>
      )}
      <Typography variant="caption" color="textSecondary">
        {description.help}
      </Typography>
      {description.sources?.map((wanted) => (
        <TreatmentSource key={wanted.name} element={element} settings={settings} wanted={wanted} />
      ))}
      {description.parameters.some((parameter) => parameter.channels === 3) && <ChannelNames />}
      {description.parameters.map((parameter) => (
        <ParameterRow
          key={parameter.name}
          parameter={parameter}
          element={element}
          treatment={id}
          curves={parameters[parameter.name]}
        />
      ))}
    </Stack>
  )
})
