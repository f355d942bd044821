/** What every kind of thing refers to. Removal, circles, checks and copying read only this. */

import { allOf, find } from './find'
import type { Arrangement, Element, Input, Shot, TreatmentSettings, Use } from './types'

export type ThingKind = 'source' | 'element' | 'treatment' | 'use'

export interface Reference {
  readonly kind: ThingKind
  readonly id: string
}

const source = (id: string): Reference => ({ kind: 'source', id })
const element = (id: string): Reference => ({ kind: 'element', id })

export function refsOfInput(input: Input): Reference[] {
  if (input.kind === 'pass') return [source(input.source)]
  return input.kind === 'element' ? [element(input.element)] : []
}

/** A group refers to what is in it by being named there, not here. */
export function refsOfElement({ parent, inputs }: Element): Reference[] {
  return [...(parent === null ? [] : [element(parent)]), ...allOf(inputs).flatMap(refsOfInput)]
}

export function refsOfTreatment({ sources = {} }: TreatmentSettings): Reference[] {
  return Object.values(sources).map(source)
}

export function refsOfUse({ owner, treatment, limit }: Use): Reference[] {
  const matte = limit?.matte
  return [
    ...(owner.kind === 'element' ? [element(owner.id)] : []),
    { kind: 'treatment', id: treatment },
    ...(matte ? [matte.kind === 'source' ? source(matte.source) : element(matte.element)] : []),
  ]
}

/** Things of an arrangement that refer to one, by what a person calls them. */
export function usersOf(shot: Shot, wanted: Reference): string[] {
  const names = new Set<string>()
  const isIt = (ref: Reference) => ref.kind === wanted.kind && ref.id === wanted.id
  const look = (arrangement: Arrangement, prefix: string) => {
    const nameOf = (use: Use) =>
      use.owner.kind === 'finish' ? 'the finish' : (find(arrangement.elements, use.owner.id)?.name ?? 'an element')
    for (const one of allOf(arrangement.elements)) if (refsOfElement(one).some(isIt)) names.add(prefix + one.name)
    for (const use of allOf(arrangement.uses)) {
      const settings = find(arrangement.treatments, use.treatment)
      if (refsOfUse(use).some(isIt) || (settings && refsOfTreatment(settings).some(isIt)))
        names.add(prefix + nameOf(use))
    }
  }
  look(shot, '')
  for (const kept of allOf(shot.tries)) look(kept, `${kept.name}: `)
  return [...names]
}
