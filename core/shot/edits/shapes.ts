/** Edits of the shapes of drawn mattes: an edit names the shape, the frame and the points, so that two people can move others. */

import type { Draft } from 'immer'
import { array, boolean, number, object, string } from 'yup'
import { withPoint, type PointPlace } from '../../outline'
import { find, inOrder, rankBetween } from '../find'
import { ImpossibleEditError } from '../impossible-edit'
import { limitsOfShape, mostShapePoints, mostShapes } from '../limits'
import { framesOfShape, outlineAt, placesOf } from '../mattes'
import {
  id,
  ifThere,
  matteWay,
  orNothing,
  placeSchema,
  profileSchema,
  shapeKeyframes,
  shapeSchema,
  text,
} from '../schema'
import { byName, frameNumber, orNull, rank } from '../schema-parts'
import type { MatteWay, Places, Shape, ShapePoint, Shot } from '../types'
import { drawnMatteIn, editKind, put, shapeIn, take } from './kind'
import { matteName } from './mattes'

export interface AddShape {
  readonly kind: 'add-shape'
  readonly matte: string
  readonly shape: Shape
}
/** null: as it is when nothing is said */
export interface SetShape {
  readonly kind: 'set-shape'
  readonly matte: string
  readonly shape: string
  readonly changes: {
    readonly name?: string
    readonly rank?: string
    readonly how?: MatteWay
    readonly profile?: 'linear' | null
    readonly from?: number | null
    readonly to?: number | null
    /** which of its points are corners */
    readonly corners?: Readonly<Record<string, boolean>>
  }
}
/**
 * Where points lie on some frames, by frame and point. A frame without a keyframe gets one: its other points lie where they are
 * then. null takes the keyframe away.
 */
export interface SetShapePlaces {
  readonly kind: 'set-shape-places'
  readonly matte: string
  readonly shape: string
  readonly frames: Readonly<Record<string, Readonly<Record<string, PointPlace>> | null>>
  /** what was done, for the history; absent: moved */
  readonly label?: string
}
/** A point more on the line after another one: on every keyframe the line stays where it is. */
export interface AddShapePoint {
  readonly kind: 'add-shape-point'
  readonly matte: string
  readonly shape: string
  readonly point: string
  readonly after: string
  /** where on the line to the next point, between 0 and 1 */
  readonly share: number
}
export interface RemoveShapePoints {
  readonly kind: 'remove-shape-points'
  readonly matte: string
  readonly shape: string
  readonly points: readonly string[]
}
export interface RemoveShape {
  readonly kind: 'remove-shape'
  readonly matte: string
  readonly shape: string
}

const fields = (shape: Parameters<typeof object>[0]) => object(shape).noUnknown().strict().required()
const named = () => ({ kind: string().required(), matte: id(), shape: id() })

function shapeName(shot: Shot, matte: string, shape: string): string {
  const found = find(shot.mattes, matte)
  const name = found?.kind === 'drawn' ? (find(found.shapes, shape)?.name ?? shape) : shape
  return `${name} of ${matteName(shot, matte)}`
}

/** Interpolation remembers what it saw by identity, which a draft does not keep. */
const plain = (shape: Draft<Shape>): Shape => JSON.parse(JSON.stringify(shape)) as Shape

function checkShape(shape: Draft<Shape>): void {
  const [fault] = limitsOfShape(shape as Shape)
  if (fault !== undefined) throw new ImpossibleEditError(`${fault}.`)
}

export const addShape = editKind<AddShape>({
  kind: 'add-shape',
  schema: fields({ kind: string().required(), matte: id(), shape: shapeSchema }),
  apply(draft, { matte: wanted, shape }) {
    const matte = drawnMatteIn(draft, wanted)
    if (Object.keys(matte.shapes.byId).length >= mostShapes)
      throw new ImpossibleEditError(`A matte has at most ${mostShapes} shapes. Draw it in another matte.`)
    put(matte.shapes, shape, 'shape')
    checkShape(shapeIn(draft, wanted, shape.id))
  },
  sentence: (shot, { matte, shape }) => `Draw ${shape.name} of ${matteName(shot, matte)}`,
})

export const setShape = editKind<SetShape>({
  kind: 'set-shape',
  schema: fields({
    ...named(),
    changes: fields({
      name: text().notRequired(),
      rank: rank().notRequired(),
      how: matteWay().notRequired(),
      profile: orNothing(profileSchema()),
      from: orNothing(frameNumber()),
      to: orNothing(frameNumber()),
      corners: ifThere(byName(boolean().strict().required())),
    }),
  }),
  apply(draft, { matte, shape: wanted, changes: { corners = {}, ...changes } }) {
    const shape = shapeIn(draft, matte, wanted)
    for (const [field, value] of Object.entries(changes))
      if (value === null) delete shape[field as 'from']
      else Object.assign(shape, { [field]: value })
    for (const [point, corner] of Object.entries(corners)) {
      const found = find(shape.points as Shape['points'], point) as Draft<ShapePoint> | undefined
      if (!found) throw new ImpossibleEditError(`A point of ${shape.name} is gone.`)
      if (corner) found.corner = true
      else delete found.corner
    }
    checkShape(shape)
  },
  sentence(shot, { matte, shape, changes }) {
    const name = shapeName(shot, matte, shape)
    if (changes.name !== undefined) return `Rename ${name} to ${changes.name}`
    if (changes.how !== undefined)
      return `${name} is ${{ add: 'added', subtract: 'subtracted', intersect: 'intersected' }[changes.how]}`
    if (changes.corners) return `Corners of ${name}`
    return 'from' in changes || 'to' in changes ? `Frames of ${name}` : `Settings of ${name}`
  },
})

export const setShapePlaces = editKind<SetShapePlaces>({
  kind: 'set-shape-places',
  schema: fields({
    ...named(),
    frames: shapeKeyframes(orNull(byName(placeSchema))),
    label: string().strict().trim().min(1).max(100).optional(),
  }),
  apply(draft, { matte, shape: wanted, frames }) {
    const shape = shapeIn(draft, matte, wanted)
    const before = plain(shape)
    const keyframes = shape.keyframes as Record<string, Record<string, PointPlace>>
    for (const [frame, places] of Object.entries(frames)) {
      if (places === null) {
        delete keyframes[frame]
        continue
      }
      if (!Object.hasOwn(keyframes, frame))
        keyframes[frame] = { ...placesOf(before.points, outlineAt(before, Number(frame))) }
      for (const [point, place] of Object.entries(places)) {
        if (!Object.hasOwn(keyframes[frame], point)) throw new ImpossibleEditError(`A point of ${shape.name} is gone.`)
        keyframes[frame][point] = place
      }
    }
    if (Object.keys(keyframes).length === 0)
      throw new ImpossibleEditError(`${shape.name} would be nowhere. Remove the shape instead.`)
    checkShape(shape)
  },
  sentence(shot, { matte, shape, frames, label }) {
    const name = shapeName(shot, matte, shape)
    if (label !== undefined) return `${label} ${name}`
    const all = Object.entries(frames)
    const gone = all.every(([, places]) => places === null)
    const where = all.length === 1 ? `on frame ${all[0][0]}` : `on ${all.length} frames`
    return gone ? `Take keyframe of ${name} away ${where}` : `Move ${name} ${where}`
  },
})

export const addShapePoint = editKind<AddShapePoint>({
  kind: 'add-shape-point',
  schema: fields({
    ...named(),
    ...{ point: id(), after: id() },
    share: number().strict().moreThan(0).lessThan(1).required(),
  }),
  apply(draft, { matte, shape: wanted, point, after, share }) {
    const shape = shapeIn(draft, matte, wanted)
    const before = plain(shape)
    const order = inOrder(before.points)
    const at = order.findIndex((one) => one.id === after)
    if (at < 0) throw new ImpossibleEditError(`A point of ${shape.name} is gone.`)
    if (order.length >= mostShapePoints)
      throw new ImpossibleEditError(`A shape has at most ${mostShapePoints} points. Draw the rest as another shape.`)
    const more: ShapePoint = { id: point, rank: rankBetween(order[at].rank, order[at + 1]?.rank ?? null) }
    put(shape.points, more, 'point')
    const points = { byId: { ...before.points.byId, [point]: more } }
    for (const frame of framesOfShape(before)) {
      const outline = withPoint(outlineAt(before, frame), at, share)
      Object.assign(shape.keyframes as Record<string, Places>, { [frame]: placesOf(points, outline) })
    }
  },
  sentence: (shot, { matte, shape }) => `A point more on ${shapeName(shot, matte, shape)}`,
})

export const removeShapePoints = editKind<RemoveShapePoints>({
  kind: 'remove-shape-points',
  schema: fields({ ...named(), points: array(id()).strict().min(1).max(mostShapePoints).required() }),
  apply(draft, { matte, shape: wanted, points }) {
    const shape = shapeIn(draft, matte, wanted)
    for (const point of points) {
      if (!find(shape.points as Shape['points'], point))
        throw new ImpossibleEditError(`A point of ${shape.name} is gone.`)
      take(shape.points, point)
      for (const places of Object.values(shape.keyframes as Record<string, Record<string, PointPlace>>))
        delete places[point]
    }
    if (Object.keys(shape.points.byId).length < 3)
      throw new ImpossibleEditError(`${shape.name} would have fewer than three points. Remove the shape instead.`)
  },
  sentence: (shot, { matte, shape, points }) =>
    `${points.length === 1 ? 'A point' : `${points.length} points`} fewer on ${shapeName(shot, matte, shape)}`,
})

export const removeShape = editKind<RemoveShape>({
  kind: 'remove-shape',
  schema: fields(named()),
  apply(draft, { matte, shape }) {
    shapeIn(draft, matte, shape)
    take(drawnMatteIn(draft, matte).shapes, shape)
  },
  sentence: (shot, { matte, shape }) => `Remove ${shapeName(shot, matte, shape)}`,
})
