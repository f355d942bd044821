/** Rows of verdicts in the tally: each witness on every frame. A click on a frame goes there and shows the witness. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import ButtonBase from '@mui/material/ButtonBase'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import type { FrameRange } from '../../../../core/shot'
import { readEveryFrame } from '../../api/client'
import { serverCache } from '../../api/server-cache'
import { useAppDispatch, useAppSelector } from '../../store'
import {
  selectCheckRows,
  selectShotReadings,
  selectUnchecked,
  selectVerdictRows,
  type VerdictRow,
} from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { viewChanged } from '../../store/view'
import { countOf, inset, leftOf, namesWidth } from '../tally/time-axis'

const rowHeight = 17

export function VerdictRows({ frames }: { frames: FrameRange }) {
  const witnesses = useAppSelector(selectVerdictRows)
  const checks = useAppSelector(selectCheckRows)
  const [worstFirst, setWorstFirst] = useState(false)
  const all = [...witnesses, ...checks]
  const rows = worstFirst ? all.toSorted((a, b) => b.drifts - a.drifts) : all
  return (
    <Box
      sx={{
        flexShrink: 0,
        maxHeight: 'min(60%, calc(100% - 64px))',
        overflowY: 'auto',
        borderTop: 1,
        borderColor: 'divider',
      }}
    >
      {/* The playhead must not run through the words. */}
      <Stack
        direction="row"
        sx={{ width: 'fit-content', position: 'relative', zIndex: 1, bgcolor: 'background.default' }}
      >
        <Asking rows={witnesses} />
        {all.length > 1 && (
          <Button
            aria-pressed={worstFirst}
            sx={{ py: 0, minHeight: 0, lineHeight: '15px' }}
            onClick={() => setWorstFirst(!worstFirst)}
          >
            {worstFirst ? 'In their places' : 'Worst first'}
          </Button>
        )}
      </Stack>
      <Box role="list" aria-label="Verdicts over the frames">
        {rows.map((row) => (
          <Row key={row.id} row={row} frames={frames} />
        ))}
      </Box>
    </Box>
  )
}

/** How much is read, and what asks for the rest. */
function Asking({ rows }: { rows: readonly VerdictRow[] }) {
  const dispatch = useAppDispatch()
  const shotId = useAppSelector((state) => state.shot.id) ?? ''
  const { witnesses, checks } = useAppSelector(selectShotReadings).progress
  const [done, total] = [witnesses.done + checks.done, witnesses.total + checks.total]
  const [refusal, setRefusal] = useState<string | null>(null)
  const unchecked = useAppSelector(selectUnchecked)
  const wanting = rows.reduce((sum, row) => sum + row.wanting, 0)
  const read = () =>
    void readEveryFrame(shotId).then(
      (answer) => {
        setRefusal(null)
        dispatch(serverCache.util.upsertQueryData('readings', shotId, answer))
      },
      (error: Error) => setRefusal(error.message),
    )
  return (
    <Stack direction="row" sx={{ alignItems: 'center', height: rowHeight, pl: 1.2, gap: 1 }}>
      <Typography variant="caption" color="textSecondary">
        {done < total
          ? `Witnesses and checks: ${Math.floor((100 * done) / total)} % is read`
          : wanting === 0 && unchecked === 0
            ? 'Witnesses and checks, all frames read'
            : `Witnesses and checks: ${Math.max(unchecked, ...rows.map((row) => row.wanting))} frames are wanting or of before the last change`}
      </Typography>
      {(wanting > 0 || unchecked > 0) && done >= total && (
        <Button sx={{ py: 0, minHeight: 0, lineHeight: '15px' }} onClick={read}>
          Read every frame
        </Button>
      )}
      {refusal !== null && (
        <Typography role="alert" variant="caption">
          {refusal}
        </Typography>
      )}
    </Stack>
  )
}

function Row({ row, frames }: { row: VerdictRow; frames: FrameRange }) {
  const dispatch = useAppDispatch()
  const { name, cells, drifts, worst, selects } = row
  const select = () => {
    if (selects?.kind === 'witness') dispatch(shotActions.thingSelected({ kind: 'witness', id: selects.id }))
    else if (selects) dispatch(shotActions.elementsSelected([selects.id]))
  }
  const width = `max(2px, ${100 / countOf(frames)}% - 1px)`
  const words =
    worst === null ? (drifts === 0 ? name : `${name}, ${drifts} drift`) : `${name}, ${drifts} drift, worst ${worst}`
  return (
    <Box role="listitem" aria-label={words} sx={{ height: rowHeight, display: 'flex' }}>
      <ButtonBase onClick={select} sx={{ width: namesWidth, pl: 1.2, justifyContent: 'flex-start', flexShrink: 0 }}>
        <Typography variant="caption" color="textSecondary" noWrap title={words}>
          {words}
        </Typography>
      </ButtonBase>
      <Box sx={{ flex: 1, position: 'relative', mx: `${inset}px` }}>
        {cells.map(({ frame, is, says }) => (
          <ButtonBase
            key={frame}
            aria-label={`${name} ${is} on ${frame}`}
            title={says === undefined ? undefined : `${frame}: ${says}`}
            tabIndex={is === 'drifts' ? 0 : -1}
            onClick={() => {
              dispatch(viewChanged({ playing: { frame } }))
              select()
            }}
            style={{ left: leftOf(frame, frames), width }}
            sx={{ position: 'absolute', top: 0, bottom: 0, transform: 'translateX(-50%)', ...shapes[is] }}
          />
        ))}
      </Box>
    </Box>
  )
}

/** Told by shape: a line agrees, a full block drifts, a frame is not judged, and what is stale is a dotted line. */
const shapes = {
  agrees: {
    '&::after': {
      content: '""',
      position: 'absolute',
      left: 0,
      right: 0,
      bottom: 3,
      height: '2px',
      bgcolor: 'text.secondary',
    },
  },
  drifts: {
    '&::after': {
      content: '""',
      position: 'absolute',
      left: 0,
      right: 0,
      top: 2,
      bottom: 3,
      bgcolor: 'text.secondary',
    },
  },
  'not judged': {
    '&::after': {
      content: '""',
      position: 'absolute',
      left: 0,
      right: 0,
      top: 5,
      bottom: 3,
      border: 1,
      borderColor: 'text.secondary',
    },
  },
  stale: {
    '&::after': {
      content: '""',
      position: 'absolute',
      left: 0,
      right: 0,
      bottom: 3,
      borderBottom: '2px dotted',
      borderColor: 'divider',
    },
  },
} as const
