/**
 * The pattern of the selected track on every frame, each with its point in the middle: what slips is seen at once. A frame is gone to
 * by a click, and corrected in place by the arrow keys.
 */

import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import Typography from '@mui/material/Typography'
import { useEffect, useRef, type KeyboardEvent } from 'react'
import type { Track, TrackPoint } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectFrame } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { viewChanged } from '../../store/view'
import { placedByHand } from '../tools/drawings'
import { AlignedPatch } from './aligned-patch'
import { placeWords } from './track-words'

const side = 60
const noFrames = { first: 0, last: -1 }

export function Filmstrip({ track, beside }: { track: Track; beside: boolean }) {
  const frames = useAppSelector((state) => selectDocument(state)?.frames) ?? noFrames
  const now = useAppSelector(selectFrame)
  const strip = useRef<HTMLDivElement>(null)
  useEffect(() => {
    strip.current?.querySelector('[aria-current]')?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
  }, [now])
  const all = Array.from({ length: frames.last - frames.first + 1 }, (_, i) => frames.first + i)
  return (
    <Box
      ref={strip}
      role="list"
      aria-label={`${track.name} on every frame`}
      sx={{
        ...{ display: 'flex', gap: '2px', overflow: 'auto', flex: 1, minHeight: 0, alignContent: 'flex-start' },
        ...{ flexWrap: beside ? 'wrap' : 'nowrap', pb: 0.5 },
      }}
    >
      {all.map((frame) => (
        <FilmstripFrame
          key={frame}
          track={track}
          frame={frame}
          point={(track.points as Record<string, TrackPoint | undefined>)[frame]}
          lost={track.lost?.[frame]}
          isNow={frame === now}
        />
      ))}
    </Box>
  )
}

interface FilmstripFrameProps {
  readonly track: Track
  readonly frame: number
  readonly point: TrackPoint | undefined
  /** why it was lost there */
  readonly lost: string | undefined
  readonly isNow: boolean
}

const arrows: Readonly<Record<string, readonly [number, number]>> = {
  // The pattern goes where the arrow points: the place on the plate the other way.
  ArrowLeft: [1, 0],
  ArrowRight: [-1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
}
const smallStep = 0.1

function FilmstripFrame({ track, frame, point, lost, isNow }: FilmstripFrameProps) {
  const dispatch = useAppDispatch()
  const onKeyDown = (event: KeyboardEvent) => {
    if (!point || !Object.hasOwn(arrows, event.key)) return
    event.preventDefault()
    event.stopPropagation()
    const by = event.shiftKey ? 1 : smallStep
    const [dx, dy] = arrows[event.key].map((one) => one * by)
    const [x, y] = [point.x + dx, point.y + dy].map((value) => Math.round(value * 100) / 100)
    dispatch(shotActions.edited(placedByHand(track.id, frame, x, y)))
  }
  const says = point ? placeWords(point) : lost === undefined ? 'not tracked yet' : `lost: ${lost}`
  return (
    <Box role="listitem" sx={{ flexShrink: 0, width: side }}>
      <ButtonBase
        aria-label={`${track.name} on ${frame}, ${says}`}
        aria-current={isNow || undefined}
        title={`${frame}: ${says}${point ? '. Arrow keys move the pattern by a tenth of a pixel, with Shift by one' : ''}`}
        onClick={() => dispatch(viewChanged({ playing: { frame } }))}
        onKeyDown={onKeyDown}
        sx={{
          ...{ width: side, height: side, position: 'relative', border: 1, overflow: 'hidden' },
          borderColor: isNow ? 'text.primary' : 'divider',
          '&:focus-visible': { outline: '2px solid', outlineColor: 'primary.main', outlineOffset: -2 },
        }}
      >
        {point ? (
          <AlignedPatch frame={frame} x={point.x} y={point.y} radius={track.radius} side={side} />
        ) : (
          <Typography variant="caption" color="textSecondary">
            {lost === undefined ? '–' : 'lost'}
          </Typography>
        )}
        {point && <Middle />}
      </ButtonBase>
      <Typography
        variant="caption"
        color={isNow ? 'textPrimary' : 'textSecondary'}
        component="div"
        noWrap
        sx={{ textAlign: 'center', lineHeight: '14px', fontSize: 10 }}
      >
        {frame}
        {point && 'byHand' in point && ' hand'}
      </Typography>
    </Box>
  )
}

/** Where the point is: a light mark on a dark one. */
function Middle() {
  const arm = { position: 'absolute', bgcolor: '#fff', outline: '1px solid rgba(0, 0, 0, 0.5)' } as const
  return (
    <>
      <Box sx={{ ...arm, left: '50%', top: 0, width: '1px', height: '6px' }} />
      <Box sx={{ ...arm, left: '50%', bottom: 0, width: '1px', height: '6px' }} />
      <Box sx={{ ...arm, top: '50%', left: 0, width: '6px', height: '1px' }} />
      <Box sx={{ ...arm, top: '50%', right: 0, width: '6px', height: '1px' }} />
    </>
  )
}
