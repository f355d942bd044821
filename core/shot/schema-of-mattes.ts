/** Shapes of mattes, and of what they are drawn with. */

import { array, boolean, lazy, mixed, object, string, type Schema } from 'yup'
import { matteDescriptions, shapeDescription } from '../set/owners'
import {
  mostBrushRadius,
  mostMatteParts,
  mostObjects,
  mostPixelsASide,
  mostShapePoints,
  mostShapes,
  mostStrokePoints,
} from './limits'
import { matteWays, strokeWays, type MatteKind } from './matte-types'
import { choicesOf, keyframeName, parametersOf } from './schema-of-parameters'
import { pinSchema } from './schema-of-places'
import { byName, finite, frameNumber, id, rank, record, shape, table, text } from './schema-parts'

const coordinate = () =>
  finite()
    .min(-4 * mostPixelsASide)
    .max(4 * mostPixelsASide)
const handle = () => array(coordinate()).strict().length(2).required()
export const matteWay = () =>
  string()
    .oneOf([...matteWays])
    .required()

/** Where a point of a shape lies. */
export const placeSchema = shape({
  ...{ x: coordinate(), y: coordinate(), before: handle(), after: handle() },
  feather: finite().min(-1000).max(1000).optional(),
}).required()
/** Keyframes of a shape by frame. */
export const shapeKeyframes = (one: Schema): Schema => record(one, keyframeName)

export const shapePointSchema = shape({ id: id(), rank: rank(), corner: boolean().strict().oneOf([true]) }).required()
export const profileSchema = () => string().oneOf(['linear'])
export const inverted = () => boolean().strict().oneOf([true])

const count = (value: unknown) => Object.keys((value ?? {}) as object).length

export const shapeSchema = shape({
  ...{ id: id(), name: text(), rank: rank(), how: matteWay() },
  points: table(shapePointSchema),
  keyframes: shapeKeyframes(byName(placeSchema)),
  parameters: parametersOf(shapeDescription),
  profile: profileSchema(),
  ...{ from: frameNumber().optional(), to: frameNumber().optional() },
})
  .test('points', `\${path} must have from 3 to ${mostShapePoints} points`, (value: { points?: { byId?: object } }) => {
    const points = count(value?.points?.byId)
    return !value?.points || (points >= 3 && points <= mostShapePoints)
  })
  .test(
    'keyframes',
    '${path} must have a keyframe, and each must hold a place for every point and for no other',
    (value: { points?: { byId?: object }; keyframes?: Readonly<Record<string, object>> }) => {
      const { points, keyframes } = value ?? {}
      if (!points?.byId || !keyframes) return true
      const ids = Object.keys(points.byId)
      const all = Object.values(keyframes)
      return (
        all.length > 0 &&
        all.every((places) => count(places) === ids.length && ids.every((one) => Object.hasOwn(places ?? {}, one)))
      )
    },
  )
  .required()

export const paintStrokeSchema = shape({
  ...{ id: id(), rank: rank() },
  points: array(coordinate())
    .strict()
    .min(2)
    .max(2 * mostStrokePoints)
    .test('pairs', '${path} must hold pairs of numbers', (value) => (value?.length ?? 0) % 2 === 0)
    .required(),
  radius: finite().min(0.25).max(mostBrushRadius),
  hardness: finite().min(0).max(1),
  how: string()
    .oneOf([...strokeWays])
    .required(),
  frame: frameNumber().optional(),
}).required()

export const partSchema = shape({
  ...{ id: id(), rank: rank(), matte: id(), how: matteWay(), inverted: inverted() },
}).required()

const channelFields = () => ({
  source: id(),
  part: string().strict().nullable().defined(),
  channel: string().strict().nullable().defined(),
})
/** Which channel of which part of a source. */
export const channelSchema = () => shape(channelFields()).required()

const idPassFields = () => ({
  layers: array(
    shape({
      part: string().strict().nullable().defined(),
      channels: array(string().strict().max(255).required()).min(1).max(4).required(),
    }).required(),
  )
    .min(1)
    .max(16)
    .required(),
  ranked: boolean().strict().required(),
})
/** Where a pass of ids lies. */
export const idPassSchema = () => shape(idPassFields()).required()

/** Ids by names. */
export const objectIds = () =>
  mixed()
    .defined()
    .test(
      'ids',
      `\${path} must be at most ${mostObjects} whole numbers by names`,
      (value) =>
        typeof value === 'object' &&
        value !== null &&
        Object.keys(value).length <= mostObjects &&
        Object.entries(value).every(([name, one]) => name.length <= 200 && Number.isInteger(one)),
    )

/** Tracks, or an element. */
export const mattePinSchema = (): Schema =>
  lazy((value: { element?: unknown } | null | undefined) =>
    value === undefined || value === null
      ? mixed().nullable()
      : 'element' in value
        ? shape({ element: id(), frame: frameNumber() }).required()
        : pinSchema(),
  ) as unknown as Schema

const ofKind: Readonly<Record<MatteKind, () => Parameters<typeof object>[0]>> = {
  drawn: () => ({
    shapes: table(shapeSchema).test(
      'shapes',
      `\${path} holds more than ${mostShapes} shapes`,
      (value: { byId?: object }) => count(value?.byId) <= mostShapes,
    ),
    pin: mattePinSchema(),
    shutter: string().oneOf(['closed']),
  }),
  painted: () => ({ strokes: table(paintStrokeSchema), pin: mattePinSchema() }),
  channel: () => ({ ...channelFields(), lies: id().notRequired() }),
  depth: () => ({ ...channelFields(), lies: id().notRequired() }),
  objects: () => ({ source: id(), ...idPassFields(), objects: objectIds(), lies: id().notRequired() }),
  band: () => ({ matte: id() }),
  alpha: () => ({ element: id() }),
  keyed: () => ({ element: id(), choices: choicesOf(matteDescriptions.keyed) }),
  combined: () => ({
    parts: table(partSchema).test(
      'parts',
      `\${path} holds more than ${mostMatteParts} mattes`,
      (value: { byId?: object }) => count(value?.byId) <= mostMatteParts,
    ),
  }),
}

export const matteSchema = lazy((value: { kind?: string } | undefined) => {
  const kinds = Object.keys(ofKind) as MatteKind[]
  const kind = kinds.find((known) => known === value?.kind)
  if (!kind) return shape({ kind: string().oneOf(kinds).required() }).required()
  return shape({
    ...{ id: id(), name: text(), rank: rank(), kind: string().required(), inverted: inverted() },
    parameters: parametersOf(matteDescriptions[kind]),
    ...ofKind[kind](),
  }).required()
}) as unknown as Schema

/** Nothing, of a change that takes something away. */
export const orNothing = (one: Schema): Schema =>
  lazy((value: unknown) =>
    value === null ? mixed().nullable() : value === undefined ? mixed() : one,
  ) as unknown as Schema
