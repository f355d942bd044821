/** Curves drawn through points: one set at a time, points dragged, added by a click on the line and taken away by a double click. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react'
import { encode, encodingNames, lumaWeights, workingSpaces, type CurvePoint } from '../../../../core/colour'
import { valueAt } from '../../../../core/motion/curve'
import {
  newId,
  newPoint,
  type Change,
  type PointOwner,
  type SingleChange,
  type TreatmentSettings,
} from '../../../../core/shot'
import { treatments } from '../../../../core/treatments'
import { curveSets, drawnCurve } from '../../../../core/treatments/curves'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectSamples } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { useDraft } from './use-draft'
import { useSampleLight } from './use-sample-light'

/** Of the drawing, in its own units; 0 and 1 lie a little inside. */
const size = 200
const inset = 12
const span = size - 2 * inset
const toX = (code: number) => inset + code * span
const toY = (code: number) => size - inset - code * span
const narrow = { minWidth: 0, px: 0.6, py: 0 } as const
/** How a set is told from another without colour. */
const dashes: Readonly<Record<string, string>> = { luma: '', red: '7 3', green: '2 3', blue: '9 3 2 3' }

interface Drawn extends CurvePoint {
  readonly id: string
}

export function CurveDrawing({ settings }: { settings: TreatmentSettings }) {
  const dispatch = useAppDispatch()
  const { draft, commit } = useDraft()
  const [set, setSet] = useState<string>('luma')
  const frame = useAppSelector((state) => state.view.playing.frame)
  const drawing = useRef<SVGSVGElement>(null)
  const drag = useRef<{ readonly id: string; readonly point: CurvePoint; moved: boolean } | null>(null)
  const of: PointOwner = { kind: 'treatment', id: settings.id }
  const pointsOf = (name: string): Drawn[] =>
    Object.values(settings.points?.byId ?? {})
      .filter((one) => one.set === name)
      .map(({ id, parameters }) => ({
        id,
        in: valueAt(parameters.in[0], frame),
        out: valueAt(parameters.out[0], frame),
      }))
      .sort((a, b) => a.in - b.in)
  const here = pointsOf(set)

  const codeAt = (event: PointerEvent): CurvePoint => {
    const bounds = drawing.current?.getBoundingClientRect()
    if (!bounds) return { in: 0, out: 0 }
    const [x, y] = [
      ((event.clientX - bounds.left) / bounds.width) * size,
      ((event.clientY - bounds.top) / bounds.height) * size,
    ]
    const round = (value: number) => Math.round(Math.min(1.05, Math.max(-0.05, value)) * 1000) / 1000
    return { in: round((x - inset) / span), out: round((size - inset - y) / span) }
  }
  const moved = (id: string, to: CurvePoint): Change => ({
    kind: 'together',
    label: 'Point of a curve',
    changes: (['in', 'out'] as const).map((parameter): SingleChange => ({
      kind: 'set-parameter',
      at: { owner: { kind: 'point', of, id }, parameter, channel: 0 },
      frame,
      value: to[parameter],
    })),
  })
  const add = (to: CurvePoint) =>
    dispatch(
      shotActions.edited({
        kind: 'add-point',
        of,
        point: newPoint(treatments.curves, newId(), { in: [to.in], out: [to.out] }, set),
      }),
    )
  const remove = (id: string) => dispatch(shotActions.edited({ kind: 'remove-point', of, point: id }))
  const onKey = (event: KeyboardEvent, { id, in: from, out }: Drawn) => {
    const step = event.shiftKey ? 0.05 : 0.005
    const by: Readonly<Record<string, readonly [number, number]>> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, step],
      ArrowDown: [0, -step],
    }
    if (event.key === 'Delete') remove(id)
    else if (Object.hasOwn(by, event.key))
      commit(moved(id, { in: from + by[event.key][0], out: out + by[event.key][1] }))
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  return (
    <Stack spacing={0.5}>
      <Stack direction="row" sx={{ ml: -0.6 }}>
        {curveSets.map(({ name, label }) => (
          <Button
            key={name}
            sx={{ ...narrow, fontWeight: name === set ? 700 : 400 }}
            aria-pressed={name === set}
            onClick={() => setSet(name)}
          >
            {label}
            {pointsOf(name).length > 0 ? ` ${pointsOf(name).length}` : ''}
          </Button>
        ))}
      </Stack>
      <Box
        component="svg"
        ref={drawing}
        role="group"
        aria-label={`Curve of ${set}`}
        viewBox={`0 0 ${size} ${size}`}
        sx={{
          width: '100%',
          border: 1,
          borderColor: 'divider',
          touchAction: 'none',
          cursor: 'crosshair',
          color: 'text.primary',
        }}
        onPointerDown={(event) => {
          if (event.target === event.currentTarget || (event.target as Element).tagName !== 'circle') add(codeAt(event))
        }}
        onPointerMove={(event) => {
          if (!drag.current) return
          drag.current.moved = true
          draft(moved(drag.current.id, codeAt(event)))
        }}
        onPointerUp={(event) => {
          const now = drag.current
          drag.current = null
          if (now?.moved) commit(moved(now.id, codeAt(event)))
        }}
      >
        {[0, 0.25, 0.5, 0.75, 1].map((code) => (
          <g key={code} stroke="currentColor" opacity={0.15}>
            <line x1={toX(code)} x2={toX(code)} y1={toY(0)} y2={toY(1)} />
            <line y1={toY(code)} y2={toY(code)} x1={toX(0)} x2={toX(1)} />
          </g>
        ))}
        {curveSets.map(({ name }) => (
          <Line key={name} points={pointsOf(name)} dashes={dashes[name]} dim={name !== set} />
        ))}
        {here.map((point, i) => (
          <circle
            key={point.id}
            role="button"
            tabIndex={0}
            aria-label={`Point ${i + 1} of ${set}: ${point.in.toFixed(3)} to ${point.out.toFixed(3)}`}
            cx={toX(point.in)}
            cy={toY(point.out)}
            r={4.5}
            fill="none"
            stroke="currentColor"
            strokeWidth={1.5}
            pointerEvents="all"
            style={{ cursor: 'move' }}
            onKeyDown={(event) => onKey(event, point)}
            onDoubleClick={() => remove(point.id)}
            onPointerDown={(event) => {
              drawing.current?.setPointerCapture(event.pointerId)
              drag.current = { id: point.id, point, moved: false }
            }}
          />
        ))}
      </Box>
      <FromSamples
        encoding={settings.choices?.encoding ?? 'srgb'}
        set={set}
        onPick={(code) => add({ in: code, out: code })}
      />
      <Typography variant="caption" color="textSecondary">
        Click to put a point, drag it, double click to take it away.
      </Typography>
    </Stack>
  )
}

function Line({ points, dashes: dash, dim }: { points: readonly CurvePoint[]; dashes: string; dim: boolean }) {
  const curve = drawnCurve(points)
  if (!curve && dim) return null
  const steps = Array.from({ length: 101 }, (_, i) => i / 100)
  const path = steps.map((code, i) => `${i === 0 ? 'M' : 'L'}${toX(code)} ${toY((curve ?? ((v: number) => v))(code))}`)
  return (
    <path
      d={path.join(' ')}
      fill="none"
      stroke="currentColor"
      strokeWidth={1.5}
      strokeDasharray={dash}
      opacity={dim ? 0.35 : 1}
      pointerEvents="none"
    />
  )
}

/** A point where the plate's light under a sample lies on the curve. */
function FromSamples({ encoding, set, onPick }: { encoding: string; set: string; onPick: (code: number) => void }) {
  const samples = useAppSelector(selectSamples)
  const working = useAppSelector((state) => selectDocument(state)?.workingSpace)
  const lightOf = useSampleLight()
  if (samples.length === 0 || !working) return null
  const pick = async (sample: (typeof samples)[number]) => {
    const light = await lightOf(sample)
    if (!light) return
    const weights = lumaWeights(workingSpaces[working])
    const channel = ['red', 'green', 'blue'].indexOf(set)
    const value = channel >= 0 ? light[channel] : light.reduce((sum, v, c) => sum + v * weights[c], 0)
    const name = encodingNames.find((one) => one === encoding) ?? 'srgb'
    onPick(Math.round(encode(name, value) * 1000) / 1000)
  }
  return (
    <Stack direction="row" sx={{ ml: -0.6, flexWrap: 'wrap' }}>
      {samples.map((sample) => (
        <Button key={sample.id} sx={narrow} onClick={() => void pick(sample)}>
          Point at sample {sample.name}
        </Button>
      ))}
    </Stack>
  )
}
