/** The card of what is selected: how it lands, its treatments, and values read from the picture. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { lazy, Suspense } from 'react'
import { encodings } from '../../../../core/colour'
import { landings } from '../../../../core/set/landings'
import { treatments } from '../../../../core/treatments'
import type { Element, Source, TreatmentSettings } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectElement, selectShownShot, selectSource } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { SourceCard } from '../sources/source-card'
import { ParameterRow } from './parameter-row'

// The plotting package is large; the picture should not wait for it.
const ResponsePlot = lazy(() => import('./response-plot').then((module) => ({ default: module.ResponsePlot })))

/** Room kept for the plot while it is brought. */
const plotHeight = 150

function claimsText(source: Source): string {
  const { encoding, alpha } = source.claims
  return `${source.name}: ${encodings[encoding].label}, ${alpha === 'none' ? 'no alpha' : `${alpha} alpha`}`
}

/** Which sources a treatment reads besides the element's own. */
function sourcesText({ kind, sources = {} }: TreatmentSettings, all: readonly Source[]): string {
  return (treatments[kind].sources ?? [])
    .map(({ name, label }) => ` ${label}: ${all.find((source) => source.id === sources[name])?.name ?? 'none'}.`)
    .join('')
}

/** Names the columns of numbers below. */
function ChannelNames() {
  return (
    <Stack direction="row" spacing={0.5}>
      {['red', 'green', 'blue'].map((name) => (
        <Typography key={name} variant="caption" color="textSecondary" sx={{ flex: 1, textAlign: 'right', pr: 0.5 }}>
          {name}
        </Typography>
      ))}
    </Stack>
  )
}

function Heading({ element }: { element: Element }) {
  const dispatch = useAppDispatch()
  const source = useAppSelector((state) => state.shot.shot?.sources.find((s) => s.id === element.source))
  const landing = landings[element.landing.kind]
  const isPlate = element.landing.kind === 'plate'
  return (
    <Box>
      <Stack direction="row" sx={{ alignItems: 'center', justifyContent: 'space-between' }}>
        <Typography variant="h2">{element.name}</Typography>
        {!isPlate && (
          <Button
            sx={{ mr: -0.6 }}
            onClick={() =>
              dispatch(shotActions.edited({ kind: 'show-element', element: element.id, visible: !element.visible }))
            }
          >
            {element.visible ? 'Hide' : 'Show'}
          </Button>
        )}
      </Stack>
      <Typography variant="caption" color="textSecondary" component="div">
        {source && claimsText(source)}
      </Typography>
      <Typography variant="caption" color="textSecondary" component="div">
        {isPlate ? landing.help : `${landing.label}. ${landing.help}`}
      </Typography>
    </Box>
  )
}

export function Card() {
  const element = useAppSelector(selectElement)
  const source = useAppSelector(selectSource)
  const shot = useAppSelector(selectShownShot)
  const dispatch = useAppDispatch()
  if (source) {
    return (
      <Box
        component="section"
        aria-label="Card"
        sx={{ gridArea: 'card', borderLeft: 1, borderColor: 'divider', display: 'flex', flexDirection: 'column' }}
      >
        <SourceCard source={source} />
      </Box>
    )
  }
  if (!element || !shot) return <Box sx={{ gridArea: 'card' }} />
  const landing = landings[element.landing.kind]
  return (
    <Box
      component="section"
      aria-label="Card"
      sx={{ gridArea: 'card', borderLeft: 1, borderColor: 'divider', display: 'flex', flexDirection: 'column' }}
    >
      <Stack spacing={1.5} sx={{ p: 1.5, overflow: 'auto', flex: 1 }}>
        <Heading element={element} />
        {landing.parameters.some((parameter) => parameter.channels === 3) && <ChannelNames />}
        {landing.parameters.map((parameter) => (
          <ParameterRow
            key={parameter.name}
            parameter={parameter}
            element={element.id}
            treatment={null}
            curves={element.landing.parameters[parameter.name]}
          />
        ))}
        {element.treatments.map((settings) => {
          const description = treatments[settings.kind]
          const toggle = () =>
            dispatch(
              shotActions.edited({
                kind: 'enable-treatment',
                element: element.id,
                treatment: settings.id,
                enabled: !settings.enabled,
              }),
            )
          return (
            <Stack key={settings.id} spacing={1} sx={{ opacity: settings.enabled ? 1 : 0.55 }}>
              <Stack
                direction="row"
                sx={{
                  alignItems: 'center',
                  justifyContent: 'space-between',
                  borderTop: 1,
                  borderColor: 'divider',
                  pt: 1,
                }}
              >
                <Typography variant="h2">{description.label}</Typography>
                <Button sx={{ mr: -0.6 }} onClick={toggle}>
                  {settings.enabled ? 'Bypass' : 'Use'}
                </Button>
              </Stack>
              {settings.kind === 'veil-and-gain' && (
                <Suspense fallback={<Box sx={{ height: plotHeight }} />}>
                  <ResponsePlot element={element.id} settings={settings} />
                </Suspense>
              )}
              <Typography variant="caption" color="textSecondary">
                {description.help}
                {sourcesText(settings, shot.sources)}
              </Typography>
              {description.parameters.some((parameter) => parameter.channels === 3) && <ChannelNames />}
              {description.parameters.map((parameter) => (
                <ParameterRow
                  key={parameter.name}
                  parameter={parameter}
                  element={element.id}
                  treatment={settings.id}
                  curves={settings.parameters[parameter.name]}
                />
              ))}
            </Stack>
          )
        })}
        {landing.parameters.length === 0 && element.treatments.length === 0 && element.landing.kind !== 'plate' && (
          <Typography variant="body2" color="textSecondary">
            Nothing to set here.
          </Typography>
        )}
      </Stack>
    </Box>
  )
}
