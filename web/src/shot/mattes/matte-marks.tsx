/** The selected matte on the picture: hatched where it covers, contours where it is soft, its outlines as a light line on a dark one. */

import Box from '@mui/material/Box'
import { contours } from 'd3-contour'
import { useEffect, useId, useState } from 'react'
import type { Engine } from '../../../../core/engine/engine'
import type { Scale, Step } from '../../../../core/graph/steps'
import { cubicAfter, type Outline } from '../../../../core/outline'
import {
  framesOfShape,
  inOrder,
  isThere,
  matteMotion,
  outlineAt,
  outlineAlong,
  seenOutline,
  type DrawnMatte,
  type ShapeNow,
  type Shot,
} from '../../../../core/shot'
import { useEngine } from '../../engine/engine-context'
import { useNewest } from '../../engine/use-newest'
import { useAppSelector } from '../../store'
import {
  selectFrame,
  selectMarksScale,
  selectMatte,
  selectMatteStep,
  selectShapeNow,
  selectShownShot,
} from '../../store/selectors'
import type { Placement } from '../picture/placement'

/** Lines at which coverage is a tenth, a half and nine tenths, as closed rings in full-scale pixels. */
const levels = [0.1, 0.5, 0.9] as const
type Rings = readonly (readonly (readonly [number, number])[])[]

interface Marked {
  readonly rings: Readonly<Record<(typeof levels)[number], Rings>>
  /** somewhere it goes from a tenth to nine tenths slowly */
  readonly soft: boolean
}

async function marksOf(engine: Engine, step: Step, scale: Scale, shot: Shot): Promise<Marked> {
  const width = Math.ceil(shot.frameSize.width / scale)
  const height = Math.ceil(shot.frameSize.height / scale)
  const light = await engine.light(step, { x: 0, y: 0, width, height })
  const values = Array.from({ length: width * height }, (_, i) => light[i * 4])
  const between = values.filter((value) => value > 0.1 && value < 0.9).length
  const made = contours()
    .size([width, height])
    .thresholds([...levels])(values)
  const ringsAt = (i: number): Rings =>
    made[i].coordinates.flat().map((ring) => ring.map(([x, y]) => [x * scale, y * scale] as const))
  const rings = { 0.1: ringsAt(0), 0.5: ringsAt(1), 0.9: ringsAt(2) }
  const around = rings[0.5].reduce((sum, ring) => sum + lengthOf(ring), 0) / scale
  return { rings, soft: between > 1.2 * around }
}

const lengthOf = (ring: Rings[number]) =>
  ring.slice(1).reduce((sum, [x, y], i) => sum + Math.hypot(x - ring[i][0], y - ring[i][1]), 0)

function useMarks(): Marked | null {
  const engine = useEngine()
  const step = useAppSelector(selectMatteStep)
  const scale = useAppSelector(selectMarksScale)
  const shot = useAppSelector(selectShownShot)
  const hatched = useAppSelector((state) => state.view.outlining.hatched)
  const [marked, setMarked] = useState<Marked | null>(null)
  const ask = useNewest()
  useEffect(() => {
    ask(async () => {
      if (!step || !shot || !hatched) return setMarked(null)
      // What cannot be made is said by the picture itself.
      setMarked(await marksOf(engine, step, scale, shot).catch(() => null))
    })
    // Only the step says what is to be marked: the shot changes with every edit.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [engine, step, scale, hatched, ask])
  return marked
}

const ringsPath = (rings: Rings, { left, top, zoom }: Placement) =>
  rings
    .map(
      (ring) =>
        `M ${ring.map(([x, y]) => `${(left + x * zoom).toFixed(1)} ${(top + y * zoom).toFixed(1)}`).join(' L ')} Z`,
    )
    .join(' ')

function outlinePath(outline: Outline, { left, top, zoom }: Placement): string {
  const at = (x: number, y: number) => `${(left + x * zoom).toFixed(2)} ${(top + y * zoom).toFixed(2)}`
  const pieces = outline.map((_, i) => {
    const [, , bx, by, cx, cy, dx, dy] = cubicAfter(outline, i)
    return `C ${at(bx, by)} ${at(cx, cy)} ${at(dx, dy)}`
  })
  return `M ${at(outline[0].x, outline[0].y)} ${pieces.join(' ')} Z`
}

/** Of every shape that is there on the frame. */
const outlinesOf = (shot: Shot, matte: DrawnMatte, frame: number) =>
  inOrder(matte.shapes)
    .filter((shape) => isThere(shape, frame))
    .map((shape) => ({ id: shape.id, outline: seenOutline({ shot, matte, shape, frame }) }))

export function MatteMarks({ placement }: { placement: Placement }) {
  const { hidden, pressed, stroke } = useAppSelector((state) => state.view.outlining)
  const matte = useAppSelector(selectMatte)
  // While points are moved the outline is looked at; hatching would only hold up the picture.
  const moving = useAppSelector((state) => state.shot.draft?.kind === 'set-shape-places')
  if (hidden || (!matte && pressed.length === 0 && stroke.length === 0)) return null
  return (
    <Box
      component="svg"
      role="img"
      aria-label={matte ? `What matte ${matte.name} covers` : 'The outline that is being drawn'}
      sx={{ position: 'absolute', inset: 0, width: '100%', height: '100%', pointerEvents: 'none' }}
    >
      {matte && <PassedOver matte={matte.id} placement={placement} />}
      {matte && !moving && <Covered placement={placement} />}
      {matte?.kind === 'drawn' && <Outlines matte={matte} placement={placement} />}
      <BeingDrawn placement={placement} />
    </Box>
  )
}

/** Where elements pass: dots, so that it is told from outlines. */
function PassedOver({ matte, placement }: { matte: string; placement: Placement }) {
  const rings = useAppSelector(({ sweep }) => (sweep.matte === matte ? sweep.rings : null))
  if (!rings) return null
  const line = { d: ringsPath(rings, placement), fill: 'none', strokeLinecap: 'round' } as const
  return (
    <g role="img" aria-label="Where elements pass">
      <path {...line} stroke="#000" strokeWidth={4} strokeDasharray="0 7" opacity={0.6} />
      <path {...line} stroke="#fff" strokeWidth={2} strokeDasharray="0 7" />
    </g>
  )
}

function Covered({ placement }: { placement: Placement }) {
  const marked = useMarks()
  const hatch = useId()
  if (!marked) return null
  const { rings, soft } = marked
  const half = ringsPath(rings[0.5], placement)
  return (
    <g fill="none">
      <pattern id={hatch} width={9} height={9} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <path d="M 0 0 V 9" stroke="#000" strokeWidth={2.4} opacity={0.35} />
        <path d="M 0 0 V 9" stroke="#fff" strokeWidth={1} opacity={0.55} />
      </pattern>
      <path d={half} fill={`url(#${hatch})`} fillRule="evenodd" />
      {soft &&
        ([0.1, 0.9] as const).map((level) => (
          <path key={level} d={ringsPath(rings[level], placement)} stroke="#fff" strokeDasharray="2 4" opacity={0.8} />
        ))}
      {soft && <path d={half} stroke="#000" strokeWidth={2} opacity={0.35} />}
      {soft && <path d={half} stroke="#fff" strokeWidth={1} opacity={0.7} />}
    </g>
  )
}

function Outlines({ matte, placement }: { matte: DrawnMatte; placement: Placement }) {
  const shot = useAppSelector(selectShownShot)
  const frame = useAppSelector(selectFrame)
  const now = useAppSelector(selectShapeNow)
  const chosen = useAppSelector((state) => state.view.outlining.points)
  const tool = useAppSelector((state) => state.view.screen.tool)
  const neighbours = useAppSelector((state) => state.view.outlining.neighbours)
  // Together they are moved by their box.
  const points = tool === 'points' ? [] : chosen
  if (!shot) return null
  const order = now ? inOrder(now.shape.points) : []
  const seen = now ? seenOutline(now) : []
  const { left, top, zoom } = placement
  return (
    <g fill="none">
      {outlinesOf(shot, matte, frame).map(({ id, outline }) => {
        const d = outlinePath(outline, placement)
        const worked = id === now?.shape.id
        return (
          <g key={id} opacity={worked ? 1 : 0.6}>
            <path d={d} stroke="#000" strokeWidth={3} opacity={0.6} />
            <path d={d} stroke="#fff" strokeWidth={1} strokeDasharray={worked ? undefined : '6 3'} />
          </g>
        )
      })}
      {neighbours && now && <Neighbours now={now} placement={placement} />}
      {seen.flatMap(({ x, y, before, after }, i) =>
        points.includes(order[i].id)
          ? [before, after].map(([dx, dy], n) => (
              <line
                key={`${order[i].id} ${n}`}
                x1={left + x * zoom}
                y1={top + y * zoom}
                x2={left + (x + dx) * zoom}
                y2={top + (y + dy) * zoom}
                stroke="#fff"
                opacity={0.8}
              />
            ))
          : [],
      )}
    </g>
  )
}

/** The outlines of the keyframes before and after, as they would lie on this frame: dashed the one before, dotted the one after. */
function Neighbours({ now, placement }: { now: ShapeNow; placement: Placement }) {
  const frames = framesOfShape(now.shape)
  const motion = matteMotion(now.shot, now.matte, now.frame)
  const around = [
    { frame: frames.findLast((one) => one < now.frame), dashes: '7 5' },
    { frame: frames.find((one) => one > now.frame), dashes: '1.5 4' },
  ]
  return around.map(({ frame, dashes }) =>
    frame === undefined ? null : (
      <path
        key={dashes}
        d={outlinePath(outlineAlong(motion, outlineAt(now.shape, frame)), placement)}
        stroke="#fff"
        strokeDasharray={dashes}
        opacity={0.55}
      />
    ),
  )
}

/** The stroke under the hand, or the places that were pressed so far; the first one closes it. */
function BeingDrawn({ placement: { left, top, zoom } }: { placement: Placement }) {
  const { pressed, stroke } = useAppSelector((state) => state.view.outlining)
  const spots = stroke.length > 0 ? stroke : pressed.map(({ spot }) => spot)
  if (spots.length === 0) return null
  const points = spots.map(([x, y]) => `${left + x * zoom},${top + y * zoom}`).join(' ')
  return (
    <g fill="none">
      <polyline points={points} stroke="#000" strokeWidth={3} opacity={0.6} />
      <polyline points={points} stroke="#fff" strokeWidth={1} />
      {stroke.length === 0 &&
        spots.map(([x, y], i) => (
          <circle
            key={i}
            cx={left + x * zoom}
            cy={top + y * zoom}
            r={i === 0 ? 6 : 2.5}
            fill={i === 0 ? 'none' : '#fff'}
            stroke={i === 0 ? '#fff' : '#000'}
          />
        ))}
    </g>
  )
}
