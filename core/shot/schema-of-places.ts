/** Shapes of what lies on the plate: drawn lines, tracks, and what holds things to tracks. */

import { array, boolean, lazy, string, type Schema } from 'yup'
import { motionModels, pointsNeeded, type MotionModel } from '../motion/fitted-motion'
import { patternModels, regionWays } from '../track/pattern-models'
import { mostFrames, mostPixelsASide, mostStrokePoints } from './limits'
import { byFrame, finite, frameNumber, id, ifThere, integer, rank, shape, text } from './schema-parts'

const coordinate = () => finite().min(-mostPixelsASide).max(mostPixelsASide)
const stroke = () => ({
  id: id(),
  points: array(coordinate())
    .strict()
    .min(4)
    .max(2 * mostStrokePoints)
    .test('pairs', '${path} must hold pairs of numbers', (value) => (value?.length ?? 0) % 2 === 0)
    .required(),
})
export const strokeSchema = shape(stroke()).required()
export const lineSchema = shape({
  ...stroke(),
  frame: frameNumber(),
  source: id().notRequired(),
}).required()

export const pinSchema = () =>
  shape({
    tracks: array(id()).strict().min(1).max(200).required(),
    frame: frameNumber(),
    by: string()
      .oneOf([...motionModels])
      .required(),
    beyond: string().oneOf(['gone', 'faded']),
    fade: ifThere(finite().min(1).max(1000)),
    smooth: ifThere(finite().min(1).max(1000)),
  }).test(
    'enough',
    '${path} has fewer tracks than it takes',
    (value: { by?: string; tracks?: readonly unknown[] } | null | undefined) =>
      !value || (value.tracks?.length ?? 0) >= (pointsNeeded[value.by as MotionModel] ?? 0),
  )

export const trackRadius = () => integer().min(3).max(60)
export const trackSearch = () => integer().min(1).max(120)
export const patternModel = () =>
  string()
    .oneOf([...patternModels])
    .required()
const yes = () => boolean().strict().oneOf([true]).required()
export const trackPointSchema = lazy((value: { byHand?: unknown; solved?: unknown } | undefined) =>
  shape({
    ...{ x: coordinate(), y: coordinate() },
    ...(value?.byHand !== undefined
      ? { byHand: yes() }
      : value?.solved !== undefined
        ? { solved: yes() }
        : { across: finite().min(0), down: finite().min(0), likeness: finite().min(-1).max(1) }),
  }).required(),
) as unknown as Schema
export const lostWhy = () => string().strict().min(1).max(300).required()
export const planeShapeSchema = () =>
  shape({
    ratio: finite().min(0.01).max(100).optional(),
    height: finite().min(0.001).max(100_000).optional(),
    squares: integer().min(1).max(100).optional(),
    turn: finite().min(-180).max(180).optional(),
  })
export const trackSchema = shape({
  ...{ id: id(), name: text(), rank: rank() },
  ...{ model: patternModel(), radius: trackRadius(), search: trackSearch() },
  unsized: boolean().strict().oneOf([true]).optional().default(undefined),
  points: byFrame(trackPointSchema),
  lost: ifThere(byFrame(lostWhy())),
  region: shape({
    id: id(),
    corner: integer().min(0).max(3),
    model: string()
      .oneOf([...regionWays])
      .required(),
    by: string().oneOf(['points']).optional(),
    leavesOut: id().optional(),
    plane: planeShapeSchema().optional().default(undefined),
  })
    .optional()
    .default(undefined),
})
  .test(
    'some',
    '${path} must have a place on a frame, and no more than there can be frames',
    (value: { points?: object } | undefined) => {
      const count = Object.keys(value?.points ?? {}).length
      return value?.points === undefined || (count > 0 && count <= mostFrames)
    },
  )
  .required()
