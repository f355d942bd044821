/** The light path: elements from far to near, then what glass, sensor and finish will do. */

import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import Typography from '@mui/material/Typography'
import { memo } from 'react'
import { blends } from '../../../core/set/blends'
import { elementsInOrder, rootInput, type Element } from '../../../core/shot'
import { useAppDispatch, useAppSelector } from '../store'
import { selectElementIds, selectShownShot } from '../store/selectors'
import { shotActions } from '../store/shot-slice'
import { SourceDrawer } from './sources/source-drawer'
import { Values } from './values'

/** How it is blended, from which pass, and whether it is hidden. */
function captionOf(element: Element, isPlate: boolean): string {
  const blend = isPlate ? 'plate' : blends[element.blend.kind].label.toLowerCase()
  const root = rootInput(element)
  const pass = root?.kind === 'pass' ? root.part?.replace(/_/g, ' ') : root?.kind
  return [blend, pass === blend ? undefined : pass, element.visible ? undefined : 'hidden']
    .filter((text) => text !== undefined)
    .join(', ')
}

/** Not drawn again while another is dragged. */
const ElementEntry = memo(function ElementEntry({
  element,
  selected,
  isPlate,
  depth,
}: {
  element: Element
  selected: boolean
  isPlate: boolean
  depth: number
}) {
  const dispatch = useAppDispatch()
  return (
    <ButtonBase
      onClick={(event) =>
        dispatch(
          event.ctrlKey || event.metaKey
            ? shotActions.alsoSelected({ kind: 'element', id: element.id })
            : shotActions.selected(element.id),
        )
      }
      aria-pressed={selected}
      sx={{
        display: 'block',
        width: '100%',
        textAlign: 'left',
        pl: 3 + depth * 1.5,
        pr: 1,
        py: 0.45,
        position: 'relative',
        bgcolor: selected ? 'action.selected' : undefined,
        opacity: element.visible ? 1 : 0.5,
        '&:hover': { bgcolor: 'action.selected' },
        // The path of light passes every entry; the mark is where it meets this one.
        '&::before': {
          content: '""',
          position: 'absolute',
          left: 13,
          top: 0,
          bottom: 0,
          borderLeft: 1,
          borderColor: 'divider',
        },
        '&::after': {
          content: '""',
          position: 'absolute',
          left: 9,
          top: 12,
          width: 9,
          height: 3,
          bgcolor: selected ? 'primary.main' : 'text.secondary',
        },
      }}
    >
      <Typography variant="body1" noWrap>
        {element.name}
      </Typography>
      <Typography variant="caption" color="textSecondary" noWrap component="div">
        {captionOf(element, isPlate)}
      </Typography>
    </ButtonBase>
  )
})

function Elements() {
  const shot = useAppSelector(selectShownShot)
  const chosen = useAppSelector(selectElementIds)
  return shot
    ? elementsInOrder(shot).map(({ element, depth }) => (
        <ElementEntry
          key={element.id}
          element={element}
          depth={depth}
          isPlate={element.id === shot.plate}
          selected={chosen.includes(element.id)}
        />
      ))
    : null
}

export function LightColumn() {
  return (
    <Box
      component="nav"
      aria-label="Light path"
      sx={{ gridArea: 'column', borderRight: 1, borderColor: 'divider', display: 'flex', flexDirection: 'column' }}
    >
      <SourceDrawer />
      <Typography variant="caption" color="textSecondary" sx={{ px: 1.2, pt: 1, pb: 0.5 }}>
        far
      </Typography>
      <Box role="group" aria-label="Elements, far to near" sx={{ overflow: 'auto', flexShrink: 0.2, minHeight: 170 }}>
        <Elements />
      </Box>
      <Typography variant="caption" color="textSecondary" sx={{ px: 1.2, py: 0.5 }}>
        near
      </Typography>
      <Box sx={{ flex: 1 }} />
      <Values />
    </Box>
  )
}
