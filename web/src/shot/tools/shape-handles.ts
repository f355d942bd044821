/** Handles of the shape that is worked on: its points, the ends of the handles of those that are chosen, and a box round them. */

import type { Matrix3 } from '../../../../core/graph/steps'
import { about } from '../../../../core/motion/mapping'
import type { Spot } from '../../../../core/motion/placing'
import { nearestOn } from '../../../../core/outline'
import {
  find,
  inOrder,
  isThere,
  ledPoints,
  movedHandle,
  movedPoints,
  seenOutline,
  type ShapeNow,
  type Shot,
} from '../../../../core/shot'
import { shapeOf } from '../../store/selectors'
import { viewChanged, type Point, type ViewState } from '../../store/view'
import type { Handle } from './tool'

interface DrawnShapes {
  readonly view: ViewState
  readonly shot: Shot | null
}

export function shapeOnFrame(id: string, { view, shot }: DrawnShapes): ShapeNow | null {
  const matte = shot ? find(shot.mattes, id) : undefined
  const shape = shapeOf(matte ?? null, view.outlining.shape)
  return shot && matte?.kind === 'drawn' && shape ? { shot, matte, shape, frame: view.playing.frame } : null
}

/** The shape of a matte whose outline goes through a place. @param near pixels of the frame */
export function shapeAt(id: string, { view, shot }: DrawnShapes, { x, y }: Point, near: number): string | null {
  const matte = shot ? find(shot.mattes, id) : undefined
  const { frame } = view.playing
  if (!shot || matte?.kind !== 'drawn' || view.outlining.hidden) return null
  const found = inOrder(matte.shapes)
    .filter((shape) => isThere(shape, frame))
    .map((shape) => ({ id: shape.id, ...nearestOn(seenOutline({ shot, matte, shape, frame }), x, y) }))
    .sort((a, b) => a.distance - b.distance)
    .at(0)
  return found && found.distance <= near ? found.id : null
}

const spot = ({ x, y }: Point): Spot => [x, y]

export function shapeHandles(id: string, drawn: DrawnShapes): Handle[] {
  const { points: all, keyframes, reach, hidden } = drawn.view.outlining
  const now = hidden ? null : shapeOnFrame(id, drawn)
  if (!now) return []
  const order = inOrder(now.shape.points)
  const outline = seenOutline(now)
  const chosen = all.filter((one) => find(now.shape.points, one))
  const points = order.map(({ id: point }, i): Handle => {
    const { x, y } = outline[i]
    const isChosen = chosen.includes(point)
    return {
      ...{ name: `Point ${i + 1} of ${now.shape.name}`, at: { x, y }, small: true, chosen: isChosen },
      edit: (to) => movedPoints(now, isChosen ? chosen : [point], [x, y], spot(to), keyframes, reach),
      press: ({ shift }) => {
        const others = chosen.filter((one) => one !== point)
        const next = shift ? (isChosen ? others : [...others, point]) : [point]
        return viewChanged({ outlining: { shape: now.shape.id, points: next } })
      },
    }
  })
  const ends = order.flatMap(({ id: point }, i): Handle[] => {
    if (!chosen.includes(point) || chosen.length > mostWithEnds || drawn.view.screen.tool === 'points') return []
    const { x, y, before, after } = outline[i]
    return (
      [
        ['before', before],
        ['after', after],
      ] as const
    )
      .filter(([, [dx, dy]]) => Math.hypot(dx, dy) > 1e-3)
      .map(([which, [dx, dy]]) => ({
        ...{ name: `Handle ${which} point ${i + 1}`, at: { x: x + dx, y: y + dy }, small: true, round: true },
        edit: (to) => movedHandle(now, point, which, spot(to), keyframes),
      }))
  })
  return [...boxHandles(now, chosen, drawn.view), ...ends, ...points]
}

/** More points at once are moved as a whole. */
const mostWithEnds = 3

/** Box round the points that are chosen, as they are seen; null where fewer than two are. */
export function boxOfChosen(now: ShapeNow, chosen: readonly string[]) {
  const order = inOrder(now.shape.points)
  const places = seenOutline(now).filter((_, i) => chosen.includes(order[i].id))
  if (places.length < 2) return null
  const [xs, ys] = [places.map(({ x }) => x), places.map(({ y }) => y)]
  const [x, y] = [Math.min(...xs), Math.min(...ys)]
  return { x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y }
}

/** With the tool that chooses points in hand: the box is taken at its corners to scale, and beside it to turn. */
function boxHandles(now: ShapeNow, chosen: readonly string[], view: ViewState): Handle[] {
  const box = view.screen.tool === 'points' ? boxOfChosen(now, chosen) : null
  if (!box) return []
  const { keyframes, reach: goesAlong } = view.outlining
  const { x, y, width, height } = box
  const middle: Spot = [x + width / 2, y + height / 2]
  const led = (matrix: Matrix3) => ledPoints(now, chosen, matrix, keyframes, goesAlong)
  const corners = [
    ['Upper left', x, y],
    ['Upper right', x + width, y],
    ['Lower right', x + width, y + height],
    ['Lower left', x, y + height],
  ] as const
  const scaling = corners.map(([name, cx, cy]): Handle => {
    const away = Math.hypot(cx - middle[0], cy - middle[1])
    return {
      ...{ name: `${name} of the chosen points`, at: { x: cx, y: cy } },
      edit: (to) => {
        const scale = Math.max(0.02, Math.hypot(to.x - middle[0], to.y - middle[1]) / (away || 1))
        return led(about(middle, [scale, 0, 0, scale]))
      },
    }
  })
  const reach = Math.max(14, height * 0.15)
  const turnAt = { x: middle[0], y: y - reach }
  return [
    ...scaling,
    {
      ...{ name: 'Turn the chosen points', at: turnAt, round: true },
      edit: (to) => {
        const angle = Math.atan2(to.y - middle[1], to.x - middle[0]) + Math.PI / 2
        const [cos, sin] = [Math.cos(angle), Math.sin(angle)]
        return led(about(middle, [cos, -sin, sin, cos]))
      },
    },
  ]
}
