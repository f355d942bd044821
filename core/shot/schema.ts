/** Checks the shape of a shot document at every door: the interface, the database, the command line. */

import { array, boolean, lazy, mixed, number, object, string, ValidationError, type Schema } from 'yup'
import { encodingNames, primariesNames, workingSpaces } from '../colour'
import { witnessPurposes } from '../match'
import { resampling } from '../kernels/kernels'
import { blendKinds, blends } from '../set/blends'
import {
  elementDescription,
  inputDescriptions,
  limitDescription,
  placingDescription,
  shutterDescription,
  type InputKind,
} from '../set/owners'
import { treatmentKinds, treatments, type Description } from '../treatments'
import { find } from './find'
import { mostPixelsASide } from './limits'
import { migrated } from './migrate'
import { matteSchema } from './schema-of-mattes'
import { choicesOf, parametersOf } from './schema-of-parameters'
import { strokeSchema, lineSchema, pinSchema, trackSchema } from './schema-of-places'
import { recipeSchema } from './schema-of-recipes'
import { finite, frameNumber, id, integer, rank, shape, table, text } from './schema-parts'
import { labelColours, schemaVersion, shotWide, type Shot } from './types'

export * from './schema-of-mattes'
export * from './schema-of-parameters'
export * from './schema-of-places'
export { byFrame, byName, id, idPattern, ifThere, orNull, text } from './schema-parts'

/** The document breaks a rule; the message says which, and where. */
export class InvalidShotError extends Error {
  override readonly name = 'InvalidShotError'
  constructor(
    readonly file: string,
    readonly faults: readonly string[],
  ) {
    super(`${file} is not a usable shot document: ${faults.join('; ')}. Correct it, or take an earlier revision.`)
  }
}

/** One of the points of a description. */
export function pointSchemaOf({ points }: Description): Schema {
  if (!points) return mixed().test('none', '${path} has no points', () => false)
  const sets = points.sets?.map(({ name }) => name)
  return shape({
    id: id(),
    ...(sets ? { set: string().strict().oneOf(sets).required() } : {}),
    parameters: parametersOf({ kind: 'point', label: points.label, help: '', parameters: points.parameters }),
  }).required()
}

function pointsOf(description: Description): Schema {
  if (!description.points) return mixed().oneOf([undefined], '${path} has points where there are none')
  return table(pointSchemaOf(description))
}

/** The sources that a treatment must name; none may be given where it needs none. */
function sourcesOf({ sources = [] }: Description): Schema {
  if (sources.length === 0) return mixed().oneOf([undefined], '${path} names sources that the treatment does not read')
  const fields = shape(
    Object.fromEntries(
      sources.map(({ name, without }) => [name, without === undefined ? id() : string().strict().max(64)]),
    ),
  )
  const optional = sources.every(({ without }) => without !== undefined)
  return (optional ? fields.optional().default(undefined) : fields.required()) as unknown as Schema
}

export const treatmentSchema = lazy((value: { kind?: string } | undefined) => {
  const kind = treatmentKinds.find((known) => known === value?.kind)
  const settings = () =>
    kind
      ? {
          parameters: parametersOf(treatments[kind]),
          choices: choicesOf(treatments[kind]),
          points: pointsOf(treatments[kind]),
        }
      : { parameters: object().required(), choices: mixed(), points: mixed() }
  return shape({
    id: id(),
    kind: string()
      .oneOf([...treatmentKinds])
      .required(),
    ...settings(),
    sources: kind ? sourcesOf(treatments[kind]) : object().optional(),
    ...(kind && treatments[kind].pinned ? { pin: pinSchema().optional().default(undefined) } : {}),
    ...(kind && treatments[kind].lines ? { lines: table(lineSchema).optional().default(undefined) } : {}),
    tries: table(shape({ id: id(), name: text(), rank: rank(), ...settings() }).required())
      .notRequired()
      .default(undefined),
  }).required()
})

/** What a reveal shows instead of the plate. */
export const shownSchema = () => shape({ source: id(), part: string().strict().nullable().defined() })

const blend = lazy((value: { kind?: string } | undefined) => {
  const kind = blendKinds.find((known) => known === value?.kind)
  return shape({
    kind: string()
      .oneOf([...blendKinds])
      .required(),
    parameters: kind ? parametersOf(blends[kind]) : object().required(),
    ...(kind === 'reveal' ? { shows: shownSchema().optional().default(undefined) } : {}),
  }).required()
})

const range = () =>
  shape({ first: integer(), last: integer() }).test(
    'order',
    '${path} must not end before it starts',
    (value: { first?: number; last?: number } | null | undefined) =>
      !value || !((value.last as number) < (value.first as number)),
  )

const rate = () => shape({ numerator: integer().min(1), denominator: integer().min(1) })

const claims = () =>
  shape({
    encoding: string()
      .oneOf([...encodingNames])
      .required(),
    primaries: string()
      .oneOf([...primariesNames])
      .required(),
    alpha: string().oneOf(['none', 'premultiplied', 'straight']).required(),
  }).required()

export const sourceSchema = shape({
  id: id(),
  name: text(),
  path: text().test(
    'relative',
    '${path} must be relative to the shot’s folder, with ".." at its beginning only',
    (value) => !value || !(/^([/\\]|[a-z]:)/i.test(value) || /[^./\\][/\\]+\.\.([/\\]|$)/.test(value)),
  ),
  frames: range().nullable().defined(),
  claims: claims(),
  rate: rate().optional().default(undefined),
  offset: number().strict().integer(),
  missing: string().oneOf(['stop', 'repeat', 'empty']),
  pixelAspect: number().strict().positive(),
  enlarge: number().strict().oneOf([1, 2, 4]),
  framing: string().oneOf(['centred', 'file']),
  greenUp: boolean().strict().oneOf([true]),
  firstFile: shape({
    size: integer().min(0),
    hash: string()
      .strict()
      .matches(/^[0-9a-f]{32}$/)
      .required(),
  })
    .optional()
    .default(undefined),
  forComparing: boolean().strict().oneOf([true]),
  made: recipeSchema,
}).required()

const timingFields = () => ({
  offset: number().strict().integer(),
  speed: number().strict(),
  held: number().strict().integer(),
  beyond: string().oneOf(['nothing', 'hold', 'loop', 'ping-pong']),
  from: number().strict().integer(),
  to: number().strict().integer(),
})
const timing = () => shape(timingFields()).optional().default(undefined)

/** Changes of a timing; null takes one away. */
export const timingChanges = () =>
  shape(Object.fromEntries(Object.entries(timingFields()).map(([name, one]) => [name, one.nullable()]))).required()

const ownFields: Readonly<Record<InputKind, () => Parameters<typeof object>[0]>> = {
  pass: () => ({
    source: id(),
    part: string().strict().nullable().defined(),
    channels: array(string().strict().required()).min(1).max(4).optional(),
    timing: timing(),
  }),
  element: () => ({ element: id(), timing: timing() }),
  constant: () => ({}),
  gradient: () => ({ choices: choicesOf(inputDescriptions.gradient), points: pointsOf(inputDescriptions.gradient) }),
  noise: () => ({}),
  sum: () => ({ alpha: id().notRequired().default(undefined) }),
  product: () => ({ alpha: id().notRequired().default(undefined) }),
  group: () => ({}),
}

const input = lazy((value: { kind?: string } | undefined) => {
  const kinds = Object.keys(inputDescriptions) as InputKind[]
  const kind = kinds.find((known) => known === value?.kind)
  if (!kind) return shape({ kind: string().oneOf(kinds).required() }).required()
  return shape({
    id: id(),
    kind: string().required(),
    parent: id().nullable().defined(),
    rank: rank(),
    parameters: parametersOf(inputDescriptions[kind]),
    ...ownFields[kind](),
  }).required()
})

/** One root, and from every input a way up to it. */
function isTree(inputs: { byId?: Record<string, { parent?: string | null } | undefined> } | undefined): boolean {
  const byId = inputs?.byId
  if (!byId || Object.values(byId).some((one) => one === null || typeof one !== 'object')) return true
  const ids = Object.keys(byId)
  if (ids.filter((one) => byId[one]?.parent === null).length !== 1) return false
  return ids.every((one) => {
    let at: string | null | undefined = one
    for (let steps = 0; steps <= ids.length; steps++) {
      if (at === null) return true
      at = at !== undefined && Object.hasOwn(byId, at) ? byId[at]?.parent : undefined
      if (at === undefined) return false
    }
    return false
  })
}

export const inputsSchema = table(input as unknown as Schema).test(
  'tree',
  '${path} must be one tree: one root, and every other part of one that is there',
  isTree,
)

export const noteText = () => string().strict().min(1).max(4000)
const tag = () => string().strict().trim().min(1).max(40).required()
export const tagList = () => array(tag()).max(20)
export const labelColour = () => string().oneOf([...labelColours])

export const placingBox = () =>
  shape({ x: finite(), y: finite(), width: finite().positive(), height: finite().positive() }).required()
export const placingFilter = () => string().oneOf([...Object.keys(resampling)])
export const placingShutter = () => string().oneOf(['own', 'closed'])

export const placingSchema = shape({
  parameters: parametersOf(placingDescription),
  box: placingBox(),
  with: id().notRequired(),
  pin: pinSchema().optional().default(undefined),
  filter: placingFilter(),
  shutter: placingShutter(),
})

export const elementSchema = shape({
  id: id(),
  name: text(),
  rank: rank(),
  parent: id().nullable().defined(),
  inputs: inputsSchema,
  visible: boolean().strict().required(),
  parameters: parametersOf(elementDescription),
  blend,
  note: noteText().optional(),
  tags: tagList().optional(),
  label: labelColour().optional(),
  ownGlass: boolean().strict().oneOf([true]),
  placing: placingSchema.optional().default(undefined),
}).required()

const matte = lazy((value: { kind?: string } | null | undefined) => {
  if (value === null) return mixed().nullable().defined()
  if (value?.kind === 'element') return shape({ kind: string().required(), element: id() }).required()
  return value?.kind === 'matte'
    ? shape({ kind: string().required(), matte: id() }).required()
    : shape({
        kind: string().oneOf(['source']).required(),
        source: id(),
        part: string().strict().nullable().defined(),
        channel: string().strict().nullable().defined(),
        lies: string().oneOf(['element', 'frame']).required(),
      }).required()
})

export const limitSchema = shape({
  matte,
  inverted: boolean().strict().required(),
  parameters: parametersOf(limitDescription),
})

export const useOwnerSchema = lazy((value: { kind?: string } | undefined) =>
  shotWide.some((kind) => kind === value?.kind)
    ? shape({ kind: string().required() }).required()
    : shape({ kind: string().oneOf(['element']).required(), id: id() }).required(),
)

export const useSchema = shape({
  id: id(),
  rank: rank(),
  owner: useOwnerSchema,
  treatment: id(),
  on: boolean().strict().required(),
  limit: limitSchema.nullable().defined(),
}).required()

const arrangement = () => ({
  plate: id(),
  elements: table(elementSchema),
  treatments: table(treatmentSchema as unknown as Schema),
  uses: table(useSchema),
})

const place = () => integer().min(-mostPixelsASide).max(mostPixelsASide)
const extent = () => integer().min(1).max(mostPixelsASide)
const followed = () =>
  shape({ element: id().notRequired(), track: id().notRequired(), frame: frameNumber() }).test(
    'one of them',
    '${path} must name an element or a track',
    (value: { element?: unknown; track?: unknown } | null | undefined) =>
      !value || (value.element === undefined) !== (value.track === undefined),
  )
export const sampleSchema = shape({
  ...{ id: id(), name: text(), rank: rank() },
  ...{ x: place(), y: place(), width: extent(), height: extent() },
  follows: followed().optional().default(undefined),
}).required()

export const markerSchema = shape({
  ...{ id: id(), name: text(), frame: frameNumber() },
  strokes: table(strokeSchema).optional().default(undefined),
}).required()

const box = () => ({ x: place(), y: place(), width: extent(), height: extent() })
const side = () =>
  shape({
    ...box(),
    follows: frameNumber().optional(),
    along: id().optional().default(undefined),
  })
    .required()
    .test(
      'since',
      '${path} goes along with a track: say on which frame it lies there',
      (value) => value.along === undefined || value.follows !== undefined,
    )
export const witnessSchema = shape({
  ...{ id: id(), name: text(), rank: rank(), element: id() },
  purpose: string()
    .oneOf([...witnessPurposes])
    .required(),
  ...{ reference: side(), adjusted: side() },
  lit: shape(box()).optional().default(undefined),
  tolerance: finite().positive().max(100).optional(),
  on: id().notRequired(),
  frames: range().optional().default(undefined),
}).required()

export const referenceObjectSchema = shape({
  ...{ id: id(), name: text(), rank: rank() },
  ...{ photographed: id(), rendered: id(), insteadOf: id() },
}).required()

export const trySchema = shape({ id: id(), name: text(), rank: rank(), ...arrangement() }).required()

const head = {
  name: id(),
  frames: range().required(),
  rate: rate().required(),
  workingSpace: string().oneOf(Object.keys(workingSpaces)).required(),
}
export const headSchema = shape(head).required()

const size = () => integer().min(1)
export const shotSchema = shape({
  ...head,
  schema: number()
    .strict()
    .oneOf([schemaVersion], `schema must be 1 to ${schemaVersion}; this program reads no other version`)
    .required(),
  seed: text(),
  frameSize: shape({ width: size(), height: size() }).required(),
  pixelAspect: finite().positive(),
  sources: table(sourceSchema),
  ...arrangement(),
  tries: table(trySchema),
  samples: table(sampleSchema),
  markers: table(markerSchema),
  witnesses: table(witnessSchema),
  referenceObjects: table(referenceObjectSchema),
  tracks: table(trackSchema),
  mattes: table(matteSchema),
  shutter: shape({ parameters: parametersOf(shutterDescription) }).required(),
}).required('it holds nothing')

/**
 * Reads a document of any schema; older ones are migrated.
 *
 * @param value anything, usually fresh from JSON
 * @param file what to call it in messages
 * @throws InvalidShotError with every fault found
 */
export function parseShot(value: unknown, file: string): Shot {
  const present = migrated(value)
  try {
    shotSchema.validateSync(present, { abortEarly: false, strict: true })
  } catch (error) {
    if (error instanceof ValidationError) throw new InvalidShotError(file, error.errors)
    throw error
  }
  const checked = present as Shot
  if (!find(checked.elements, checked.plate))
    throw new InvalidShotError(file, [`its plate is the element "${checked.plate}", which does not exist`])
  return checked
}

/** @returns what is wrong with one thing, as a sentence without its end; null when nothing is */
export function faultOf(schema: Schema, value: unknown): string | null {
  try {
    schema.validateSync(value, { abortEarly: true, strict: true })
    return null
  } catch (error) {
    if (error instanceof ValidationError) return error.errors[0] ?? 'it is not as it should be'
    throw error
  }
}
