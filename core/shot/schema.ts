/** Checks a shot document at every door: the API, the database, the command line. */

import { array, boolean, lazy, mixed, number, object, string, ValidationError, type Schema } from 'yup'
import { encodingNames, primariesNames, workingSpaces } from '../colour'
import { blendKinds, blends } from '../set/blends'
import { treatmentKinds, treatments, type Description } from '../treatments'
import { schemaVersion, type Shot, type TreatmentSettings } from './types'

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

const whole = () => number().strict().integer().required()
const text = () => string().strict().trim().min(1).max(200).required()
const id = () =>
  string()
    .strict()
    .matches(/^[a-z0-9][a-z0-9-]{0,63}$/, '${path} must be lower-case letters, digits and dashes')
    .required()
const finite = () =>
  number()
    .strict()
    .test('finite', '${path} must be a finite number', (value) => value === undefined || Number.isFinite(value))
    .required()

const key = object({ frame: whole(), value: finite() }).noUnknown().strict()
const curve = lazy((value: unknown) =>
  typeof value === 'number'
    ? finite()
    : object({
        keys: array(key)
          .min(1)
          .required()
          .test('ordered', '${path} must have one key a frame, in order', (keys) =>
            keys.every((k, i) => i === 0 || keys[i - 1].frame < k.frame),
          ),
      })
        .noUnknown()
        .strict()
        .required(),
)

function parametersOf(description: Description): Schema {
  const shape = Object.fromEntries(
    description.parameters.map((parameter) => [parameter.name, array(curve).length(parameter.channels).required()]),
  )
  return object(shape).noUnknown().strict().required()
}

/** The sources that a treatment must name; none may be given where it needs none. */
function sourcesOf({ sources = [] }: Description): Schema {
  if (sources.length === 0) return mixed().oneOf([undefined], '${path} names sources that the treatment does not read')
  return object(Object.fromEntries(sources.map(({ name }) => [name, id()])))
    .noUnknown()
    .strict()
    .required()
}

const treatment = lazy((value: { kind?: string } | undefined) => {
  const kind = treatmentKinds.find((known) => known === value?.kind)
  return object({
    id: id(),
    kind: string()
      .oneOf([...treatmentKinds])
      .required(),
    enabled: boolean().strict().required(),
    parameters: kind ? parametersOf(treatments[kind]) : object().required(),
    sources: kind ? sourcesOf(treatments[kind]) : object().optional(),
  })
    .noUnknown()
    .strict()
})

const blend = lazy((value: { kind?: string } | undefined) => {
  const kind = blendKinds.find((known) => known === value?.kind)
  return object({
    kind: string()
      .oneOf([...blendKinds])
      .required(),
    parameters: kind ? parametersOf(blends[kind]) : object().required(),
  })
    .noUnknown()
    .strict()
    .required()
})

const range = () =>
  object({ first: whole(), last: whole() })
    .noUnknown()
    .strict()
    .test('order', '${path} must not end before it starts', (value) => !value || !(value.last < value.first))

const rate = () =>
  object({ numerator: whole().min(1), denominator: whole().min(1) })
    .noUnknown()
    .strict()

const source = object({
  id: id(),
  name: text(),
  path: text().test(
    'relative',
    '${path} must be relative to the shot’s folder, with ".." at its beginning only',
    (value) => !value || !(/^([/\\]|[a-z]:)/i.test(value) || /[^./\\][/\\]+\.\.([/\\]|$)/.test(value)),
  ),
  frames: range().nullable().defined(),
  claims: object({
    encoding: string()
      .oneOf([...encodingNames])
      .required(),
    primaries: string()
      .oneOf([...primariesNames])
      .required(),
    alpha: string().oneOf(['none', 'premultiplied', 'straight']).required(),
  })
    .noUnknown()
    .strict()
    .required(),
  rate: rate().optional().default(undefined),
  offset: number().strict().integer(),
  missing: string().oneOf(['stop', 'repeat', 'empty']),
  pixelAspect: number().strict().positive(),
  enlarge: number().strict().oneOf([1, 2, 4]),
})
  .noUnknown()
  .strict()

const element = object({
  id: id(),
  name: text(),
  source: id(),
  part: string().strict().nullable().defined(),
  rebuild: array(string().strict().required()).min(1).max(64).optional(),
  visible: boolean().strict().required(),
  blend,
  treatments: array(treatment).required(),
})
  .noUnknown()
  .strict()

const kept = object({
  id: id(),
  name: text(),
  elements: array(element).min(1).required(),
  finish: array(treatment).optional(),
})
  .noUnknown()
  .strict()

const size = () => whole().min(1).max(65536)
const shot = object({
  schema: number()
    .strict()
    .oneOf([schemaVersion], `schema must be ${schemaVersion}; this program reads no other version`)
    .required(),
  name: id(),
  frames: range().required(),
  rate: rate().required(),
  frameSize: object({ width: size(), height: size() }).noUnknown().strict().required(),
  pixelAspect: finite().positive(),
  workingSpace: string().oneOf(Object.keys(workingSpaces)).required(),
  sources: array(source).required(),
  elements: array(element).required(),
  finish: array(treatment).optional(),
  tries: array(kept).optional(),
})
  .noUnknown()
  .strict()
  .required('it holds nothing')

/**
 * @param value anything, usually fresh from JSON
 * @param file what to call it in messages
 * @throws InvalidShotError with every fault found
 */
export function parseShot(value: unknown, file: string): Shot {
  try {
    shot.validateSync(value, { abortEarly: false, strict: true })
  } catch (error) {
    if (error instanceof ValidationError) throw new InvalidShotError(file, error.errors)
    throw error
  }
  const checked = value as Shot
  const faults = faultsAcross(checked)
  if (faults.length > 0) throw new InvalidShotError(file, faults)
  return checked
}

function repeated(ids: readonly string[]): string[] {
  return [...new Set(ids.filter((one, i) => ids.indexOf(one) !== i))]
}

function faultsOfTreatments(
  owner: string,
  settings: readonly TreatmentSettings[],
  sources: ReadonlySet<string>,
): string[] {
  const faults = repeated(settings.map((t) => t.id)).map((one) => `${owner} has two treatments with the id "${one}"`)
  for (const t of settings) {
    for (const [name, source] of Object.entries(t.sources ?? {}))
      if (!sources.has(source))
        faults.push(`the ${name} of treatment "${t.id}" of ${owner} is the source "${source}", which does not exist`)
  }
  return faults
}

/** Rules that no single field can tell. */
function faultsAcross(shot: Shot): string[] {
  const faults: string[] = []
  const sources = new Set(shot.sources.map((s) => s.id))
  for (const one of repeated(shot.sources.map((s) => s.id))) faults.push(`two sources have the id "${one}"`)
  faults.push(...faultsOfState('', shot, sources))
  if (shot.elements.length === 0) faults.push('it has no elements; the first must be the plate')
  const { tries = [] } = shot
  for (const one of repeated(tries.map((kept) => kept.id))) faults.push(`two tries have the id "${one}"`)
  for (const kept of tries) faults.push(...faultsOfState(`${kept.id}: `, kept, sources))
  return faults
}

/** Of the shot as it stands, or of a try. @param where begins every fault */
function faultsOfState(
  where: string,
  { elements, finish = [] }: Pick<Shot, 'elements' | 'finish'>,
  sources: ReadonlySet<string>,
): string[] {
  const faults = repeated(elements.map((e) => e.id)).map((one) => `two elements have the id "${one}"`)
  elements.forEach((e, i) => {
    if (!sources.has(e.source)) faults.push(`element "${e.id}" names the source "${e.source}", which does not exist`)
    if ((e.blend.kind === 'plate') !== (i === 0))
      faults.push(i === 0 ? 'the farthest element must be the plate' : `element "${e.id}" is a second plate`)
    faults.push(...faultsOfTreatments(`element "${e.id}"`, e.treatments, sources))
  })
  faults.push(...faultsOfTreatments('finish', finish, sources))
  return faults.map((fault) => where + fault)
}
