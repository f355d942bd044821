/** Scene-linear values of plate, element and composite, under the pointer and at the places kept. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useAppDispatch, useAppSelector } from '../store'
import { selectElement } from '../store/selectors'
import { viewActions } from '../store/view-slice'
import { usePixelValues, type PixelValues } from './picture/use-pixel-values'

const layers: readonly (keyof PixelValues)[] = ['plate', 'element', 'composite']

function Reading({
  name,
  x,
  y,
  values,
  elementName,
  onDrop,
}: {
  name: string
  x: number
  y: number
  values: PixelValues | null
  elementName: string
  onDrop?: () => void
}) {
  const label = { plate: 'plate', element: elementName, composite: 'composite' }
  return (
    <Box data-testid={`reading-${name}`}>
      <Stack direction="row" sx={{ justifyContent: 'space-between', alignItems: 'center' }}>
        <Typography variant="caption" color="textSecondary">
          {name === 'pointer' ? 'Under the pointer' : `Place ${name}`}, {x} {y}
        </Typography>
        {onDrop && (
          <Button sx={{ minWidth: 0, px: 0.5, py: 0, mr: -0.5 }} onClick={onDrop}>
            Drop
          </Button>
        )}
      </Stack>
      {layers.map((layer) => (
        <Stack key={layer} direction="row" sx={{ fontSize: 11 }} data-testid={`${name}-${layer}`}>
          <Box
            sx={{
              flex: 1,
              color: 'text.secondary',
              overflow: 'hidden',
              textOverflow: 'ellipsis',
              whiteSpace: 'nowrap',
            }}
          >
            {label[layer]}
          </Box>
          {[0, 1, 2].map((c) => (
            <Box key={c} component="span" sx={{ width: 45, textAlign: 'right' }}>
              {values?.[layer]?.[c].toFixed(4) ?? '–'}
            </Box>
          ))}
        </Stack>
      ))}
    </Box>
  )
}

export function Values() {
  const dispatch = useAppDispatch()
  const { pointer, kept, scale } = useAppSelector((state) => state.view)
  const element = useAppSelector(selectElement)
  const places = [...(pointer ? [pointer] : []), ...kept]
  const values = usePixelValues(places)
  const elementName = element?.landing.kind === 'plate' ? 'treated plate' : (element?.name ?? '')
  return (
    <Stack spacing={0.75} sx={{ borderTop: 1, borderColor: 'divider', p: 1.2, minHeight: 0, overflow: 'auto' }}>
      <Typography variant="caption" color="textSecondary">
        Scene-linear red, green, blue{scale === 1 ? '' : `, averaged over ${scale} × ${scale} pixels`}
      </Typography>
      {pointer ? (
        <Reading name="pointer" x={pointer.x} y={pointer.y} values={values[0]} elementName={elementName} />
      ) : (
        <Typography variant="caption" color="textSecondary">
          Point at the picture to read values. Click to keep a place.
        </Typography>
      )}
      {kept.map((place, i) => (
        <Reading
          key={place.id}
          name={String(place.id)}
          x={place.x}
          y={place.y}
          values={values[(pointer ? 1 : 0) + i]}
          elementName={elementName}
          onDrop={() => dispatch(viewActions.readingDropped(place.id))}
        />
      ))}
    </Stack>
  )
}
