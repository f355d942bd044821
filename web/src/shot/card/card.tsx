/** The card of what is selected: how it lands, its treatments, and values read from the picture. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { lazy, memo, Suspense } from 'react'
import { encodings } from '../../../../core/colour'
import type { LandingKind } from '../../../../core/graph/steps'
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
const ChannelNames = memo(function ChannelNames() {
  return (
    <Stack direction="row" spacing={0.5}>
      {['red', 'green', 'blue'].map((name) => (
        <Typography key={name} variant="caption" color="textSecondary" sx={{ flex: 1, textAlign: 'right', pr: 0.5 }}>
          {name}
        </Typography>
      ))}
    </Stack>
  )
})

/** Of the element only what stands here: the rest changes while a number is dragged. */
const Heading = memo(function Heading({
  id,
  name,
  visible,
  from,
  kind,
}: Pick<Element, 'id' | 'name' | 'visible'> & { from: string; kind: LandingKind }) {
  const dispatch = useAppDispatch()
  const source = useAppSelector((state) => state.shot.shot?.sources.find((s) => s.id === from))
  const landing = landings[kind]
  const isPlate = kind === 'plate'
  return (
    <Box>
      <Stack direction="row" sx={{ alignItems: 'center', justifyContent: 'space-between' }}>
        <Typography variant="h2">{name}</Typography>
        {!isPlate && (
          <Button
            sx={{ mr: -0.6 }}
            onClick={() => dispatch(shotActions.edited({ kind: 'show-element', element: id, visible: !visible }))}
          >
            {visible ? 'Hide' : 'Show'}
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
})

/** Treatments that did not change are not drawn again while another is dragged. */
const Treatment = memo(function Treatment({ element, settings }: { element: string; settings: TreatmentSettings }) {
  const dispatch = useAppDispatch()
  const sources = useAppSelector((state) => selectShownShot(state)?.sources) ?? []
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
        <Typography variant="h2">{description.label}</Typography>
        <Button sx={{ mr: -0.6 }} onClick={toggle}>
          {enabled ? 'Bypass' : 'Use'}
        </Button>
      </Stack>
      {kind === 'veil-and-gain' && (
        <Suspense fallback={<Box sx={{ height: plotHeight }} />}>
          <ResponsePlot element={element} settings={settings} />
        </Suspense>
      )}
      <Typography variant="caption" color="textSecondary">
        {description.help}
        {sourcesText(settings, sources)}
      </Typography>
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

export function Card() {
  const element = useAppSelector(selectElement)
  const source = useAppSelector(selectSource)
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
  if (!element) return <Box sx={{ gridArea: 'card' }} />
  const landing = landings[element.landing.kind]
  return (
    <Box
      component="section"
      aria-label="Card"
      sx={{ gridArea: 'card', borderLeft: 1, borderColor: 'divider', display: 'flex', flexDirection: 'column' }}
    >
      <Stack spacing={1.5} sx={{ p: 1.5, overflow: 'auto', flex: 1 }}>
        <Heading
          id={element.id}
          name={element.name}
          visible={element.visible}
          from={element.source}
          kind={element.landing.kind}
        />
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
        {element.treatments.map((settings) => (
          <Treatment key={settings.id} element={element.id} settings={settings} />
        ))}
        {landing.parameters.length === 0 && element.treatments.length === 0 && element.landing.kind !== 'plate' && (
          <Typography variant="body2" color="textSecondary">
            Nothing to set here.
          </Typography>
        )}
      </Stack>
    </Box>
  )
}
