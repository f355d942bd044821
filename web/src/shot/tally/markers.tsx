/** Markers on the axis: a name beside a frame; pressed, the playhead goes there, pressed twice it is renamed. */

import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { useState } from 'react'
import type { FrameRange, Marker } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectMarkers } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { viewChanged } from '../../store/view'
import { RenameField } from '../column/rename-field'
import { leftOf } from './time-axis'

export const markersHeight = 15
const fieldWidth = 120

export function Markers({ frames }: { frames: FrameRange }) {
  const markers = useAppSelector(selectMarkers)
  const inRange = markers.filter(({ frame }) => frame >= frames.first && frame <= frames.last)
  if (inRange.length === 0) return null
  return (
    <Box role="list" aria-label="Markers" sx={{ position: 'relative', height: markersHeight }}>
      {inRange.map((marker) => (
        <MarkerName key={marker.id} marker={marker} frames={frames} />
      ))}
    </Box>
  )
}

function MarkerName({ marker: { id, name, frame, strokes }, frames }: { marker: Marker; frames: FrameRange }) {
  const dispatch = useAppDispatch()
  const [renaming, setRenaming] = useState(false)
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const rename = (changed: string | null) => {
    setRenaming(false)
    if (changed !== null && changed !== name)
      dispatch(shotActions.edited({ kind: 'set-marker', marker: id, changes: { name: changed } }))
  }
  const act = (what: () => void) => () => {
    setAnchor(null)
    what()
  }
  // Names of markers near the end lie on their left.
  const onLeft = frame > (frames.first + 3 * frames.last) / 4
  return (
    <Box
      role="listitem"
      // The axis below the pointer would move the playhead elsewhere.
      onPointerDown={(event) => event.stopPropagation()}
      sx={{
        position: 'absolute',
        left: leftOf(frame, frames),
        top: 0,
        height: markersHeight,
        [onLeft ? 'borderRight' : 'borderLeft']: '1px solid',
        borderColor: 'text.secondary',
        transform: onLeft ? 'translateX(-100%)' : undefined,
      }}
    >
      {renaming ? (
        <Box sx={{ width: fieldWidth }}>
          <RenameField name={name} onName={rename} />
        </Box>
      ) : (
        <ButtonBase
          aria-label={`Marker ${name}, frame ${frame}`}
          title="Press to go there, twice to rename, with the right button for more"
          onClick={() => dispatch(viewChanged({ playing: { frame } }))}
          onDoubleClick={() => setRenaming(true)}
          onContextMenu={(event) => {
            event.preventDefault()
            setAnchor(event.currentTarget)
          }}
          sx={{ px: 0.5, fontSize: 10.5, lineHeight: `${markersHeight}px`, color: 'text.secondary' }}
        >
          {name}
        </ButtonBase>
      )}
      {anchor && (
        <Menu open anchorEl={anchor} onClose={() => setAnchor(null)} disableRestoreFocus>
          <MenuItem dense onClick={act(() => setRenaming(true))}>
            Rename
          </MenuItem>
          {strokes && (
            <MenuItem dense onClick={act(() => dispatch(shotActions.edited({ kind: 'remove-strokes', marker: id })))}>
              Take the drawing away
            </MenuItem>
          )}
          <MenuItem dense onClick={act(() => dispatch(shotActions.edited({ kind: 'remove-marker', marker: id })))}>
            Remove
          </MenuItem>
        </Menu>
      )}
    </Box>
  )
}
