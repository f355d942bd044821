/** Points of a shape moved, alone or together, on one keyframe, on all, or from one on; in the picture as it is seen on a frame. */

import type { Matrix3 } from '../graph/steps'
import { throughMatrix } from '../motion/mapping'
import { moved, movedBack } from '../motion/plate-motion'
import type { Spot } from '../motion/placing'
import { crossesItself, type Handle, type Outline, type PointPlace } from '../outline'
import { inOrder } from './find'
import { framesOfShape, isThere, matteMotion, newDrawnMatte, newShape, outlineAt, outlineAlong } from './mattes'
import type { AddMatte } from './edits/mattes'
import type { AddShape, SetShape, SetShapePlaces } from './edits/shapes'
import type { Together } from './edits'
import type { DrawnMatte, Shape } from './matte-types'
import type { Shot } from './types'

/** A shape on the frame that is looked at. */
export interface ShapeNow {
  readonly shot: Shot
  readonly matte: DrawnMatte
  readonly shape: Shape
  readonly frame: number
}

/** What an edit of points applies to: the keyframe of this frame, which is made where there is none; all; or those from it on. */
export const keyframeChoices = ['this', 'all', 'on'] as const
export type KeyframeChoice = (typeof keyframeChoices)[number]

/** The outline as it is seen in the frame. */
export const seenOutline = ({ shot, matte, shape, frame }: ShapeNow): Outline =>
  outlineAlong(matteMotion(shot, matte, frame), outlineAt(shape, frame))

/** What is odd about a shape on the frame that is looked at, as sentences; it is drawn all the same. */
export function oddities(now: ShapeNow): readonly string[] {
  const { shape, frame, shot } = now
  const outline = seenOutline(now)
  const { width, height } = shot.frameSize
  const [xs, ys] = [outline.map(({ x }) => x), outline.map(({ y }) => y)]
  const outside = Math.max(...xs) < 0 || Math.max(...ys) < 0 || Math.min(...xs) > width || Math.min(...ys) > height
  return [
    ...(outside ? [`All of ${shape.name} lies outside the frame on ${frame}. Move it in, or let it end before.`] : []),
    ...(crossesItself(outline)
      ? [`${shape.name} crosses itself on ${frame}: all that it goes round is covered. Move its points apart.`]
      : []),
    ...(isThere(shape, frame) ? [] : [`${shape.name} is not there on ${frame}.`]),
  ]
}

/** From the frame into the space of the matte; null where its pin flattens everything. */
export function toMatte({
  shot,
  matte,
  frame,
}: Pick<ShapeNow, 'shot' | 'frame'> & { readonly matte: Pick<DrawnMatte, 'pin'> }): ((spot: Spot) => Spot) | null {
  const motion = matteMotion(shot, matte, frame)
  if (!motion) return (spot) => spot
  const back = movedBack(motion)
  return back && (([x, y]) => moved(back, x, y) ?? [x, y])
}

const hasLength = ([dx, dy]: Handle) => Math.hypot(dx, dy) > 1e-3
const fine = (value: number) => Math.round(value * 1000) / 1000
const fineHandle = ([x, y]: Handle): Handle => [fine(x), fine(y)]
const finePlace = ({ x, y, before, after, feather }: PointPlace): PointPlace => ({
  ...{ x: fine(x), y: fine(y), before: fineHandle(before), after: fineHandle(after) },
  ...(feather === undefined || feather === 0 ? {} : { feather: fine(feather) }),
})

/** @param change of one point's place, in the space of the matte; the same on each keyframe that it applies to */
export function changedPoints(
  { matte, shape, frame }: ShapeNow,
  points: readonly string[],
  keyframes: KeyframeChoice,
  change: (place: PointPlace, id: string) => PointPlace,
  label?: string,
): SetShapePlaces {
  const known = framesOfShape(shape)
  const chosen = keyframes === 'all' ? known : keyframes === 'on' ? known.filter((one) => one > frame) : []
  const frames = keyframes === 'all' ? chosen : [frame, ...chosen]
  const order = inOrder(shape.points)
  const places = (at: number) => {
    const outline = outlineAt(shape, at)
    return Object.fromEntries(
      order.flatMap(({ id }, i) => (points.includes(id) ? [[id, finePlace(change(outline[i], id))] as const] : [])),
    )
  }
  return {
    kind: 'set-shape-places',
    matte: matte.id,
    shape: shape.id,
    frames: Object.fromEntries(frames.map((at) => [at, places(at)])),
    ...(label === undefined ? {} : { label }),
  }
}

/**
 * How much of a move other points take part in: all where they are chosen, none from so many pixels away on, gently between.
 *
 * @param reach pixels of the frame from the nearest chosen point; 0: chosen points alone
 * @returns shares of the points that are moved at all
 */
export function sharesOfMove(now: ShapeNow, points: readonly string[], reach: number): ReadonlyMap<string, number> {
  if (!(reach > 0)) return new Map(points.map((id) => [id, 1]))
  const order = inOrder(now.shape.points)
  const outline = seenOutline(now)
  const chosen = outline.filter((_, i) => points.includes(order[i].id))
  const shares = new Map<string, number>()
  outline.forEach(({ x, y }, i) => {
    const away = Math.min(...chosen.map((one) => Math.hypot(one.x - x, one.y - y)))
    const t = Math.min(1, away / reach)
    if (t < 1) shares.set(order[i].id, 1 - t * t * (3 - 2 * t))
  })
  return shares
}

const between = (a: number, b: number, share: number) => a + (b - a) * share

/** Points moved by so much of the frame. @param reach others go along, the less the farther away: {@link sharesOfMove} */
export function movedPoints(
  now: ShapeNow,
  points: readonly string[],
  from: Spot,
  to: Spot,
  keyframes: KeyframeChoice,
  reach = 0,
): SetShapePlaces | null {
  const own = toMatte(now)
  if (!own) return null
  const [a, b] = [own(from), own(to)]
  const shares = sharesOfMove(now, points, reach)
  return changedPoints(now, [...shares.keys()], keyframes, (place, id) => {
    const share = shares.get(id) ?? 0
    return { ...place, x: place.x + (b[0] - a[0]) * share, y: place.y + (b[1] - a[1]) * share }
  })
}

/** All points where an outline has them in the frame, on this frame alone. */
export function placedAsSeen(now: ShapeNow, seen: Outline, label: string): SetShapePlaces | null {
  const out = matteMotion(now.shot, now.matte, now.frame)
  const back = out && movedBack(out)
  if (out && !back) return null
  const own = outlineAlong(back, seen)
  const order = inOrder(now.shape.points)
  const at = new Map(order.map(({ id }, i) => [id, own[i]]))
  return changedPoints(now, [...at.keys()], 'this', (place, id) => ({ ...place, ...at.get(id) }), label)
}

/** Points led through a matrix of the frame as it is seen: turned, scaled. @param reach others go along, as for {@link movedPoints} */
export function ledPoints(
  now: ShapeNow,
  points: readonly string[],
  matrix: Matrix3,
  keyframes: KeyframeChoice,
  reach = 0,
): SetShapePlaces | null {
  const own = toMatte(now)
  const out = matteMotion(now.shot, now.matte, now.frame)
  if (!own) return null
  const led = ([x, y]: Spot): Spot => {
    const [fx, fy] = moved(out, x, y) ?? [x, y]
    return own(throughMatrix(matrix, fx, fy) ?? [fx, fy])
  }
  const shares = sharesOfMove(now, points, reach)
  return changedPoints(now, [...shares.keys()], keyframes, (place, id) => {
    const share = shares.get(id) ?? 0
    const to = led([place.x, place.y])
    const [x, y] = [between(place.x, to[0], share), between(place.y, to[1], share)]
    const handle = ([dx, dy]: Handle): Handle => {
      const [hx, hy] = led([place.x + dx, place.y + dy])
      return [between(dx, hx - to[0], share), between(dy, hy - to[1], share)]
    }
    return { ...place, x, y, before: handle(place.before), after: handle(place.after) }
  })
}

/**
 * The end of a handle moved to a place of the frame. Where the point is no corner the other handle stays in line with it.
 *
 * @param which side of the point
 */
export function movedHandle(
  now: ShapeNow,
  point: string,
  which: 'before' | 'after',
  to: Spot,
  keyframes: KeyframeChoice,
): SetShapePlaces | null {
  const own = toMatte(now)
  if (!own) return null
  const order = inOrder(now.shape.points)
  const at = order.findIndex(({ id }) => id === point)
  if (at < 0) return null
  const here = outlineAt(now.shape, now.frame)[at]
  const [x, y] = own(to)
  const by: Handle = [x - here.x - here[which][0], y - here.y - here[which][1]]
  const other = which === 'before' ? 'after' : 'before'
  return changedPoints(now, [point], keyframes, (place) => {
    const moved: Handle = [place[which][0] + by[0], place[which][1] + by[1]]
    const length = Math.hypot(...moved)
    if (order[at].corner || !(length > 1e-6)) return { ...place, [which]: moved }
    const rest = Math.hypot(...place[other]) / length
    return { ...place, [which]: moved, [other]: [-moved[0] * rest, -moved[1] * rest] }
  })
}

/** How a line goes through a point. */
export type PointWay = 'corner' | 'smooth' | 'broken'
const wayWords: Readonly<Record<PointWay, string>> = {
  corner: 'Corners',
  smooth: 'Smooth points',
  broken: 'Broken points',
}

/**
 * Points become corners, whose handles are gone; smooth, with handles along the line between their neighbours; or broken, with handles
 * that are moved by themselves: those they have, or where they have none those of a smooth point.
 */
export function pointsBecome(now: ShapeNow, points: readonly string[], way: PointWay): Together {
  const order = inOrder(now.shape.points)
  const smooth = (outline: Outline, at: number): Pick<PointPlace, 'before' | 'after'> => {
    const [a, b] = [outline[(at + outline.length - 1) % outline.length], outline[(at + 1) % outline.length]]
    const { x, y } = outline[at]
    const way = Math.hypot(b.x - a.x, b.y - a.y) || 1
    const [dx, dy] = [(b.x - a.x) / way, (b.y - a.y) / way]
    const [back, on] = [Math.hypot(x - a.x, y - a.y) / 3, Math.hypot(b.x - x, b.y - y) / 3]
    return { before: [-dx * back, -dy * back], after: [dx * on, dy * on] }
  }
  const handlesOf = (outline: Outline, at: number): Pick<PointPlace, 'before' | 'after'> => {
    if (way === 'corner') return { before: [0, 0], after: [0, 0] }
    const own = smooth(outline, at)
    if (way === 'smooth') return own
    const { before, after } = outline[at]
    return { before: hasLength(before) ? before : own.before, after: hasLength(after) ? after : own.after }
  }
  const frames = Object.fromEntries(
    framesOfShape(now.shape).map((frame) => {
      const outline = outlineAt(now.shape, frame)
      const places = order.flatMap(({ id }, i) => {
        if (!points.includes(id)) return []
        return [[id, finePlace({ ...outline[i], ...handlesOf(outline, i) })] as const]
      })
      return [frame, Object.fromEntries(places)]
    }),
  )
  const named = { matte: now.matte.id, shape: now.shape.id }
  const set: SetShape = {
    kind: 'set-shape',
    ...named,
    changes: { corners: Object.fromEntries(points.map((id) => [id, way !== 'smooth'])) },
  }
  return {
    kind: 'together',
    changes: [set, { kind: 'set-shape-places', ...named, frames }],
    label: `${wayWords[way]} of ${now.shape.name}`,
  }
}

/** An outline through places that were pressed one after the other: smooth but for its corners. */
export function throughSpots(spots: readonly { readonly spot: Spot; readonly corner: boolean }[]): Outline {
  const many = spots.length
  return spots.map(({ spot: [x, y], corner }, i): PointPlace => {
    if (corner) return { x, y, before: [0, 0], after: [0, 0] }
    const [ax, ay] = spots[(i + many - 1) % many].spot
    const [bx, by] = spots[(i + 1) % many].spot
    const way = Math.hypot(bx - ax, by - ay) || 1
    const [dx, dy] = [(bx - ax) / way, (by - ay) / way]
    const [back, on] = [Math.hypot(x - ax, y - ay) / 3, Math.hypot(bx - x, by - y) / 3]
    return { x, y, before: [-dx * back, -dy * back], after: [dx * on, dy * on] }
  })
}

/**
 * A new shape of a matte, or of a new matte where there is none.
 *
 * @param outline as it is seen on the frame
 * @returns the edit, with the ids of the matte and the shape; null where the matte's pin flattens everything
 */
export function drawnShape(
  shot: Shot,
  matte: DrawnMatte | null,
  frame: number,
  outline: Outline,
  corners: readonly boolean[],
): { readonly edit: AddShape | Together; readonly matte: string; readonly shape: string } | null {
  const of = matte ?? newDrawnMatte(shot)
  const motion = matteMotion(shot, of, frame)
  const back = motion && movedBack(motion)
  if (motion && !back) return null
  const shape = newShape(of, frame, outlineAlong(back, outline).map(finePlace), corners)
  const addShape: AddShape = { kind: 'add-shape', matte: of.id, shape }
  if (matte) return { edit: addShape, matte: of.id, shape: shape.id }
  const addMatte: AddMatte = { kind: 'add-matte', matte: of }
  const edit: Together = { kind: 'together', changes: [addMatte, addShape], label: `Draw matte ${of.name}` }
  return { edit, matte: of.id, shape: shape.id }
}

/** A keyframe with everything where it is. */
export const keyframeHere = (now: ShapeNow): SetShapePlaces =>
  changedPoints(
    now,
    inOrder(now.shape.points).map(({ id }) => id),
    'this',
    (place) => place,
    'Keyframe of',
  )

const placesAt = ({ shape }: ShapeNow, frame: number) =>
  Object.fromEntries(inOrder(shape.points).map(({ id }, i) => [id, finePlace(outlineAt(shape, frame)[i])]))

/** A keyframe here with the outline of another frame, in the space that the matte moves in. */
export const keyframeAsOn = (now: ShapeNow, from: number): SetShapePlaces => ({
  ...{ kind: 'set-shape-places', matte: now.matte.id, shape: now.shape.id },
  frames: { [now.frame]: placesAt(now, from) },
  label: `Keyframe of ${from} on ${now.frame}, outline of`,
})

/**
 * Keyframes slid in time. One that comes to lie where another is takes its place.
 *
 * @param only the keyframe that is slid; null: all
 * @returns null where nothing moves
 */
export function slidKeyframes(now: ShapeNow, only: number | null, by: number): SetShapePlaces | null {
  const known = framesOfShape(now.shape)
  const slid = only === null ? known : known.filter((frame) => frame === only)
  const step = Math.round(by)
  if (step === 0 || slid.length === 0) return null
  const gone = Object.fromEntries(slid.map((frame) => [frame, null] as const))
  const there = Object.fromEntries(slid.map((frame) => [frame + step, placesAt(now, frame)] as const))
  return {
    ...{ kind: 'set-shape-places', matte: now.matte.id, shape: now.shape.id },
    frames: { ...gone, ...there },
    label: `Slide ${only === null ? 'keyframes' : `the keyframe on ${only}`} of`,
  }
}
