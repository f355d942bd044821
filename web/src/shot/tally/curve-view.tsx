/** The curves of what is selected, over the tally's own axis: keyframes chosen, moved in time and value, given another way. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { createSelector } from '@reduxjs/toolkit'
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react'
import { useStore } from 'react-redux'
import {
  beyonds,
  keyframesOf,
  rateOf,
  smoothSlope,
  steadily,
  valueAt,
  ways,
  type BeyondKeyframes,
  type Way,
} from '../../../../core/motion/curve'
import {
  keyedCurves,
  movedKeyframes,
  withBeyond,
  withHandle,
  withoutKeyframes,
  withWay,
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
import { countOf, inset, namesWidth, shareOf } from './time-axis'

const selectShownCurves = createSelector([selectShownShot, selectElementIds], (shot, ids) =>
  shot ? keyedCurves(shot, ids) : [],
)

const wayWords: Readonly<Record<Way, string>> = {
  monotone: 'smooth, never beyond',
  smooth: 'smooth, with handles',
  straight: 'straight',
  level: 'level until the next',
  gentle: 'gently from stop to stop',
  'gentle-start': 'gently from a stop',
  'gentle-end': 'gently to a stop',
  pop: 'pops beyond and settles',
}
const beyondWords: Readonly<Record<BeyondKeyframes | 'level', string>> = {
  level: 'level',
  repeat: 'again and again',
  'ping-pong': 'to and fro',
  'go-on': 'on at its slope',
}
/** Curves are told apart by their dashes: colour means selection. */
const dashes = ['', '6 3', '2 3', '8 3 2 3', '1 4', '10 4']
const drawnHeight = 186
const margin = 10

interface Scale {
  x(frame: number): number
  y(value: number): number
  readonly perFrame: number
  readonly perValue: number
}

/** Curves of one unit share a scale: pixels are not beside degrees. */
type Scales = ReadonlyMap<string, Scale>

function scalesOf(curves: readonly KeyedCurve[], frames: FrameRange, width: number): Scales {
  const units = [...new Set(curves.map(({ known }) => known.unit))]
  return new Map(
    units.map((unit) => [
      unit,
      scaleOf(
        curves.filter(({ known }) => known.unit === unit),
        frames,
        width,
      ),
    ]),
  )
}

function scaleOf(curves: readonly KeyedCurve[], frames: FrameRange, width: number): Scale {
  const values = curves.flatMap(({ curve }) => keyframesOf(curve).map(({ value }) => value))
  const [least, most] = [Math.min(...values, Infinity), Math.max(...values, -Infinity)]
  const room = most - least || Math.max(1, Math.abs(most))
  const [low, high] = [least - room * 0.15, most + room * 0.15]
  const perValue = (drawnHeight - 2 * margin) / (high - low)
  return {
    x: (frame) => shareOf(frame, frames) * width,
    y: (value) => drawnHeight - margin - (value - low) * perValue,
    perFrame: width / countOf(frames),
    perValue,
  }
}

const isChosen = (chosen: readonly ChosenKeyframe[], curve: string, frame: number) =>
  chosen.some((one) => one.curve === curve && one.frame === frame)

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

interface OneCurveProps {
  readonly of: KeyedCurve
  readonly dash: string
  readonly scale: Scale
  readonly frames: FrameRange
  readonly chosen: readonly ChosenKeyframe[]
  readonly onPress: (event: PointerEvent, of: KeyedCurve, frame: number) => void
  readonly onPressHandle: (event: PointerEvent, of: KeyedCurve, frame: number, side: 'before' | 'after') => void
  readonly onGo: (frame: number) => void
}

const handleLength = 32

function OneCurve({ of, dash, scale, frames, chosen, onPress, onPressHandle, onGo }: OneCurveProps) {
  const { id, curve, label } = of
  const keyframes = keyframesOf(curve)
  const steps = Math.max(2, Math.min(600, countOf(frames) * 4))
  const path = Array.from({ length: steps + 1 }, (_, i) => {
    const frame = frames.first - 0.5 + (i / steps) * countOf(frames)
    return `${i === 0 ? 'M' : 'L'}${scale.x(frame).toFixed(1)} ${scale.y(valueAt(curve, frame)).toFixed(1)}`
  }).join(' ')
  return (
    <g>
      <path d={path} fill="none" stroke="currentColor" strokeDasharray={dash} opacity={0.7} pointerEvents="none" />
      {keyframes.map((one, i) => {
        const [x, y] = [scale.x(one.frame), scale.y(one.value)]
        const selected = isChosen(chosen, id, one.frame)
        const smooth = one.to === 'smooth' || keyframes[i - 1]?.to === 'smooth'
        const handles = selected && smooth ? (['before', 'after'] as const) : []
        return (
          <g key={one.frame}>
            {handles.map((side) => {
              const slope = one[side] ?? smoothSlope(keyframes, i)
              const [dx, dy] = [scale.perFrame, -slope * scale.perValue]
              const k = (side === 'after' ? handleLength : -handleLength) / Math.hypot(dx, dy)
              return (
                <g key={side}>
                  <line x1={x} y1={y} x2={x + dx * k} y2={y + dy * k} stroke="currentColor" opacity={0.5} />
                  <circle
                    role="button"
                    aria-label={`Handle ${side} frame ${one.frame}, ${label}`}
                    cx={x + dx * k}
                    cy={y + dy * k}
                    r={3.5}
                    fill="currentColor"
                    onPointerDown={(event) => onPressHandle(event, of, one.frame, side)}
                  />
                </g>
              )
            })}
            <Box
              component="rect"
              role="button"
              aria-label={`Keyframe at ${one.frame}, ${label}, ${one.value.toFixed(3)}`}
              aria-pressed={selected}
              x={x - 4}
              y={y - 4}
              width={8}
              height={8}
              transform={`rotate(45 ${x} ${y})`}
              sx={{
                fill: 'currentColor',
                color: selected ? 'primary.main' : 'text.primary',
                cursor: 'move',
              }}
              onPointerDown={(event: PointerEvent) => onPress(event, of, one.frame)}
              onDoubleClick={() => onGo(one.frame)}
            />
          </g>
        )
      })}
    </g>
  )
}

interface LegendProps {
  readonly curves: readonly KeyedCurve[]
  readonly chosen: readonly ChosenKeyframe[]
  readonly documentCurves: () => readonly KeyedCurve[]
  readonly make: (edit: Change | null) => void
}

/** Which curve is which, and what can be done with the chosen keyframes. */
function Legend({ curves, chosen, documentCurves, make }: LegendProps) {
  const rate = useAppSelector((state) => selectDocument(state)?.rate)
  const frame = useAppSelector((state) => state.view.playing.frame)
  const ids = [...new Set(chosen.map(({ curve }) => curve))]
  const [first] = chosen
  const firstCurve = first && curves.find(({ id }) => id === first.curve)
  const way = firstCurve && keyframesOf(firstCurve.curve).find((one) => one.frame === first.frame)?.to
  const beyond = firstCurve && typeof firstCurve.curve !== 'number' ? (firstCurve.curve.beyond ?? 'level') : 'level'
  const perSecond = rate ? rate.numerator / rate.denominator : 24
  const steady = firstCurve ? rateOf(firstCurve.curve) : null
  const field = { select: true, size: 'small', variant: 'standard', fullWidth: true } as const
  const goSteadily = () => {
    if (!firstCurve) return
    const { at, curve, known } = firstCurve
    const next = steadily(frame, valueAt(curve, frame), known.step * 10)
    const gone = Object.fromEntries(keyframesOf(curve).map((one) => [one.frame, null]))
    if (typeof next !== 'number')
      make({ kind: 'set-keyframes', curves: [{ at, keyframes: { ...gone, ...next.keyframes }, beyond: 'go-on' }] })
  }
  const setRate = (value: number) => {
    if (!firstCurve) return
    const { at, curve } = firstCurve
    const [one] = keyframesOf(curve)
    const next = steadily(one.frame, one.value, value / perSecond)
    if (typeof next !== 'number')
      make({ kind: 'set-keyframes', curves: [{ at, keyframes: next.keyframes, beyond: 'go-on' }] })
  }
  return (
    <Stack
      sx={{
        width: namesWidth,
        flexShrink: 0,
        px: 1.2,
        py: 0.5,
        overflowY: 'auto',
        maxHeight: drawnHeight,
        '& > *': { flexShrink: 0 },
      }}
    >
      {chosen.length === 0 ? (
        curves.map(({ id, label }, i) => (
          <Stack key={id} direction="row" sx={{ alignItems: 'center', gap: 0.5 }}>
            <svg width={20} height={8} aria-hidden>
              <line x1={0} x2={20} y1={4} y2={4} stroke="currentColor" strokeDasharray={dashes[i % dashes.length]} />
            </svg>
            <Typography variant="caption" color="textSecondary" noWrap title={label}>
              {label}
            </Typography>
          </Stack>
        ))
      ) : (
        <>
          <Typography variant="caption" noWrap>
            {chosen.length === 1 && firstCurve ? `${first.frame}, ${firstCurve.label}` : `${chosen.length} keyframes`}
          </Typography>
          <TextField
            {...field}
            label="Goes on"
            value={way ?? 'monotone'}
            onChange={({ target: { value } }) => make(withWay(documentCurves(), chosen, value as Way))}
          >
            {ways.map((one) => (
              <MenuItem key={one} value={one} dense>
                {wayWords[one]}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            {...field}
            label="Beyond its keyframes"
            value={beyond}
            onChange={({ target: { value } }) =>
              make(withBeyond(documentCurves(), ids, value === 'level' ? null : (value as BeyondKeyframes)))
            }
          >
            {(['level', ...beyonds] as const).map((one) => (
              <MenuItem key={one} value={one} dense>
                {beyondWords[one]}
              </MenuItem>
            ))}
          </TextField>
          {steady !== null ? (
            <TextField
              size="small"
              variant="standard"
              type="number"
              label={`${firstCurve?.known.unit ?? ''} a second`}
              defaultValue={Number((steady * perSecond).toFixed(4))}
              key={`${first.curve} ${steady}`}
              onKeyDown={(event) => event.stopPropagation()}
              onBlur={({ target: { value } }) =>
                Number.isFinite(Number(value)) && value !== '' && setRate(Number(value))
              }
            />
          ) : (
            <Button sx={{ alignSelf: 'flex-start', ml: -0.6, py: 0, px: 0.6, minWidth: 0 }} onClick={goSteadily}>
              At a constant rate
            </Button>
          )}
          <Button
            sx={{ alignSelf: 'flex-start', ml: -0.6, py: 0, px: 0.6, minWidth: 0 }}
            onClick={() => make(withoutKeyframes(documentCurves(), chosen))}
          >
            Remove
          </Button>
        </>
      )}
    </Stack>
  )
}
