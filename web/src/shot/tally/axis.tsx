/** The frame numbers, the frames that have not arrived, and the number of the frame at the playhead. */

import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import type { FrameRange } from '../../../../core/shot'
import { useAppSelector } from '../../store'
import { selectFrame, selectReadyFrames } from '../../store/selectors'
import { leftOf, numberedFrames, shareOf } from './time-axis'

/** A number closer to the playhead than this share of the axis would lie under the playhead's own. */
const numberShare = 0.035

export function Axis({ frames }: { frames: FrameRange }) {
  const ready = useAppSelector(selectReadyFrames)
  const frame = useAppSelector(selectFrame)
  const missing = Array.from({ length: frames.last - frames.first + 1 }, (_, i) => frames.first + i).filter(
    (n) => !ready.has(n),
  )
  return (
    <Box sx={{ position: 'relative', height: 22 }}>
      {numberedFrames(frames)
        .filter((n) => Math.abs(shareOf(n, frames) - shareOf(frame, frames)) > numberShare)
        .map((n) => (
          <Typography
            key={n}
            variant="caption"
            color="textSecondary"
            sx={{ position: 'absolute', left: leftOf(n, frames), top: 3, transform: 'translateX(-50%)' }}
          >
            {n}
          </Typography>
        ))}
      {missing.map((n) => (
        <Box
          key={n}
          title={`Frame ${n} has not arrived`}
          sx={{
            position: 'absolute',
            left: leftOf(n, frames),
            top: 0,
            width: 2,
            height: 5,
            ml: '-1px',
            bgcolor: 'text.secondary',
          }}
        />
      ))}
      <Typography
        variant="caption"
        sx={{
          position: 'absolute',
          left: leftOf(frame, frames),
          top: 2,
          px: 0.6,
          zIndex: 1,
          transform: 'translateX(-50%)',
          bgcolor: 'background.default',
          fontWeight: 700,
        }}
      >
        {frame}
      </Typography>
    </Box>
  )
}
