/** The picture: pan by dragging, zoom by the wheel about the pointer, click to keep a sample, drag with Shift to keep a region. */

import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { useEffect, useRef, useState, type PointerEvent, type RefObject } from 'react'
import type { Problem } from '../../../../core/plan/problem'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectLooked, selectOtherLooked, selectProblems } from '../../store/selectors'
import { viewActions, type Point } from '../../store/view-slice'
import { ScopeStrip } from '../scopes/scope-strip'
import { Board } from './board'
import { Loupe } from './loupe'
import { PictureLayer } from './picture-layer'
import { centreFor, leastZoom, mostZoom, pictureAt, placePicture, type Placement, type Size } from './placement'
import { rightOf, SplitLine } from './split-line'

const clickSlack = 3

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
      dispatch(viewActions.viewChanged({ zoom, centre }))
    }
    element.addEventListener('wheel', onWheel, { passive: false })
    return () => element.removeEventListener('wheel', onWheel)
  }, [target, place, placement, dispatch])
}

interface Drag {
  readonly x: number
  readonly y: number
  readonly from: Point
  /** where it began on the picture; a region is dragged out with Shift */
  readonly start: Point | null
  moved: boolean
}

/** The rectangle between two pixels, both included. */
function regionBetween(a: Point, b: Point) {
  const [x, y] = [Math.min(a.x, b.x), Math.min(a.y, b.y)]
  return { x, y, width: Math.abs(a.x - b.x) + 1, height: Math.abs(a.y - b.y) + 1 }
}

export function Picture() {
  const dispatch = useAppDispatch()
  const place = useRef<HTMLDivElement>(null)
  const frame = useAppSelector((state) => selectDocument(state)?.frameSize) ?? { width: 1, height: 1 }
  const view = useAppSelector((state) => state.view)
  const looked = useAppSelector(selectLooked)
  const other = useAppSelector(selectOtherLooked)
  const size = useSizeOf(place)
  const placement = placePicture(size, frame, view.zoom, view.centre)
  const [problem, setProblem] = useState<string | null>(null)
  const planned = useAppSelector(selectProblems)
  const said = problem ?? wordsOf(planned)
  const [region, setRegion] = useState<ReturnType<typeof regionBetween> | null>(null)
  const [screen, setScreen] = useState<Point>({ x: 0, y: 0 })
  useWheelZoom(place, size, placement)
  const drag = useRef<Drag | null>(null)

  const placeOf = (event: PointerEvent<HTMLElement>) => {
    const bounds = event.currentTarget.getBoundingClientRect()
    return { x: event.clientX - bounds.left, y: event.clientY - bounds.top }
  }
  const pointOf = (event: PointerEvent<HTMLElement>) => {
    const at = placeOf(event)
    const point = pictureAt(placement, at.x, at.y)
    const [x, y] = [Math.floor(point.x), Math.floor(point.y)]
    return x >= 0 && y >= 0 && x < frame.width && y < frame.height ? { x, y } : null
  }
  const onPointerDown = (event: PointerEvent<HTMLElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId)
    const from = view.zoom === null ? { x: frame.width / 2, y: frame.height / 2 } : view.centre
    const start = event.shiftKey ? pointOf(event) : null
    drag.current = { x: event.clientX, y: event.clientY, moved: false, from, start }
  }
  const onPointerMove = (event: PointerEvent<HTMLElement>) => {
    const d = drag.current
    const [dx, dy] = d ? [event.clientX - d.x, event.clientY - d.y] : [0, 0]
    if (d && (d.moved || Math.hypot(dx, dy) > clickSlack)) {
      d.moved = true
      const point = pointOf(event)
      if (d.start) {
        if (point) setRegion(regionBetween(d.start, point))
        return
      }
      dispatch(
        viewActions.viewChanged({
          zoom: placement.zoom,
          centre: { x: d.from.x - dx / placement.zoom, y: d.from.y - dy / placement.zoom },
        }),
      )
      return
    }
    if (view.loupe) setScreen(placeOf(event))
    const pointer = pointOf(event)
    if (pointer?.x !== view.pointer?.x || pointer?.y !== view.pointer?.y) dispatch(viewActions.viewChanged({ pointer }))
  }
  const onPointerUp = (event: PointerEvent<HTMLElement>) => {
    const point = pointOf(event)
    if (region) dispatch(viewActions.sampleKept(region))
    else if (drag.current && !drag.current.moved && point)
      dispatch(viewActions.sampleKept({ ...point, width: 1, height: 1 }))
    setRegion(null)
    drag.current = null
  }
  const layer = { place: size, frame, placement, scale: view.scale }

  return (
    <Box sx={{ gridArea: 'picture', display: 'flex', flexDirection: 'column', minHeight: 0 }}>
      <Box
        ref={place}
        data-testid="picture"
        sx={{
          flex: 1,
          minHeight: 0,
          position: 'relative',
          overflow: 'hidden',
          cursor: 'crosshair',
          touchAction: 'none',
          userSelect: 'none',
          bgcolor: 'background.default',
        }}
        // Dragging with Shift would select text all over the page.
        onMouseDown={(event) => event.preventDefault()}
        onPointerDown={onPointerDown}
        onPointerMove={onPointerMove}
        onPointerUp={onPointerUp}
        onPointerLeave={() => dispatch(viewActions.viewChanged({ pointer: null }))}
      >
        <PictureLayer looked={looked} {...layer} onProblem={setProblem} />
        {view.comparing.way === 'split' && (
          <>
            <PictureLayer looked={other} {...layer} clipPath={rightOf(view.comparing, placement.zoom)} />
            <SplitLine split={view.comparing} placement={placement} />
          </>
        )}
        {view.samples.map((sample) => (
          <SampleMark key={sample.id} name={String(sample.id)} region={sample} placement={placement} />
        ))}
        {region && <SampleMark name="" region={region} placement={placement} />}
        {view.loupe && view.pointer && <Loupe at={view.pointer} screen={screen} place={size} />}
        {view.board && <Board place={size} />}
        {said !== null && (
          <Typography
            role="alert"
            sx={{ position: 'absolute', left: 16, right: 16, bottom: 16, p: 1.5, bgcolor: 'background.paper' }}
          >
            {said}
          </Typography>
        )}
      </Box>
      {view.scope !== 'none' && (
        <ScopeStrip left={placement.left} width={frame.width * placement.zoom} stripWidth={size.width} />
      )}
    </Box>
  )
}

const leastMark = 11

/** A place or region that is read: a light line beside a dark one, seen on any picture. */
function SampleMark({
  name,
  region: { x, y, width, height },
  placement,
}: {
  name: string
  region: { readonly x: number; readonly y: number; readonly width: number; readonly height: number }
  placement: Placement
}) {
  const [across, down] = [Math.max(leastMark, width * placement.zoom), Math.max(leastMark, height * placement.zoom)]
  return (
    <Box
      sx={{
        position: 'absolute',
        left: placement.left + (x + width / 2) * placement.zoom - across / 2,
        top: placement.top + (y + height / 2) * placement.zoom - down / 2,
        width: across,
        height: down,
        border: '1px solid #fff',
        outline: '1px solid #000',
        pointerEvents: 'none',
      }}
    >
      <Typography
        variant="caption"
        sx={{
          position: 'absolute',
          left: across + 3,
          top: -9,
          color: '#fff',
          textShadow: '0 0 2px #000, 0 0 2px #000',
        }}
      >
        {name}
      </Typography>
    </Box>
  )
}
