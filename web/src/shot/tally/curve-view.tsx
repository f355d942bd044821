/** The curves of what is selected, over the tally's own axis: keyframes chosen, moved in time and value, given another way. */

import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { createSelector } from '@reduxjs/toolkit'
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react'
import { useStore } from 'react-redux'
import { keyframesOf } from '../../../../core/motion/curve'
import {
  keyedCurves,
  movedKeyframes,
  withHandle,
  withoutKeyframes,
  type Change,
  type ChosenKeyframe,
  type FrameRange,
  type KeyedCurve,
} from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectElementIds, selectShownShot } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { viewChanged } from '../../store/view'
import { useDraft } from '../card/use-draft'
import { Legend } from './curve-legend'
import { dashes, drawnHeight, isChosen, scalesOf, type Scale, type Scales } from './curve-scale'
import { OneCurve } from './one-curve'
import { countOf, inset } from './time-axis'

const selectShownCurves = createSelector([selectShownShot, selectElementIds], (shot, ids) =>
  shot ? keyedCurves(shot, ids) : [],
)

export function CurveView({ frames }: { frames: FrameRange }) {
  const store = useStore<RootState>()
  const dispatch = useAppDispatch()
  const { draft, commit } = useDraft()
  const curves = useAppSelector(selectShownCurves)
  const [chosen, setChosen] = useState<readonly ChosenKeyframe[]>([])
  const [width, setWidth] = useState(600)
  const [box, setBox] = useState<{ x: number; y: number; toX: number; toY: number } | null>(null)
  const drag = useRef<{
    readonly x: number
    readonly y: number
    /** the curves and scale as they were when pressed */
    readonly curves: readonly KeyedCurve[]
    readonly scales: Scales
    readonly handle?: { readonly of: KeyedCurve; readonly frame: number; readonly side: 'before' | 'after' }
    last: Change | null
    chosen: readonly ChosenKeyframe[]
  } | null>(null)
  const place = useRef<SVGSVGElement>(null)
  const measured = (node: SVGSVGElement | null) => {
    place.current = node
    if (node && Math.abs(node.clientWidth - width) > 1 && node.clientWidth > 0) setWidth(node.clientWidth)
  }
  const scales = drag.current?.scales ?? scalesOf(curves, frames, width)
  // Keyframes that were taken away by another hand are not chosen any more.
  const here = chosen.filter(({ curve, frame }) =>
    curves.some(({ id, curve: of }) => id === curve && keyframesOf(of).some((one) => one.frame === frame)),
  )
  const documentCurves = () => {
    const state = store.getState()
    const shot = selectDocument(state)
    return shot ? keyedCurves(shot, selectElementIds(state)) : []
  }
  const at = (event: PointerEvent) => {
    const bounds = place.current?.getBoundingClientRect()
    return { x: event.clientX - (bounds?.left ?? 0), y: event.clientY - (bounds?.top ?? 0) }
  }
  const press = (event: PointerEvent, of: KeyedCurve, frame: number) => {
    event.stopPropagation()
    place.current?.setPointerCapture(event.pointerId)
    const one = { curve: of.id, frame }
    const already = isChosen(here, of.id, frame)
    const next = already ? here : event.shiftKey ? [...here, one] : [one]
    setChosen(next)
    drag.current = { ...at(event), curves: documentCurves(), scales, last: null, chosen: next }
  }
  const pressHandle = (event: PointerEvent, of: KeyedCurve, frame: number, side: 'before' | 'after') => {
    event.stopPropagation()
    place.current?.setPointerCapture(event.pointerId)
    drag.current = {
      ...at(event),
      curves: documentCurves(),
      scales,
      last: null,
      chosen: here,
      handle: { of, frame, side },
    }
  }
  const follow = (event: PointerEvent) => {
    const now = drag.current
    const to = at(event)
    if (!now) {
      if (box) setBox({ ...box, toX: to.x, toY: to.y })
      return
    }
    if (now.handle) {
      const { of, frame, side } = now.handle
      const one = keyframesOf(of.curve).find((keyframe) => keyframe.frame === frame)
      const scale = now.scales.get(of.known.unit)
      if (!one || !scale) return
      const dx = (to.x - scale.x(frame)) / scale.perFrame
      const dy = (scale.y(one.value) - to.y) / scale.perValue
      // A handle points away from its keyframe; with Alt only its own side changes.
      if ((side === 'after' ? dx : -dx) < 0.2) return
      now.last = withHandle(of, frame, event.altKey ? side : 'both', dy / dx)
    } else {
      const [dx, dy] = [to.x - now.x, to.y - now.y]
      const timeOnly = event.shiftKey && Math.abs(dx) >= Math.abs(dy)
      const valueOnly = event.shiftKey && !timeOnly
      const perFrame = width / countOf(frames)
      const by = valueOnly ? 0 : Math.round(dx / perFrame)
      const still = timeOnly || Math.abs(dy) < 2
      now.last = movedKeyframes(now.curves, now.chosen, {
        frames: by,
        value: ({ known }) => (still ? 0 : -dy / (now.scales.get(known.unit)?.perValue ?? Infinity)),
        copy: event.altKey,
      })
      setChosen(now.chosen.map(({ curve, frame }) => ({ curve, frame: frame + by })))
    }
    if (now.last) draft(now.last)
  }
  const release = () => {
    const now = drag.current
    drag.current = null
    if (now?.last) commit(now.last)
    if (!box) return
    const [left, right] = [Math.min(box.x, box.toX), Math.max(box.x, box.toX)]
    const [top, bottom] = [Math.min(box.y, box.toY), Math.max(box.y, box.toY)]
    setChosen(
      curves.flatMap(({ id, curve, known }) =>
        keyframesOf(curve)
          .filter(({ frame, value }) => {
            const scale = scales.get(known.unit)
            const [x, y] = [scale?.x(frame) ?? 0, scale?.y(value) ?? 0]
            return x >= left && x <= right && y >= top && y <= bottom
          })
          .map(({ frame }) => ({ curve: id, frame })),
      ),
    )
    setBox(null)
  }
  const make = (edit: Change | null) => edit && dispatch(shotActions.edited(edit))
  const onKey = (event: KeyboardEvent) => {
    const steps: Readonly<Record<string, readonly [number, number]>> = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, 1],
      ArrowDown: [0, -1],
    }
    if (event.key === 'Delete') make(withoutKeyframes(documentCurves(), here))
    else if (Object.hasOwn(steps, event.key) && here.length > 0) {
      const [frame, value] = steps[event.key]
      const by = event.shiftKey ? 10 : 1
      make(
        movedKeyframes(documentCurves(), here, {
          frames: frame * by,
          value: ({ known }) => value * by * known.step,
          copy: event.altKey,
        }),
      )
      setChosen(here.map(({ curve, frame: f }) => ({ curve, frame: f + frame * by })))
    } else return
    event.preventDefault()
    event.stopPropagation()
  }
  const outside = curves.reduce(
    (count, { curve }) =>
      count + keyframesOf(curve).filter(({ frame }) => frame < frames.first || frame > frames.last).length,
    0,
  )
  return (
    <Box sx={{ display: 'flex', borderTop: 1, borderColor: 'divider', minHeight: drawnHeight }}>
      <Legend curves={curves} chosen={here} documentCurves={documentCurves} make={make} />
      <Box sx={{ flex: 1, minWidth: 0, px: `${inset}px`, position: 'relative' }}>
        <Box
          component="svg"
          ref={measured}
          role="group"
          aria-label="Curves of what is selected"
          tabIndex={0}
          onKeyDown={onKey}
          onPointerDown={(event: PointerEvent) => {
            place.current?.setPointerCapture(event.pointerId)
            const { x, y } = at(event)
            setBox({ x, y, toX: x, toY: y })
          }}
          onPointerMove={follow}
          onPointerUp={release}
          onPointerCancel={() => {
            drag.current = null
            setBox(null)
            dispatch(shotActions.drafted(null))
          }}
          sx={{
            display: 'block',
            width: '100%',
            height: drawnHeight,
            color: 'text.primary',
            touchAction: 'none',
            overflow: 'hidden',
          }}
        >
          {curves.map((curve, i) => (
            <OneCurve
              key={curve.id}
              of={curve}
              dash={dashes[i % dashes.length]}
              scale={scales.get(curve.known.unit) as Scale}
              frames={frames}
              chosen={here}
              onPress={press}
              onPressHandle={pressHandle}
              onGo={(frame) => dispatch(viewChanged({ playing: { frame } }))}
            />
          ))}
          {box && (
            <rect
              x={Math.min(box.x, box.toX)}
              y={Math.min(box.y, box.toY)}
              width={Math.abs(box.toX - box.x)}
              height={Math.abs(box.toY - box.y)}
              fill="none"
              stroke="currentColor"
              strokeDasharray="3 2"
            />
          )}
        </Box>
        {curves.length === 0 && (
          <Typography variant="caption" color="textSecondary" sx={{ position: 'absolute', top: 8, left: inset }}>
            Give a number of what is selected a keyframe, by its name in the card, to see its curve.
          </Typography>
        )}
        {outside > 0 && (
          <Typography variant="caption" color="textSecondary" sx={{ position: 'absolute', top: 0, right: inset }}>
            {outside === 1 ? 'A keyframe lies' : `${outside} keyframes lie`} outside the frames of the shot.
          </Typography>
        )}
      </Box>
    </Box>
  )
}
