/** Keyframes of the shape that is worked on: made, taken away, copied from their neighbours, slid. */

import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { framesOfShape, keyframeAsOn, keyframeHere, slidKeyframes, type Change } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectFrame, selectShapeInDocument } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { LabelledNumber } from '../card/labelled-number'

const narrow = { minWidth: 0, px: 0.6, py: 0 } as const

export function ShapeKeyframes() {
  const dispatch = useAppDispatch()
  const now = useAppSelector(selectShapeInDocument)
  const frame = useAppSelector(selectFrame)
  if (!now) return null
  const frames = framesOfShape(now.shape)
  const here = frames.includes(frame)
  const named = { matte: now.matte.id, shape: now.shape.id }
  const before = frames.findLast((one) => one < frame)
  const after = frames.find((one) => one > frame)
  const edit = (change: Change | null) => change && dispatch(shotActions.edited(change))
  return (
    <Stack role="group" aria-label="Keyframes of the shape" spacing={0.25}>
      <Stack direction="row" sx={{ alignItems: 'center', ml: -0.6, flexWrap: 'wrap' }}>
        {here ? (
          <Button
            sx={narrow}
            disabled={frames.length < 2}
            onClick={() => edit({ kind: 'set-shape-places', ...named, frames: { [frame]: null } })}
          >
            Take this keyframe away
          </Button>
        ) : (
          <Button sx={narrow} onClick={() => edit(keyframeHere(now))}>
            Keyframe here
          </Button>
        )}
        {before !== undefined && (
          <Button sx={narrow} onClick={() => edit(keyframeAsOn(now, before))}>
            As on {before}
          </Button>
        )}
        {after !== undefined && (
          <Button sx={narrow} onClick={() => edit(keyframeAsOn(now, after))}>
            As on {after}
          </Button>
        )}
        <Typography variant="caption" color="textSecondary">
          {frames.length === 1 ? `one keyframe, on ${frames[0]}` : `${frames.length} keyframes`}
        </Typography>
      </Stack>
      {here && (
        <LabelledNumber
          text="This keyframe on frame"
          value={frame}
          {...wholeFrames}
          onCommit={(to) => edit(slidKeyframes(now, frame, to - frame))}
        />
      )}
      {frames.length > 1 && (
        <LabelledNumber
          text="First of all keyframes on"
          value={frames[0]}
          {...wholeFrames}
          onCommit={(to) => edit(slidKeyframes(now, null, to - frames[0]))}
        />
      )}
    </Stack>
  )
}

const wholeFrames = { step: 1, least: -1_000_000, most: 1_000_000, digits: 0 } as const
