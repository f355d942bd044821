/** Elements as text that can be pasted, here or into another shot; and copies of them beside themselves. */

import { array, object, string } from 'yup'
import type { SingleChange, Together } from './edits'
import { movable, namesOf } from './arranging'
import { allOf, childrenOf, elementsInOrder, find, isInside, newId, parentOf, rankBetween, usesOf } from './find'
import { faultOf, elementSchema, sourceSchema, treatmentSchema, useSchema } from './schema'
import { refsOfElement, refsOfTreatment, refsOfUse, type Reference } from './refs'
import {
  schemaVersion,
  type BlendSettings,
  type Element,
  type Input,
  type MatteReference,
  type Shot,
  type Source,
  type Table,
  type TreatmentSettings,
  type Use,
} from './types'

/** What is on the clipboard: whole things, with the sources that they are read from. */
export interface CopiedElements {
  readonly kind: 'enkrasis-elements'
  readonly schema: typeof schemaVersion
  readonly sources: readonly Source[]
  /** far to near, groups before what is in them */
  readonly elements: readonly Element[]
  readonly treatments: readonly TreatmentSettings[]
  readonly uses: readonly Use[]
}

const copiedSchema = object({
  kind: string().oneOf(['enkrasis-elements']).required(),
  schema: object().strip(),
  sources: array(sourceSchema).required(),
  elements: array(elementSchema).min(1).required(),
  treatments: array(treatmentSchema).required(),
  uses: array(useSchema).required(),
})

/** The text is no copied elements. */
export class NothingToPasteError extends Error {
  override readonly name = 'NothingToPasteError'

  constructor(reason: string) {
    super(`What is on the clipboard cannot be pasted as elements: ${reason}. Copy elements in a shot first.`)
  }
}

/** With what is in groups that are chosen, their treatments and their sources. */
export function copyElements(shot: Shot, ids: readonly string[]): CopiedElements {
  const chosen = movable(shot, ids)
  const elements = elementsInOrder(shot)
    .map(({ element }) => element)
    .filter(({ id }) => chosen.some((one) => isInside(shot, id, one.id)))
    // What is at the top here may be in a group that stays behind.
    .map((element) => (chosen.includes(element) ? { ...element, parent: null } : element))
  const uses = elements.flatMap(({ id }) => usesOf(shot, { kind: 'element', id }))
  const treatments = allOf(shot.treatments).filter(({ id }) => uses.some(({ treatment }) => treatment === id))
  const refs = [...elements.flatMap(refsOfElement), ...treatments.flatMap(refsOfTreatment), ...uses.flatMap(refsOfUse)]
  const sources = sourcesReferred(shot, refs)
  return { kind: 'enkrasis-elements', schema: schemaVersion, sources, elements, treatments, uses }
}

/** @throws NothingToPasteError */
export function readCopied(text: string): CopiedElements {
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch {
    throw new NothingToPasteError('it is some other text')
  }
  const { schema } = (value ?? {}) as { schema?: unknown }
  if (schema !== schemaVersion) throw new NothingToPasteError('it is not from this version of Enkrasis')
  const { schema: _, ...rest } = value as CopiedElements
  const fault = faultOf(copiedSchema, rest)
  if (fault !== null) throw new NothingToPasteError(fault)
  return value as CopiedElements
}

export interface Pasted {
  readonly edit: Together
  /** the new elements that are not in a group that is pasted too */
  readonly ids: readonly string[]
  /** names of sources that the shot did not have: they come along, and their files may not be there */
  readonly added: readonly string[]
}

/**
 * In front of an element, in its group; nearest of all when there is none. Sources of the same path are the same.
 *
 * @param share whether treatments that elements outside use too stay shared; in another shot there are none
 */
export function pasteElements(shot: Shot, copied: CopiedElements, before: string | null, share = false): Pasted {
  const { sources, added } = joinSources(shot, copied.sources)
  const elements = new Map(copied.elements.map(({ id }) => [id, newId()]))
  const shared = (id: string) =>
    share &&
    allOf(shot.uses).some(
      ({ treatment, owner }) => treatment === id && !(owner.kind === 'element' && elements.has(owner.id)),
    )
  const treatments = new Map(copied.treatments.map(({ id }) => [id, shared(id) ? id : newId()]))
  const to = { sources, elements }
  const settings = copied.treatments
    .filter(({ id }) => !shared(id))
    .map((one): TreatmentSettings => ({
      ...one,
      id: treatments.get(one.id) ?? one.id,
      ...(one.sources ? { sources: mapped(one.sources, sources) } : {}),
    }))
  const neighbour = before === null ? undefined : find(shot.elements, before)
  const parent = neighbour ? parentOf(shot, neighbour) : null
  const brothers = childrenOf(shot, parent)
  const at = neighbour ? brothers.findIndex(({ id }) => id === before) : brothers.length - 1
  const next = brothers[at + 1]?.rank ?? null
  let last = brothers[at]?.rank ?? null
  const given = new Set<string>()
  const changes: SingleChange[] = added.map((source) => ({ kind: 'add-source', source }))
  const top: string[] = []
  for (const element of copied.elements) {
    const id = elements.get(element.id) as string
    const inside = element.parent !== null && elements.has(element.parent)
    if (!inside) {
      top.push(id)
      last = rankBetween(last, next)
    }
    const uses = copied.uses
      .filter(({ owner }) => owner.kind === 'element' && owner.id === element.id)
      .map((use) => usedBy(use, id, treatments.get(use.treatment) ?? use.treatment, to))
    const own = settings.filter((one) => !given.has(one.id) && uses.some(({ treatment }) => treatment === one.id))
    own.forEach((one) => given.add(one.id))
    changes.push({
      kind: 'add-element',
      element: {
        ...element,
        ...{ id, inputs: redirected(element.inputs, to), blend: showing(element.blend, to) },
        parent: inside ? (elements.get(element.parent as string) ?? null) : parent,
        rank: inside ? element.rank : (last as string),
      },
      treatments: own,
      uses,
    })
  }
  const names = namesOf(copied.elements.filter(({ id }) => top.includes(elements.get(id) as string)))
  return {
    edit: { kind: 'together', changes, label: `Paste ${names}` },
    ids: top,
    added: added.map(nameAndPath),
  }
}

/** Sources of copied things in a shot: those of the same path are the same, others are new. */
export function joinSources(
  shot: Shot,
  copied: readonly Source[],
): { readonly sources: ReadonlyMap<string, string>; readonly added: readonly Source[] } {
  const sources = new Map<string, string>()
  const added: Source[] = []
  for (const source of copied) {
    const known = allOf(shot.sources).find(({ path }) => path === source.path)
    const id = known?.id ?? newId()
    sources.set(source.id, id)
    // Its files come along; what they were made of does not.
    const { made: _made, ...came } = source
    if (!known) added.push({ ...came, id })
  }
  return { sources, added }
}

export const nameAndPath = ({ name, path }: Source) => `${name} (${path})`

/** Sources that things refer to. */
export function sourcesReferred(shot: Shot, refs: readonly Reference[]): readonly Source[] {
  return allOf(shot.sources).filter(({ id }) => refs.some((ref) => ref.kind === 'source' && ref.id === id))
}

/** Beside themselves: right in front of the nearest of them. @returns null when only the plate is chosen */
export function duplicateElements(shot: Shot, ids: readonly string[]): Pasted | null {
  const chosen = movable(shot, ids)
  const nearest = chosen.at(-1)
  if (!nearest) return null
  const pasted = pasteElements(shot, copyElements(shot, ids), nearest.id, true)
  return { ...pasted, edit: { ...pasted.edit, label: `Duplicate ${namesOf(chosen)}` } }
}

interface NewIds {
  readonly sources: ReadonlyMap<string, string>
  readonly elements: ReadonlyMap<string, string>
}

const mapped = (refs: Readonly<Record<string, string>>, ids: ReadonlyMap<string, string>) =>
  Object.fromEntries(Object.entries(refs).map(([name, id]) => [name, ids.get(id) ?? id]))

function redirected({ byId }: Table<Input>, { sources, elements }: NewIds): Table<Input> {
  const one = (input: Input): Input => {
    if (input.kind === 'pass') return { ...input, source: sources.get(input.source) ?? input.source }
    return input.kind === 'element' ? { ...input, element: elements.get(input.element) ?? input.element } : input
  }
  return { byId: Object.fromEntries(Object.entries(byId).map(([id, input]) => [id, one(input)])) }
}

function showing(blend: BlendSettings, { sources }: NewIds): BlendSettings {
  const { shows } = blend
  return shows ? { ...blend, shows: { ...shows, source: sources.get(shows.source) ?? shows.source } } : blend
}

function usedBy(use: Use, element: string, treatment: string, to: NewIds): Use {
  const { limit } = use
  return {
    ...{ ...use, id: newId(), treatment, owner: { kind: 'element', id: element } },
    limit: limit && { ...limit, matte: limit.matte && matteIn(limit.matte, to) },
  }
}

function matteIn(matte: MatteReference, { sources, elements }: NewIds): MatteReference {
  if (matte.kind === 'source') return { ...matte, source: sources.get(matte.source) ?? matte.source }
  return matte.kind === 'element' ? { ...matte, element: elements.get(matte.element) ?? matte.element } : matte
}
