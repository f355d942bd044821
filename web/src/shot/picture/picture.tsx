/** The picture: pan by dragging, zoom by the wheel about the pointer, click to keep a place. */

import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { useEffect, useRef, useState, type PointerEvent, type RefObject } from 'react'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument } from '../../store/selectors'
import { viewActions } from '../../store/view-slice'
import {
  centreFor,
  leastZoom,
  mostZoom,
  pictureAt,
  pictureInSight,
  placePicture,
  type Placement,
  type Size,
} from './placement'
import { usePicture } from './use-picture'

const clickSlack = 3

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

export function Picture() {
  const dispatch = useAppDispatch()
  const place = useRef<HTMLDivElement>(null)
  const canvas = useRef<HTMLCanvasElement>(null)
  const frame = useAppSelector((state) => selectDocument(state)?.frameSize) ?? { width: 1, height: 1 }
  const view = useAppSelector((state) => state.view)
  const size = useSizeOf(place)
  const placement = placePicture(size, frame, view.zoom, view.centre)
  const { problem, shown } = usePicture(canvas, pictureInSight(size, placement, view.scale))
  useWheelZoom(place, size, placement)
  const drag = useRef<{ x: number; y: number; moved: boolean; from: { x: number; y: number } } | null>(null)

  const pointOf = (event: PointerEvent<HTMLElement>) => {
    const bounds = event.currentTarget.getBoundingClientRect()
    const point = pictureAt(placement, event.clientX - bounds.left, event.clientY - bounds.top)
    const [x, y] = [Math.floor(point.x), Math.floor(point.y)]
    return x >= 0 && y >= 0 && x < frame.width && y < frame.height ? { x, y } : null
  }
  const onPointerDown = (event: PointerEvent<HTMLElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId)
    const from = view.zoom === null ? { x: frame.width / 2, y: frame.height / 2 } : view.centre
    drag.current = { x: event.clientX, y: event.clientY, moved: false, from }
  }
  const onPointerMove = (event: PointerEvent<HTMLElement>) => {
    const d = drag.current
    const [dx, dy] = d ? [event.clientX - d.x, event.clientY - d.y] : [0, 0]
    if (d && (d.moved || Math.hypot(dx, dy) > clickSlack)) {
      d.moved = true
      dispatch(
        viewActions.viewChanged({
          zoom: placement.zoom,
          centre: { x: d.from.x - dx / placement.zoom, y: d.from.y - dy / placement.zoom },
        }),
      )
      return
    }
    const pointer = pointOf(event)
    if (pointer?.x !== view.pointer?.x || pointer?.y !== view.pointer?.y) dispatch(viewActions.viewChanged({ pointer }))
  }
  const onPointerUp = (event: PointerEvent<HTMLElement>) => {
    const point = pointOf(event)
    if (drag.current && !drag.current.moved && point) dispatch(viewActions.readingKept(point))
    drag.current = null
  }

  return (
    <Box
      ref={place}
      data-testid="picture"
      sx={{
        gridArea: 'picture',
        position: 'relative',
        overflow: 'hidden',
        cursor: 'crosshair',
        touchAction: 'none',
        bgcolor: 'background.default',
      }}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={onPointerUp}
      onPointerLeave={() => dispatch(viewActions.viewChanged({ pointer: null }))}
    >
      <canvas
        ref={canvas}
        width={1}
        height={1}
        style={{
          position: 'absolute',
          left: placement.left,
          top: placement.top,
          width: frame.width * placement.zoom,
          height: frame.height * placement.zoom,
          imageRendering: placement.zoom * view.scale >= 1 ? 'pixelated' : 'auto',
          visibility: shown ? 'visible' : 'hidden',
        }}
      />
      {view.kept.map(({ id, x, y }) => (
        <Box
          key={id}
          sx={{
            position: 'absolute',
            left: placement.left + (x + 0.5) * placement.zoom,
            top: placement.top + (y + 0.5) * placement.zoom,
            pointerEvents: 'none',
          }}
        >
          <Box
            sx={{
              position: 'absolute',
              width: 11,
              height: 11,
              left: -6,
              top: -6,
              border: '1px solid #fff',
              outline: '1px solid #000',
            }}
          />
          <Typography
            variant="caption"
            sx={{ position: 'absolute', left: 9, top: -9, color: '#fff', textShadow: '0 0 2px #000, 0 0 2px #000' }}
          >
            {id}
          </Typography>
        </Box>
      ))}
      {problem !== null && (
        <Typography
          role="alert"
          sx={{ position: 'absolute', left: 16, right: 16, bottom: 16, p: 1.5, bgcolor: 'background.paper' }}
        >
          {problem}
        </Typography>
      )}
    </Box>
  )
}
