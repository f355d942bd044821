/** The tally: the frames of the shot with thumbnails, keyframes and the playhead; and the delivery. */

import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { useRef, type PointerEvent } from 'react'
import { keyframesOf } from '../../../../core/motion/curve'
import { allOf, find, usesOf, type Element, type FrameRange, type Shot } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectElement, selectReadyFrames, selectShownShot } from '../../store/selectors'
import { viewActions } from '../../store/view-slice'
import { DeliveryPanel } from './delivery-panel'
import { Thumbnails } from './thumbnails'

/** A number closer to the playhead than this share of the axis would lie under the playhead's own. */
const labelShare = 0.035

/** Room at both ends for the frame number that goes with the playhead. */
const inset = 16

/** Frames that hold a keyframe of anything that belongs to an element. */
function keyedFramesOf(shot: Shot, element: Element): number[] {
  const uses = usesOf(shot, { kind: 'element', id: element.id })
  const settings = uses.flatMap(({ treatment }) => find(shot.treatments, treatment) ?? [])
  const limits = uses.flatMap(({ limit }) => limit ?? [])
  const owners = [element, element.blend, ...allOf(element.inputs), ...settings, ...limits]
  const curves = owners.flatMap(({ parameters }) => Object.values(parameters).flat())
  return [...new Set(curves.flatMap((curve) => keyframesOf(curve).map(({ frame }) => frame)))]
}

/** Every tenth frame has a number, or fewer where they would touch. */
function labelled({ first, last }: FrameRange): number[] {
  const count = last - first + 1
  const every = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000].find((n) => count / n <= 16) ?? 5000
  return Array.from({ length: count }, (_, i) => first + i).filter((frame) => frame === first || frame % every === 0)
}

function Axis({ frames }: { frames: FrameRange }) {
  const element = useAppSelector(selectElement)
  const shot = useAppSelector(selectShownShot)
  const ready = useAppSelector(selectReadyFrames)
  const frame = useAppSelector((state) => state.view.frame)
  const count = frames.last - frames.first + 1
  const left = (n: number) => `${((n - frames.first + 0.5) / count) * 100}%`
  const missing = Array.from({ length: count }, (_, i) => frames.first + i).filter((n) => !ready.has(n))
  return (
    <Box sx={{ position: 'relative', height: 30, borderTop: 1, borderColor: 'divider' }}>
      {labelled(frames)
        .filter((n) => Math.abs(n - frame) / count > labelShare)
        .map((n) => (
          <Typography
            key={n}
            variant="caption"
            color="textSecondary"
            sx={{ position: 'absolute', left: left(n), top: 11, transform: 'translateX(-50%)' }}
          >
            {n}
          </Typography>
        ))}
      {missing.map((n) => (
        <Box
          key={n}
          title={`Frame ${n} has not arrived`}
          sx={{ position: 'absolute', left: left(n), top: 0, width: 2, height: 6, ml: '-1px', bgcolor: 'divider' }}
        />
      ))}
      {element &&
        shot &&
        keyedFramesOf(shot, element).map((n) => (
          <Box
            key={n}
            data-testid="keyframe-notch"
            title={`Keyframe at ${n}`}
            sx={{
              position: 'absolute',
              left: left(n),
              top: 0,
              width: 8,
              height: 5,
              ml: '-4px',
              bgcolor: 'primary.main',
              clipPath: 'polygon(0 0, 100% 0, 50% 100%)',
            }}
          />
        ))}
      <Typography
        variant="caption"
        sx={{
          position: 'absolute',
          left: left(frame),
          top: 10,
          px: 0.6,
          transform: 'translateX(-50%)',
          bgcolor: 'primary.main',
          color: 'primary.contrastText',
        }}
      >
        {frame}
      </Typography>
    </Box>
  )
}

export function Tally() {
  const dispatch = useAppDispatch()
  const shot = useAppSelector(selectDocument)
  const frame = useAppSelector((state) => state.view.frame)
  const scrubbing = useRef(false)
  if (!shot) return <Box sx={{ gridArea: 'tally' }} />
  const { frames } = shot
  const count = frames.last - frames.first + 1
  const scrub = (event: PointerEvent<HTMLElement>) => {
    const bounds = event.currentTarget.getBoundingClientRect()
    const index = Math.floor(((event.clientX - bounds.left - inset) / (bounds.width - 2 * inset)) * count)
    dispatch(viewActions.viewChanged({ frame: frames.first + Math.min(count - 1, Math.max(0, index)) }))
  }
  return (
    <Box sx={{ gridArea: 'tally', display: 'flex', borderTop: 1, borderColor: 'divider' }}>
      <Box
        data-testid="tally-axis"
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
      >
        <Box sx={{ position: 'absolute', left: inset, right: inset, top: 0, bottom: 0 }}>
          <Thumbnails />
          <Axis frames={frames} />
          <Box
            sx={{
              position: 'absolute',
              top: 0,
              bottom: 22,
              width: 2,
              ml: '-1px',
              left: `${((frame - frames.first + 0.5) / count) * 100}%`,
              bgcolor: 'primary.main',
              pointerEvents: 'none',
            }}
          />
        </Box>
      </Box>
      <DeliveryPanel />
    </Box>
  )
}
