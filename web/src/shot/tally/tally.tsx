/** The tally: rows on one axis of time, the frames first, the playhead through all of them. */

import Box from '@mui/material/Box'
import { useRef, type PointerEvent } from 'react'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectFrame } from '../../store/selectors'
import { viewChanged } from '../../store/view'
import { Axis } from './axis'
import { CurveView } from './curve-view'
import { Markers } from './markers'
import { PlayControl } from './play-control'
import { TallyRows } from './tally-rows'
import { VerdictRows } from '../witnesses/verdict-rows'
import { frameAt, inset, leftOf, namesWidth } from './time-axis'

export function Tally() {
  const dispatch = useAppDispatch()
  const shot = useAppSelector(selectDocument)
  const frame = useAppSelector(selectFrame)
  const open = useAppSelector((state) => state.view.screen.tallyOpen)
  const scrubbing = useRef(false)
  if (!shot) return <Box sx={{ gridArea: 'tally' }} />
  const { frames } = shot
  const scrub = (event: PointerEvent<HTMLElement>) => {
    const bounds = event.currentTarget.getBoundingClientRect()
    const width = bounds.width - 2 * inset
    dispatch(viewChanged({ playing: { frame: frameAt(event.clientX - bounds.left - inset, width, frames) } }))
  }
  return (
    <Box sx={{ gridArea: 'tally', display: 'flex', borderTop: 1, borderColor: 'divider' }}>
      <Box sx={{ flex: 1, minWidth: 0, position: 'relative', display: 'flex', flexDirection: 'column' }}>
        <Box sx={{ display: 'flex' }}>
          <PlayControl />
          <Box
            role="slider"
            aria-label="Frame"
            aria-valuemin={frames.first}
            aria-valuemax={frames.last}
            aria-valuenow={frame}
            tabIndex={0}
            sx={{
              flex: 1,
              position: 'relative',
              minWidth: 0,
              px: `${inset}px`,
              cursor: 'ew-resize',
              touchAction: 'none',
              userSelect: 'none',
            }}
            onPointerDown={(event) => {
              event.currentTarget.setPointerCapture(event.pointerId)
              scrubbing.current = true
              scrub(event)
            }}
            onPointerMove={(event) => scrubbing.current && scrub(event)}
            onPointerUp={() => (scrubbing.current = false)}
            onPointerCancel={() => (scrubbing.current = false)}
          >
            <Axis frames={frames} />
            <Markers frames={frames} />
          </Box>
        </Box>
        <TallyRows frames={frames} />
        <VerdictRows frames={frames} />
        {open && <CurveView frames={frames} />}
        <Box
          sx={{
            position: 'absolute',
            top: 0,
            bottom: 0,
            left: namesWidth + inset,
            right: inset,
            pointerEvents: 'none',
          }}
        >
          <Box
            sx={{
              position: 'absolute',
              top: 0,
              bottom: 0,
              width: 4,
              ml: '-2px',
              left: leftOf(frame, frames),
              // Two thin lines: colour means selection.
              borderLeft: '1px solid',
              borderRight: '1px solid',
              borderColor: 'text.primary',
            }}
          />
        </Box>
      </Box>
    </Box>
  )
}
