/** What shapes of the document are made of: numbers, names, records, tables of things under their own ids. */

import { lazy, mixed, number, object, string, type Schema } from 'yup'
import { mostFrameNumber } from './limits'

export const integer = () => number().strict().integer().required()
export const frameNumber = () => integer().min(-mostFrameNumber).max(mostFrameNumber)
export const text = () => string().strict().trim().min(1).max(200).required()
export const idPattern = /^[a-z0-9][a-z0-9-]{0,63}$/
export const id = () =>
  string().strict().matches(idPattern, '${path} must be lower-case letters, digits and dashes').required()
export const rank = () => string().strict().min(1).max(500).required()
export const finite = () =>
  number()
    .strict()
    .test('finite', '${path} must be a finite number', (value) => value === undefined || Number.isFinite(value))
    .required()
export const shape = <T extends Parameters<typeof object>[0]>(fields: T) => object(fields).noUnknown().strict()

/** Records by name, each value checked by a schema; `nameOf` what is wrong with a name, or null. */
export function record(one: Schema, nameOf: (name: string) => string | null): Schema {
  return lazy((value: unknown) => {
    if (value === null || typeof value !== 'object' || Array.isArray(value)) return object().strict().required()
    const names = Object.keys(value)
    const fault = names.map(nameOf).find((said) => said !== null)
    if (fault) return mixed().test('names', `\${path} ${fault}`, () => false)
    return object(Object.fromEntries(names.map((name) => [name, one])))
      .noUnknown()
      .strict()
      .required()
  }) as unknown as Schema
}

/** A table of things, each under its own id. */
export function table(thing: Schema): Schema {
  const byId = record(thing, (name) => (idPattern.test(name) ? null : `has a thing with the id "${name}"`))
  return shape({ byId })
    .required()
    .test('own ids', (value: { byId?: Record<string, { id?: unknown }> }, context) => {
      const other = Object.entries(value?.byId ?? {}).find(([name, one]) => one?.id !== name)
      return other ? context.createError({ message: `${context.path}: "${other[0]}" has another id inside` }) : true
    }) as unknown as Schema
}

/** A schema of its own, or nothing. */
export const orNull = (one: Schema): Schema =>
  lazy((value: unknown) => (value === null ? mixed().nullable() : one)) as unknown as Schema
export const ifThere = (one: Schema): Schema =>
  lazy((value: unknown) => (value === undefined ? mixed() : one)) as unknown as Schema
/** Of things by their ids. */
export const byName = (one: Schema): Schema =>
  record(one, (name) => (idPattern.test(name) ? null : `has the id "${name}": lower-case letters, digits and dashes`))
/** Of a track, by frame. */
export const byFrame = (one: Schema): Schema =>
  record(one, (name) => (/^-?\d{1,9}$/.test(name) ? null : `has a place at "${name}"`))
