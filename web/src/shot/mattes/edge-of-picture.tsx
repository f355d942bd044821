/** The outline beside the picture's own edge: brought onto it as a proposal, and the frame to be looked at next. */

import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { frameToCheck } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectShapeInDocument } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { viewChanged } from '../../store/view'
import { LabelledNumber } from '../card/labelled-number'
import { useEdge, type CarriedEdge, type PulledEdge } from './use-edge'

const narrow = { minWidth: 0, px: 0.6, py: 0 } as const
const mostReach = 40

export function EdgeOfPicture() {
  const dispatch = useAppDispatch()
  const now = useAppSelector(selectShapeInDocument)
  const frames = useAppSelector((state) => selectDocument(state)?.frames)
  const [reach, setReach] = useState(6)
  const [proposed, setProposed] = useState<PulledEdge | CarriedEdge | null>(null)
  const edge = useEdge()
  if (!now || !frames) return null
  const next = frameToCheck(now.shape, frames, edge.departures)
  const pull = async (how: 'pull' | 'carry') => {
    const found = await edge[how](reach)
    setProposed(found)
    // Seen, not done, until it is accepted.
    dispatch(shotActions.drafted(found && found.edit))
  }
  const settle = (accept: boolean) => {
    if (proposed && accept) dispatch(shotActions.edited(proposed.edit))
    else dispatch(shotActions.drafted(null))
    setProposed(null)
  }
  const measured = Object.keys(edge.departures).length > 0
  return (
    <Stack spacing={0.5} role="group" aria-label="The picture’s edge">
      <LabelledNumber
        text="Edge within, px"
        label="Edge within"
        value={reach}
        step={1}
        least={2}
        most={mostReach}
        digits={0}
        onCommit={setReach}
      />
      <Stack direction="row" sx={{ ml: -0.6, flexWrap: 'wrap' }}>
        <Button sx={narrow} disabled={edge.busy || proposed !== null} onClick={() => void pull('pull')}>
          Pull to the edge
        </Button>
        <Button sx={narrow} disabled={edge.busy || proposed !== null} onClick={() => void pull('carry')}>
          Carry along
        </Button>
        {edge.busy ? (
          <Button sx={narrow} onClick={edge.stop}>
            Stop
          </Button>
        ) : (
          <Button sx={narrow} disabled={proposed !== null} onClick={() => void edge.measure(reach)}>
            Measure all frames
          </Button>
        )}
        <Button
          sx={narrow}
          disabled={!next}
          onClick={() => next && dispatch(viewChanged({ playing: { frame: next.frame } }))}
        >
          Next frame to check
        </Button>
      </Stack>
      {proposed && (
        <>
          <Typography variant="caption" role="status">
            {wordsOf(proposed)}
          </Typography>
          <Stack direction="row" sx={{ ml: -0.6 }}>
            <Button sx={narrow} onClick={() => settle(true)}>
              Accept
            </Button>
            <Button sx={narrow} onClick={() => settle(false)}>
              Dismiss
            </Button>
          </Stack>
        </>
      )}
      <Typography variant="caption" color="textSecondary" role="status">
        {edge.says ?? (next ? nextWords(next.frame, next.departure, measured) : 'Every frame has a keyframe.')}
      </Typography>
    </Stack>
  )
}

function wordsOf(proposed: PulledEdge | CarriedEdge): string {
  if ('keyframes' in proposed) {
    const { frames, keyframes, ended } = proposed
    return `Carried along ${frames} frames, by ${keyframes === 1 ? 'one keyframe' : `${keyframes} keyframes`}.${ended === null ? '' : ` ${ended}`}`
  }
  const { median, found } = proposed.departure
  return `The picture’s edge lies ${(median ?? 0).toFixed(1)} px from it, beside ${Math.round(100 * found)} % of it.`
}

function nextWords(frame: number, departure: number | null, measured: boolean): string {
  if (departure !== null) return `Next: ${frame}, where it lies ${departure.toFixed(1)} px from the picture’s edge.`
  return measured
    ? `Next: ${frame}, farthest from a keyframe; nowhere does it leave the picture’s edge.`
    : `Next: ${frame}, farthest from a keyframe.`
}
