/** The picture in its place, with what lies over it; the wheel zooms about the pointer, tools do the rest. */

import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { useEffect, useRef, useState, type RefObject } from 'react'
import type { Problem } from '../../../../core/plan/problem'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectLooked, selectOtherLooked, selectOutput, selectProblems } from '../../store/selectors'
import { viewChanged } from '../../store/view'
import { scopeHeight, ScopeStrip } from '../scopes/scope-strip'
import { Board } from './board'
import { Evidence } from './evidence'
import { LeaderLines } from './leader-lines'
import { Loupe } from './loupe'
import { Overlay } from './overlay'
import { PictureLayer } from './picture-layer'
import { centreFor, leastZoom, mostZoom, placePicture, type Placement, type Size } from './placement'
import { rightOf } from './split-line'
import { useGestures } from './use-gestures'

/** The evidence beside the picture is as wide as a reading needs. */
const besideWidth = 213

/** Whether the picture has more room with the evidence beside it than with the evidence under it. */
function isLargerBeside(room: Size, frame: Size): boolean {
  const aspect = frame.width / frame.height
  const under = Math.min(room.height - leastEvidence, room.width / aspect)
  return Math.min((room.width - besideWidth) / aspect, room.height) > under + 8
}

/** The strip under the picture is never lower, in screen pixels. */
const leastEvidence = 104

/** The first problem, with what to do; how many more there are. */
function wordsOf(problems: readonly Problem[]): string | null {
  const [first, ...others] = problems
  if (!first) return null
  const more = others.length === 0 ? '' : ` (and ${others.length} more)`
  return `${first.sentence} ${first.remedy}${more}`
}

function useSizeOf(target: RefObject<HTMLElement | null>): Size {
  const [size, setSize] = useState<Size>({ width: 0, height: 0 })
  useEffect(() => {
    const element = target.current
    if (!element) return
    const observer = new ResizeObserver(([entry]) =>
      setSize({ width: entry.contentRect.width, height: entry.contentRect.height }),
    )
    observer.observe(element)
    return () => observer.disconnect()
  }, [target])
  return size
}

/** The wheel must be listened to actively, or the page would scroll. */
function useWheelZoom(target: RefObject<HTMLElement | null>, place: Size, placement: Placement): void {
  const dispatch = useAppDispatch()
  useEffect(() => {
    const element = target.current
    if (!element) return
    const onWheel = (event: WheelEvent) => {
      event.preventDefault()
      const bounds = element.getBoundingClientRect()
      const zoom = Math.min(mostZoom, Math.max(leastZoom, placement.zoom * 2 ** (-event.deltaY / 240)))
      const centre = centreFor(place, placement, event.clientX - bounds.left, event.clientY - bounds.top, zoom)
      dispatch(viewChanged({ framing: { zoom, centre } }))
    }
    element.addEventListener('wheel', onWheel, { passive: false })
    return () => element.removeEventListener('wheel', onWheel)
  }, [target, place, placement, dispatch])
}

export function Picture() {
  const place = useRef<HTMLDivElement>(null)
  const room = useRef<HTMLDivElement>(null)
  const roomSize = useSizeOf(room)
  const frame = useAppSelector((state) => selectDocument(state)?.frameSize) ?? { width: 1, height: 1 }
  const { zoom, centre, scale, pointer } = useAppSelector((state) => state.view.framing)
  const { scope, board } = useAppSelector((state) => state.view.looking)
  const pictureOnly = useAppSelector((state) => state.view.screen.pictureOnly)
  const { how, loupe } = useAppSelector((state) => state.view.comparing)
  const looked = useAppSelector(selectLooked)
  const other = useAppSelector(selectOtherLooked)
  const size = useSizeOf(place)
  const output = useAppSelector(selectOutput)
  const placed = placePicture(size, frame, zoom, centre)
  const placement = output ? { ...placed, output } : placed
  const [problem, setProblem] = useState<string | null>(null)
  const planned = useAppSelector(selectProblems)
  const said = problem ?? wordsOf(planned)
  useWheelZoom(place, size, placement)
  const { region, screen, cursor, handlers } = useGestures(frame, placement)
  const layer = { place: size, frame, placement, scale }
  const beside = !pictureOnly && scope === 'none' && isLargerBeside(roomSize, frame)

  return (
    <Box
      ref={room}
      sx={{
        gridArea: 'picture',
        display: 'flex',
        flexDirection: beside ? 'row' : 'column',
        alignItems: beside ? 'flex-start' : undefined,
        minHeight: 0,
        position: 'relative',
      }}
    >
      <Box
        ref={place}
        role="group"
        aria-label="Picture"
        tabIndex={0}
        sx={{
          // Docked to the top, as large as it can be; what is left over is for the evidence.
          flex: pictureOnly ? 1 : beside ? '0 0 auto' : '0 1 auto',
          width: beside
            ? Math.min(roomSize.width - besideWidth, roomSize.height * (frame.width / frame.height))
            : undefined,
          aspectRatio: pictureOnly ? undefined : frame.width / frame.height,
          maxHeight:
            pictureOnly || beside ? undefined : `calc(100% - ${scope === 'none' ? leastEvidence : scopeHeight}px)`,
          minHeight: 0,
          position: 'relative',
          overflow: 'hidden',
          cursor,
          touchAction: 'none',
          userSelect: 'none',
          bgcolor: 'background.default',
          outline: 'none',
          '&:focus-visible::after': {
            content: '""',
            position: 'absolute',
            inset: 0,
            border: 1,
            borderColor: 'text.secondary',
            pointerEvents: 'none',
          },
        }}
        {...handlers}
      >
        <PictureLayer looked={looked} {...layer} onProblem={setProblem} />
        {how.way === 'split' && <PictureLayer looked={other} {...layer} clipPath={rightOf(how, placement.zoom)} />}
        <Overlay placement={placement} place={size} region={region} />
        {loupe && pointer && <Loupe at={pointer} screen={screen} place={size} />}
        {board && <Board place={size} />}
        {said !== null && (
          <Typography
            role="alert"
            sx={{ position: 'absolute', left: 16, right: 16, bottom: 16, p: 1.5, bgcolor: 'background.paper' }}
          >
            {said}
          </Typography>
        )}
      </Box>
      {pictureOnly ? null : scope === 'none' ? (
        <>
          <Evidence beside={beside} />
          <LeaderLines placement={placement} place={size} />
        </>
      ) : (
        <ScopeStrip left={placement.left} width={frame.width * placement.zoom} stripWidth={size.width} />
      )}
    </Box>
  )
}
