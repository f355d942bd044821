/** Moves, turns and scales what is selected, and pulls its corners; every gesture is an edit of the document as it was when pressed. */

import { inverseOf, throughMatrix } from '../../../../core/motion/mapping'
import { cornersOf, type Spot } from '../../../../core/motion/placing'
import { cornerNames } from '../../../../core/set/owners'
import {
  allOf,
  carriedMatrix,
  find,
  inOrder,
  movePivot,
  placedMatrix,
  placementAt,
  type Change,
  type Placing,
  type Shot,
  type SingleChange,
} from '../../../../core/shot'
import { shotActions } from '../../store/shot-slice'
import type { Point } from '../../store/view'
import type { Handle, HandleKeys, Tool } from './tool'

/** A placed element on a frame: all that its handles are made of. */
export interface PlacedNow {
  readonly shot: Shot
  readonly id: string
  readonly placing: Placing
  readonly frame: number
}

export function placedNow(shot: Shot | null, id: string | null, frame: number): PlacedNow | null {
  const placing = shot && id !== null ? find(shot.elements, id)?.placing : undefined
  return shot && id !== null && placing ? { shot, id, placing, frame } : null
}

/** Of its box, in the frame, in order; corners behind the eye are left out. */
export function outlineOf({ shot, id, placing, frame }: PlacedNow): readonly Spot[] {
  const matrix = placedMatrix(shot, id, frame)
  return cornersOf(placing.box).flatMap(([x, y]) => {
    const spot = throughMatrix(matrix, x, y)
    return spot ? [spot] : []
  })
}

const setting = ({ id, frame }: PlacedNow, parameter: string, value: number): SingleChange => ({
  kind: 'set-parameter',
  at: { owner: { kind: 'placing', element: id }, parameter, channel: 0 },
  frame,
  value: Number(value.toFixed(4)),
})
const both = (now: PlacedNow, values: Readonly<Record<string, number>>): Change => ({
  kind: 'together',
  changes: Object.entries(values).map(([name, value]) => setting(now, name, value)),
  label: `Place ${find(now.shot.elements, now.id)?.name ?? now.id}`,
})

const point = ([x, y]: Spot): Point => ({ x, y })
const middle = (a: Spot, b: Spot): Spot => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2]

/** From the frame into the space that the element's own numbers are in. */
function toOwn({ shot, id, frame }: PlacedNow): ((spot: Point) => Spot) | null {
  const back = inverseOf(carriedMatrix(shot, id, frame))
  return back && (({ x, y }) => throughMatrix(back, x, y) ?? [x, y])
}

export function placingHandles(now: PlacedNow): Handle[] {
  const outline = outlineOf(now)
  const own = toOwn(now)
  if (outline.length < 4 || !own) return []
  const numbers = placementAt(now.placing, now.frame)
  const pivot: Spot = [numbers.x + numbers.pivotX, numbers.y + numbers.pivotY]
  const seenPivot = throughMatrix(carriedMatrix(now.shot, now.id, now.frame), ...pivot) ?? pivot
  const fromPivot = (to: Point): Spot => {
    const [x, y] = own(to)
    return [x - pivot[0], y - pivot[1]]
  }
  const scaling = (name: string, at: Spot): Handle => {
    const start = fromPivot(point(at))
    const length = Math.hypot(...start)
    return {
      name,
      at: point(at),
      edit: (to) => {
        const [x, y] = fromPivot(to)
        const factor = length > 0 ? (x * start[0] + y * start[1]) / (length * length) : 1
        return both(now, { scale: numbers.scale * factor })
      },
    }
  }
  const side = (name: string, at: Spot, axis: 'across' | 'down'): Handle => {
    const start = fromPivot(point(at))
    const angle = ((numbers.rotation + (axis === 'across' ? 0 : 90)) * Math.PI) / 180
    const along = ([x, y]: Spot) => x * Math.cos(angle) + y * Math.sin(angle)
    return {
      name,
      at: point(at),
      edit: (to) => {
        const factor = Math.abs(along(start)) > 0.01 ? along(fromPivot(to)) / along(start) : 1
        if (axis === 'across') return both(now, { stretch: numbers.stretch * factor })
        if (factor === 0) return null
        return both(now, { scale: numbers.scale * factor, stretch: numbers.stretch / factor })
      },
    }
  }
  const [a, b, c, d] = outline
  const top = middle(a, b)
  const centre = middle(a, c)
  // The handle that turns stands away from the middle of the upper side.
  const away = Math.hypot(top[0] - centre[0], top[1] - centre[1]) || 1
  const arm = Math.max(24, now.shot.frameSize.height / 18)
  const turnAt: Spot = [top[0] + ((top[0] - centre[0]) / away) * arm, top[1] + ((top[1] - centre[1]) / away) * arm]
  const [armX, armY] = fromPivot(point(turnAt))
  const startAngle = Math.atan2(armY, armX)
  return [
    {
      name: 'Pivot',
      at: point(seenPivot),
      edit: (to, keys) => movePivot(now.shot, now.id, now.frame, spotOf(snapped(now, to, keys))),
    },
    {
      name: 'Turn',
      at: point(turnAt),
      edit: (to, { shift }) => {
        const [x, y] = fromPivot(to)
        const by = ((Math.atan2(y, x) - startAngle) * 180) / Math.PI
        const turned = numbers.rotation + ((((by + 180) % 360) + 360) % 360) - 180
        return both(now, { rotation: shift ? Math.round(turned / 15) * 15 : turned })
      },
    },
    scaling('Upper left', a),
    scaling('Upper right', b),
    scaling('Lower right', c),
    scaling('Lower left', d),
    side('Right side', middle(b, c), 'across'),
    side('Left side', middle(d, a), 'across'),
    side('Upper side', top, 'down'),
    side('Lower side', middle(c, d), 'down'),
  ]
}

const spotOf = ({ x, y }: Point): Spot => [x, y]

/** Each corner is pulled by itself. */
export function cornerHandles(now: PlacedNow): Handle[] {
  const outline = outlineOf(now)
  const { shot, id, placing, frame } = now
  // What leads from its own picture, before the corners, to the frame.
  const unpinned = unpinnedBack(now)
  if (outline.length < 4 || !unpinned) return []
  return cornerNames.map((name, i) => ({
    name: ['Upper left corner', 'Upper right corner', 'Lower right corner', 'Lower left corner'][i],
    at: point(outline[i]),
    edit: (to, keys) => {
      const { x, y } = snapped(now, to, keys)
      const place = throughMatrix(unpinned, x, y)
      const [cx, cy] = cornersOf(placing.box)[i]
      return place && both({ shot, id, placing, frame }, { [`${name}X`]: place[0] - cx, [`${name}Y`]: place[1] - cy })
    },
  }))
}

function unpinnedBack({ shot, id, placing, frame }: PlacedNow) {
  const flat: Placing = {
    ...placing,
    parameters: {
      ...placing.parameters,
      ...Object.fromEntries(
        cornerNames.flatMap((name) => [
          [`${name}X`, [0]],
          [`${name}Y`, [0]],
        ]),
      ),
    },
  }
  const element = find(shot.elements, id)
  if (!element) return null
  const elements = { byId: { ...shot.elements.byId, [id]: { ...element, placing: flat } } }
  return inverseOf(placedMatrix({ ...shot, elements }, id, frame))
}

/** Lines to which a place is drawn: the frame's edges and middle, pivots and corners of what else is placed, kept places. */
function lines({ shot, id, frame }: PlacedNow): { readonly xs: readonly number[]; readonly ys: readonly number[] } {
  const { width, height } = shot.frameSize
  const others = allOf(shot.elements).flatMap((element) => {
    const now = element.id === id ? null : placedNow(shot, element.id, frame)
    if (!now) return []
    const numbers = placementAt(now.placing, frame)
    const pivot = throughMatrix(
      carriedMatrix(shot, element.id, frame),
      numbers.x + numbers.pivotX,
      numbers.y + numbers.pivotY,
    )
    return [...outlineOf(now), ...(pivot ? [pivot] : [])]
  })
  const kept = inOrder(shot.samples).map(({ x, y, width: w, height: h }): Spot => [x + w / 2, y + h / 2])
  return {
    xs: [0, width / 2, width, ...[...others, ...kept].map(([x]) => x)],
    ys: [0, height / 2, height, ...[...others, ...kept].map(([, y]) => y)],
  }
}

/** The nearest of the lines within reach, as a shift. */
function shiftTo(values: readonly number[], targets: readonly number[], reach: number): number {
  const shifts = values.flatMap((value) => targets.map((target) => target - value))
  const near = shifts.filter((shift) => Math.abs(shift) <= reach).sort((a, b) => Math.abs(a) - Math.abs(b))
  return near[0] ?? 0
}

function snapped(now: PlacedNow, to: Point, { control, reach }: HandleKeys): Point {
  if (control) return to
  const { xs, ys } = lines(now)
  return { x: to.x + shiftTo([to.x], xs, reach), y: to.y + shiftTo([to.y], ys, reach) }
}

/** Moved by so much of the frame; with Shift along one axis, and drawn to lines unless Ctrl is held. */
export function movedBy(now: PlacedNow, by: Point, { shift, control, reach }: HandleKeys): Change | null {
  const own = toOwn(now)
  if (!own) return null
  const locked = !shift ? by : Math.abs(by.x) >= Math.abs(by.y) ? { x: by.x, y: 0 } : { x: 0, y: by.y }
  let { x, y } = locked
  if (!control) {
    const { xs, ys } = lines(now)
    const numbers = placementAt(now.placing, now.frame)
    const pivot = throughMatrix(
      carriedMatrix(now.shot, now.id, now.frame),
      numbers.x + numbers.pivotX,
      numbers.y + numbers.pivotY,
    )
    const own = [...outlineOf(now), ...(pivot ? [pivot] : [])]
    if (!shift || x !== 0)
      x += shiftTo(
        own.map((spot) => spot[0] + x),
        xs,
        reach,
      )
    if (!shift || y !== 0)
      y += shiftTo(
        own.map((spot) => spot[1] + y),
        ys,
        reach,
      )
  }
  const [from, to] = [own({ x: 0, y: 0 }), own({ x, y })]
  const numbers = placementAt(now.placing, now.frame)
  return both(now, { x: numbers.x + to[0] - from[0], y: numbers.y + to[1] - from[1] })
}

const tool = (words: string): Tool => ({
  words,
  cursor: 'move',
  down({ point: from }, { shot, view, selected, placement }) {
    const now = placedNow(shot, selected, view.playing.frame)
    const reach = snapReach / placement.zoom
    const edit = (at: { readonly point: Point; readonly shift: boolean; readonly control: boolean }) =>
      now && movedBy(now, { x: at.point.x - from.x, y: at.point.y - from.y }, { ...at, reach })
    return {
      move: () => null,
      draft: edit,
      up: (at, moved) => {
        if (!moved) return at.pixel && { pick: at.pixel }
        const change = edit(at)
        return change && shotActions.edited(change)
      },
    }
  },
})

/** Screen pixels within which a place is drawn to a line. */
export const snapReach = 6

export const placeTool = tool('Move, turn and scale what is selected')
export const cornersTool = tool('Pull the corners of what is selected')
