/** The card of what is selected: how it is blended, its treatments, and values read from the picture. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { memo } from 'react'
import { encodings } from '../../../../core/colour'
import type { BlendKind } from '../../../../core/graph/steps'
import { blends } from '../../../../core/set/blends'
import type { Element, Source } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectElement, selectSource } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { SourceCard } from '../sources/source-card'
import { AddTreatment } from './add-treatment'
import { ChannelNames } from './channel-names'
import { ParameterRow } from './parameter-row'
import { Treatment } from './treatment'

function claimsText(source: Source): string {
  const { encoding, alpha } = source.claims
  return `${source.name}: ${encodings[encoding].label}, ${alpha === 'none' ? 'no alpha' : `${alpha} alpha`}`
}

/** Of the element only what stands here: the rest changes while a number is dragged. */
const Heading = memo(function Heading({
  id,
  name,
  visible,
  from,
  kind,
}: Pick<Element, 'id' | 'name' | 'visible'> & { from: string; kind: BlendKind }) {
  const dispatch = useAppDispatch()
  const source = useAppSelector((state) => state.shot.shot?.sources.find((s) => s.id === from))
  const blend = blends[kind]
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
        {isPlate ? blend.help : `${blend.label}. ${blend.help}`}
      </Typography>
    </Box>
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
  const blend = blends[element.blend.kind]
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
          kind={element.blend.kind}
        />
        {blend.parameters.some((parameter) => parameter.channels === 3) && <ChannelNames />}
        {blend.parameters.map((parameter) => (
          <ParameterRow
            key={parameter.name}
            parameter={parameter}
            element={element.id}
            treatment={null}
            curves={element.blend.parameters[parameter.name]}
          />
        ))}
        {element.treatments.map((settings) => (
          <Treatment key={settings.id} element={element.id} settings={settings} />
        ))}
        {element.blend.kind !== 'plate' && <AddTreatment element={element} />}
        {blend.parameters.length === 0 && element.treatments.length === 0 && element.blend.kind !== 'plate' && (
          <Typography variant="body2" color="textSecondary">
            Nothing to set here.
          </Typography>
        )}
      </Stack>
    </Box>
  )
}
