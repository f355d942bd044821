/** Shapes of what can be keyed: curves, the parameters of a description, what is chosen by name. */

import { array, lazy, mixed, string, type Schema } from 'yup'
import { beyonds, ways } from '../motion/curve'
import type { Description } from '../treatments'
import { finite, record, shape } from './schema-parts'

/** One keyframe as it is stored. */
export const keyframeSchema = lazy((value: unknown) =>
  value !== null && typeof value === 'object'
    ? shape({
        value: finite(),
        to: string()
          .strict()
          .oneOf([...ways])
          .required(),
        before: finite().notRequired(),
        after: finite().notRequired(),
      }).required()
    : finite(),
) as unknown as Schema

export const keyframeName = (name: string) => (/^-?\d{1,9}$/.test(name) ? null : `has a keyframe at "${name}"`)
export const beyondSchema = () =>
  string()
    .strict()
    .oneOf([...beyonds])

/** Keyframes by their frames. */
export const keyframesSchema = (one: Schema): Schema => record(one, keyframeName)

const curve = lazy((value: unknown) =>
  typeof value === 'number'
    ? finite()
    : shape({ keyframes: keyframesSchema(keyframeSchema), beyond: beyondSchema() })
        .required()
        .test(
          'not empty',
          '${path} needs a number or at least one keyframe',
          (one: { keyframes?: object }) => !one?.keyframes || Object.keys(one.keyframes).length > 0,
        ),
)

export function parametersOf(description: Description): Schema {
  const fields = Object.fromEntries(
    description.parameters.map((parameter) => [parameter.name, array(curve).length(parameter.channels).required()]),
  )
  return shape(fields).required()
}

/** What is chosen by name; nothing where nothing is. */
export function choicesOf({ choices = [] }: Description): Schema {
  if (choices.length === 0) return mixed().oneOf([undefined], '${path} chooses what is not there to be chosen')
  const fields = choices.map(({ name, options }) => [
    name,
    string()
      .strict()
      .oneOf(options.map((one) => one.name))
      .required(),
  ])
  return shape(Object.fromEntries(fields)).required()
}
