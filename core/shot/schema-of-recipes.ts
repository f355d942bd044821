/** Shapes of how a source is made here. */

import { boolean, lazy, mixed, number, string, type Schema } from 'yup'
import { mostRecipeFrames } from './limits'
import { pinSchema } from './schema-of-places'
import { finite, frameNumber, id, shape } from './schema-parts'

const pixels = () => finite().min(0).max(64)

const ofKind = {
  'clean-plate': () =>
    shape({
      ...{ kind: string().required(), source: id(), part: string().strict().nullable().defined() },
      ...{ from: frameNumber(), to: frameNumber() },
      step: number().strict().integer().min(1).max(1000).required(),
      without: string().strict().max(64),
      pin: pinSchema().optional().default(undefined),
      uneven: boolean().strict().oneOf([true]),
    })
      .required()
      .test(
        'frames',
        `\${path} must go from a frame to a later one, and join at most ${mostRecipeFrames} frames`,
        (value: { from?: number; to?: number; step?: number }) => {
          const { from = 0, to = 0, step = 1 } = value ?? {}
          return from <= to && (to - from) / Math.max(1, step) < mostRecipeFrames
        },
      ),
  'soft-matte': () =>
    shape({
      ...{ kind: string().required(), element: id(), matte: id() },
      ...{ inside: pixels(), outside: pixels(), band: string().strict().max(64) },
    }).required(),
  'motion-blur': () =>
    shape({
      ...{ kind: string().required(), source: id(), part: string().strict().nullable().defined() },
      angle: finite().min(1).max(720),
    }).required(),
} as const

/** Nothing where a source came in. */
export const recipeSchema = lazy((value: unknown) => {
  if (value === undefined) return mixed()
  const { kind } = (value ?? {}) as { kind?: unknown }
  const kinds = Object.keys(ofKind) as (keyof typeof ofKind)[]
  const found = kinds.find((known) => known === kind)
  return found ? ofKind[found]() : shape({ kind: string().oneOf(kinds).required() }).required()
}) as unknown as Schema
