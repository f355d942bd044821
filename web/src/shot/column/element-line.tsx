/** One line of the light column: grip, mark of being seen, name, blend; a second line where it is selected. */

import { useSortable } from '@dnd-kit/sortable'
import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import Typography from '@mui/material/Typography'
import { memo, type MouseEvent } from 'react'
import { blends } from '../../../../core/set/blends'
import { rootInput, type Element } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectElementVerdicts } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { verdictMarks } from '../witnesses/verdict-words'
import { labelTones } from './label-tones'
import { RenameField } from './rename-field'

export const lineHeight = 22
const indent = 10

interface ElementLineProps {
  readonly element: Element
  readonly depth: number
  readonly isPlate: boolean
  readonly selected: boolean
  /** the one whose card is open */
  readonly primary: boolean
  readonly renaming: boolean
  readonly onSelect: (id: string, event: MouseEvent) => void
  readonly onMenu: (id: string, event: MouseEvent) => void
  readonly onRename: (id: string | null) => void
}

const wordOf = ({ visible, blend }: Element, isPlate: boolean) =>
  isPlate ? 'plate' : visible ? blends[blend.kind].label.toLowerCase().replace(/ \(.*/, '') : 'off'

/** Which pass it is, its tags, and whether there is a note. */
function secondLine(element: Element): string {
  const root = rootInput(element)
  const pass = root?.kind === 'pass' ? (root.part ?? '').replace(/_/g, ' ') : root?.kind
  return [pass, ...(element.tags ?? []), element.note === undefined ? '' : 'note'].filter(Boolean).join(', ')
}

/** Not drawn again while another is dragged. */
export const ElementLine = memo(function ElementLine(props: ElementLineProps) {
  const { element, depth, isPlate, selected, primary, renaming, onSelect, onMenu, onRename } = props
  const { id, name, visible, label } = element
  const dispatch = useAppDispatch()
  const verdict = useAppSelector((state) => selectElementVerdicts(state).get(id))
  const { setNodeRef, attributes, listeners, transform, transition, isDragging } = useSortable({
    id,
    disabled: isPlate,
  })
  const below = primary ? secondLine(element) : ''
  return (
    <Box
      ref={setNodeRef}
      onContextMenu={(event) => onMenu(id, event)}
      sx={{
        position: 'relative',
        display: 'flex',
        alignItems: 'flex-start',
        bgcolor: selected ? 'action.selected' : undefined,
        borderLeft: 2,
        borderColor: selected ? 'primary.main' : 'transparent',
        opacity: isDragging ? 0.5 : 1,
        '&:hover': { bgcolor: 'action.selected' },
        // The path of light passes every line.
        '&::before': {
          content: '""',
          position: 'absolute',
          left: 17,
          top: 0,
          bottom: 0,
          borderLeft: 1,
          borderColor: 'divider',
        },
      }}
      style={{ transform: transform ? `translateY(${transform.y}px)` : undefined, transition }}
    >
      <Box
        {...attributes}
        {...listeners}
        aria-label={`Move ${name}`}
        sx={{
          width: 10,
          height: lineHeight,
          flexShrink: 0,
          cursor: isPlate ? 'default' : 'grab',
          touchAction: 'none',
          visibility: isPlate ? 'hidden' : undefined,
          // Two short lines to take hold of.
          '&::after': {
            content: '""',
            display: 'block',
            mx: '2px',
            mt: '9px',
            height: 4,
            borderTop: 1,
            borderBottom: 1,
            borderColor: 'text.secondary',
          },
        }}
      />
      <ButtonBase
        disabled={isPlate}
        aria-label={`${visible ? 'Hide' : 'Show'} ${name}`}
        onClick={() => dispatch(shotActions.edited({ kind: 'show-element', element: id, visible: !visible }))}
        sx={{ width: 14, height: lineHeight, flexShrink: 0, zIndex: 1 }}
      >
        <Box
          sx={{
            width: 8,
            height: 8,
            border: 1,
            borderColor: 'text.secondary',
            bgcolor: visible ? (label ? labelTones[label] : 'text.secondary') : 'background.default',
          }}
        />
      </ButtonBase>
      {renaming ? (
        <RenameField
          name={name}
          onName={(changed) => {
            onRename(null)
            if (changed !== null && changed !== name)
              dispatch(shotActions.edited({ kind: 'describe-element', element: id, changes: { name: changed } }))
          }}
        />
      ) : (
        <ButtonBase
          aria-pressed={selected}
          onClick={(event) => onSelect(id, event)}
          onDoubleClick={() => onRename(id)}
          sx={{
            flex: 1,
            minWidth: 0,
            pl: `${4 + depth * indent}px`,
            pr: 0.75,
            display: 'block',
            textAlign: 'left',
            opacity: visible ? 1 : 0.8,
          }}
        >
          <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.75, height: lineHeight }}>
            <Typography variant="body2" noWrap sx={{ flex: 1 }}>
              {name}
            </Typography>
            {verdict && (
              <Typography variant="caption" title={verdict.says} aria-label={verdict.says} sx={{ flexShrink: 0 }}>
                {verdictMarks[verdict.verdict]}
              </Typography>
            )}
            <Typography variant="caption" color="textSecondary" sx={{ flexShrink: 0 }}>
              {wordOf(element, isPlate)}
            </Typography>
          </Box>
          {below !== '' && (
            <Typography
              variant="caption"
              color="textSecondary"
              noWrap
              component="div"
              sx={{ pb: 0.4, lineHeight: 1.2 }}
            >
              {below}
            </Typography>
          )}
        </ButtonBase>
      )}
    </Box>
  )
})
