/** Rows of what is selected: when each element is there, and what of it has keyframes; only the rows in sight are drawn. */

import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import Typography from '@mui/material/Typography'
import { createSelector } from '@reduxjs/toolkit'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useRef } from 'react'
import { shotWide, type FrameRange } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectElementIds, selectShownShot } from '../../store/selectors'
import type { RootState } from '../../store/state'
import { viewChanged } from '../../store/view'
import { Bar } from './bar'
import { rowsOfMatte, rowsOfShotWide, rowsOfTrack, tallyRows, type TallyRow } from './rows'
import { inset, leftOf, namesWidth } from './time-axis'

const rowHeight = 17

const selectRows = createSelector(
  [selectShownShot, selectElementIds, (state: RootState) => state.shot.selection.primary],
  (shot, elements, primary) => {
    if (!shot) return []
    if (primary?.kind === 'track') return rowsOfTrack(shot, primary.id)
    if (primary?.kind === 'matte') return rowsOfMatte(shot, primary.id)
    const wide = shotWide.find((kind) => kind === primary?.kind)
    return wide ? rowsOfShotWide(shot, wide) : tallyRows(shot, elements)
  },
)

export function TallyRows({ frames }: { frames: FrameRange }) {
  const rows = useAppSelector(selectRows)
  const place = useRef<HTMLDivElement>(null)
  const { getTotalSize, getVirtualItems } = useVirtualizer({
    count: rows.length,
    getScrollElement: () => place.current,
    estimateSize: () => rowHeight,
    overscan: 2,
  })
  return (
    <Box
      ref={place}
      role="list"
      aria-label="What is selected, over the frames"
      sx={{ flex: 1, minHeight: 0, overflowY: 'auto', borderTop: 1, borderColor: 'divider' }}
    >
      {rows.length === 0 && (
        <Typography variant="caption" color="textSecondary" sx={{ px: 1.2 }}>
          Select an element to see when it is there, or glass, sensor or finish to see their keyframes.
        </Typography>
      )}
      <Box sx={{ position: 'relative', height: getTotalSize() }}>
        {getVirtualItems().map(({ index, start }) => (
          <TallyRowLine key={rows[index].id} row={rows[index]} top={start} frames={frames} />
        ))}
      </Box>
    </Box>
  )
}

function TallyRowLine({ row, top, frames }: { row: TallyRow; top: number; frames: FrameRange }) {
  const dispatch = useAppDispatch()
  const inRange = row.keyframes.filter((frame) => frame >= frames.first && frame <= frames.last)
  return (
    <Box role="listitem" sx={{ position: 'absolute', top, left: 0, right: 0, height: rowHeight, display: 'flex' }}>
      <Typography variant="caption" color="textSecondary" noWrap title={row.name} sx={{ width: namesWidth, pl: 1.2 }}>
        {row.name}
      </Typography>
      <Box data-axis sx={{ flex: 1, position: 'relative', mx: `${inset}px` }}>
        {row.levels?.map(({ frame, share, says }) => (
          <Level key={frame} left={leftOf(frame, frames)} share={share} says={says} />
        ))}
        {row.there && <Bar there={row.there} frames={frames} element={row.element} name={row.name} />}
        {inRange.map((frame) => (
          <ButtonBase
            key={frame}
            aria-label={`Keyframe at ${frame}, ${row.name}`}
            title={`Keyframe at ${frame}`}
            // The row below the pointer would move the playhead elsewhere.
            onPointerDown={(event) => event.stopPropagation()}
            onClick={() => dispatch(viewChanged({ playing: { frame } }))}
            sx={{
              position: 'absolute',
              left: leftOf(frame, frames),
              top: 4,
              width: 8,
              height: 8,
              ml: '-4px',
              bgcolor: 'text.primary',
              transform: 'rotate(45deg)',
              '&:focus-visible': { outline: '2px solid', outlineColor: 'primary.main' },
            }}
          />
        ))}
      </Box>
    </Box>
  )
}

/** As high as the frame is sure; a small mark below the line where it was lost. */
function Level({ left, share, says }: { left: string; share: number; says: string }) {
  return (
    <Box
      title={says}
      sx={{
        ...{ position: 'absolute', bottom: 2, width: 3, ml: '-1.5px', bgcolor: 'text.secondary' },
        ...(share > 0 ? {} : { border: 1, borderColor: 'text.primary', bgcolor: 'transparent' }),
      }}
      style={{ left, height: share > 0 ? `${Math.max(1, Math.round(13 * share))}px` : '5px' }}
    />
  )
}
