/** Documents of earlier schemas become documents of the present one when they are read; every setting is kept. */

import { elementDescription, inputDescriptions } from '../set/owners'
import { newShutter } from './defaults'
import { firstRanks } from './find'
import { parametersFor } from './parameters'

/** @returns the document in the present schema; anything that is no document of an earlier one as it is */
export function migrated(value: unknown): unknown {
  const { schema } = (value ?? {}) as { schema?: unknown }
  if (typeof value !== 'object') return value
  if (schema === 9) return fromSchema9(value as Shot9)
  if (schema === 8) return fromSchema8(value as Shot8)
  if (schema === 7) return fromSchema7(value as object)
  if (schema === 6) return fromSchema6(value as object)
  if (schema === 5) return fromSchema5(value as object)
  if (schema === 4) return fromSchema4(value as object)
  if (schema === 3) return fromSchema3(value as object)
  if (schema === 2) return fromSchema2(value as object)
  if (schema !== 1) return value
  try {
    return fromSchema2(fromSchema1(value as Shot1))
  } catch {
    // It is not what it says; the check of the present schema tells what is wrong.
    return { ...value, schema: 'damaged 1' }
  }
}

/** Samples and markers came into the document with schema 3. */
const fromSchema2 = (document: object) => fromSchema3({ ...document, samples: { byId: {} }, markers: { byId: {} } })

/** The shutter came with schema 4, with all that moves. */
const fromSchema3 = (document: object) => fromSchema4({ ...document, shutter: newShutter() })

/** Witnesses came with schema 5. */
const fromSchema4 = (document: object) => fromSchema5({ ...document, witnesses: { byId: {} } })

/** Objects that were shot for reference came with schema 6. */
const fromSchema5 = (document: object) => fromSchema6({ ...document, referenceObjects: { byId: {} } })

/** Tracks came with schema 7. */
const fromSchema6 = (document: object) => fromSchema7({ ...document, tracks: { byId: {} } })

/** Mattes came with schema 8. */
const fromSchema7 = (document: object) => fromSchema8({ ...document, mattes: { byId: {} } })

interface Shot8 {
  readonly mattes?: {
    readonly byId?: Readonly<Record<string, { readonly kind?: string; readonly parameters?: object }>>
  }
}

/** With schema 9 every matte can be grown as a whole, and keyed by the distance from a colour. */
function fromSchema8(document: Shot8) {
  const grown = Object.entries(document.mattes?.byId ?? {}).map(([id, matte]) => [
    id,
    {
      ...matte,
      parameters: { ...(matte.kind === 'keyed' ? { colour: [0.18, 0.18, 0.18] } : {}), grow: [0], ...matte.parameters },
    },
  ])
  return fromSchema9({ ...document, mattes: { byId: Object.fromEntries(grown) as object } })
}

interface Chosen9 {
  readonly choices?: object
}
interface Arrangement9 {
  readonly treatments?: {
    readonly byId?: Readonly<
      Record<
        string,
        Chosen9 & { readonly kind?: string; readonly tries?: { readonly byId?: Readonly<Record<string, Chosen9>> } }
      >
    >
  }
}
interface Shot9 extends Arrangement9 {
  readonly mattes?: object
  readonly tries?: { readonly byId?: Readonly<Record<string, Arrangement9>> }
}

/** With schema 10 a backing key shows all but the backing, or its shadow apart. */
function fromSchema9(document: Shot9) {
  const shows = <T extends Chosen9>(one: T) => ({ ...one, choices: { shows: 'all', ...one.choices } })
  const withChoice = <T extends Arrangement9>(arrangement: T) => ({
    ...arrangement,
    treatments: eachOf(arrangement.treatments, (one) =>
      one.kind === 'backing-key' ? { ...shows(one), ...(one.tries ? { tries: eachOf(one.tries, shows) } : {}) } : one,
    ),
  })
  return { ...withChoice(document), schema: 10, tries: eachOf(document.tries, withChoice) }
}

const eachOf = <T>(table: { readonly byId?: Readonly<Record<string, T>> } | undefined, change: (one: T) => object) => ({
  byId: Object.fromEntries(Object.entries(table?.byId ?? {}).map(([id, one]) => [id, change(one)])),
})

interface Curve1 {
  readonly keys: readonly { readonly frame: number; readonly value: number }[]
}
type Parameters1 = Readonly<Record<string, readonly (number | Curve1)[]>>
interface Treatment1 {
  readonly id: string
  readonly kind: string
  readonly enabled: boolean
  readonly parameters: Parameters1
  readonly sources?: Readonly<Record<string, string>>
}
interface Element1 {
  readonly id: string
  readonly name: string
  readonly source: string
  readonly part: string | null
  readonly rebuild?: readonly string[]
  readonly visible: boolean
  readonly landing: { readonly kind: string; readonly parameters: Parameters1 }
  readonly treatments: readonly Treatment1[]
}
interface State1 {
  readonly elements: readonly Element1[]
  readonly finish?: readonly Treatment1[]
}
interface Shot1 extends State1 {
  readonly name: string
  readonly sources: readonly { readonly id: string }[]
  readonly tries?: readonly (State1 & { readonly id: string; readonly name: string })[]
}

function fromSchema1({ name, sources, elements, finish, tries = [], ...rest }: Shot1) {
  const ranks = firstRanks(tries.length)
  return {
    ...rest,
    schema: 2,
    name,
    seed: name,
    // Until now the pixels of a file lay where the file said, whatever its display window.
    sources: tableOf(sources.map((source) => ({ ...source, framing: 'file' }))),
    ...stateOf({ elements, finish }),
    tries: tableOf(
      tries.map(({ id, name: label, ...state }, i) => ({ id, name: label, rank: ranks[i], ...stateOf(state) })),
    ),
  }
}

function stateOf({ elements, finish = [] }: State1) {
  const ids = new Set<string>()
  const settings: object[] = []
  const uses: object[] = []
  const add = (owner: object, prefix: string, list: readonly Treatment1[]) => {
    const ranks = firstRanks(list.length)
    list.forEach(({ id, enabled, ...treatment }, i) => {
      const own = freeId(`${prefix}-${id}`, ids)
      settings.push({ ...treatment, id: own, parameters: parametersOf(treatment.parameters) })
      uses.push({ id: own, rank: ranks[i], owner, treatment: own, on: enabled, limit: null })
    })
  }
  for (const { id, treatments } of elements) add({ kind: 'element', id }, id, treatments)
  add({ kind: 'finish' }, 'finish', finish)
  const ranks = firstRanks(elements.length)
  return {
    plate: elements[0].id,
    elements: tableOf(elements.map((element, i) => elementOf(element, ranks[i]))),
    treatments: tableOf(settings as { id: string }[]),
    uses: tableOf(uses as { id: string }[]),
  }
}

/** Treatments had ids of their element only. */
function freeId(wanted: string, taken: Set<string>): string {
  let id = wanted.slice(0, 64)
  for (let n = 2; taken.has(id); n++) id = `${wanted.slice(0, 58)}-${n}`
  taken.add(id)
  return id
}

function elementOf({ id, name, source, part, rebuild, visible, landing }: Element1, rank: string) {
  const kind = landing.kind === 'plate' ? 'over' : landing.kind
  return {
    id,
    name,
    rank,
    parent: null,
    inputs: inputsOf(source, part, rebuild),
    visible,
    parameters: parametersFor(elementDescription),
    blend: { kind, parameters: landing.kind === 'plate' ? {} : parametersOf(landing.parameters) },
  }
}

/** Passes whose light was added up took the place of the part's own, whose alpha stayed. */
function inputsOf(source: string, part: string | null, rebuild: readonly string[] | undefined) {
  const ranks = firstRanks((rebuild?.length ?? 0) + 1)
  const pass = (id: string, of: string | null, parent: string | null, rank: string) => ({
    id,
    kind: 'pass',
    parent,
    rank,
    parameters: parametersFor(inputDescriptions.pass),
    source,
    part: of,
  })
  if (!rebuild) return tableOf([pass('pass', part, null, ranks[0])])
  return tableOf([
    { id: 'sum', kind: 'sum', parent: null, rank: ranks[0], parameters: {}, alpha: 'alpha' },
    pass('alpha', part, 'sum', ranks[0]),
    ...rebuild.map((of, i) => pass(`pass-${i + 1}`, of, 'sum', ranks[i + 1])),
  ])
}

function parametersOf(parameters: Parameters1) {
  return Object.fromEntries(
    Object.entries(parameters).map(([name, curves]) => [
      name,
      curves.map((curve) =>
        typeof curve === 'number'
          ? curve
          : { keyframes: Object.fromEntries(curve.keys.map(({ frame, value }) => [String(frame), value])) },
      ),
    ]),
  )
}

function tableOf<T extends { readonly id: string }>(things: readonly T[]) {
  return { byId: Object.fromEntries(things.map((thing) => [thing.id, thing])) }
}
