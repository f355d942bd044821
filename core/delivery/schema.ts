/** Checks the shape of what is asked for at the door; what makes sense is for `deliveryFault` to say. */

import { array, boolean, lazy, number, object, string, type Schema } from 'yup'
import { exrCompressions, outputEncodings, outputFormats, sampleChoices, type OutputFormat } from './choices'

const oneOf = (...allowed: readonly string[]) => string().strict().oneOf(allowed).required()
const bits = (...allowed: readonly number[]) => number().strict().oneOf(allowed).required()
const encoding = () => oneOf(...outputEncodings)

const choices: Readonly<Record<OutputFormat, Readonly<Record<string, Schema>>>> = {
  exr: {
    encoding: encoding(),
    compression: oneOf(...exrCompressions),
    samples: oneOf(...sampleChoices),
    window: oneOf('frame', 'content'),
  },
  dpx: { encoding: encoding(), bits: bits(10, 16) },
  png: { encoding: encoding(), bits: bits(8, 16) },
  tiff: { encoding: encoding(), bits: bits(8, 16) },
  movie: { line: boolean().strict().required(), table: string().strict().max(64) },
  proof: {},
}

const of = lazy((value: unknown) =>
  (value as { what?: unknown } | null)?.what === 'composite'
    ? object({ what: oneOf('composite') })
        .noUnknown()
        .strict()
        .required()
    : object({ what: oneOf('element', 'matte', 'shot-matte'), id: string().strict().max(64).required() })
        .noUnknown()
        .strict()
        .required(),
)

const output = lazy((value: unknown) => {
  const asked = (value as { format?: unknown } | null)?.format
  const format = outputFormats.find((one) => one === asked) ?? 'exr'
  return object({
    of,
    name: string().strict().max(64).required(),
    pattern: string().strict().max(200).required(),
    format: oneOf(...outputFormats),
    ...choices[format],
  })
    .noUnknown()
    .strict()
    .required()
})

export const outputSchema = array(output).strict().min(1).max(20).required()
