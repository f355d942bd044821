/** Finding things in a document: by id, in order, by what they belong to. */

import { generateKeyBetween } from 'fractional-indexing'
import type { Arrangement, Element, Input, Ranked, Shot, Source, Table, Use, UseOwner } from './types'

/** @returns the thing of that id, or undefined; never what every object inherits */
export function find<T>({ byId }: Table<T>, id: string): T | undefined {
  // Planning asks thousands of times for a picture. Inherited are functions, and the prototype: one look tells them apart.
  const found: unknown = byId[id]
  return typeof found === 'object' && found !== null && found !== Object.prototype ? (found as T) : undefined
}

/** In no order that means anything: databases put keys in an order of their own. */
export const allOf = <T>({ byId }: Table<T>): T[] => Object.values(byId)

/** `take 10` comes after `take 9`. The platform's own collation takes a tenth of a second to load, before the first picture. */
const sortedAs = (name: string) => name.toLowerCase().replace(/\d+/g, (digits) => digits.padStart(12, '0'))

/** Sources as a list shows them. */
export const sourcesByName = ({ sources }: Pick<Shot, 'sources'>): Source[] =>
  allOf(sources)
    .map((source) => ({ source, name: sortedAs(source.name) }))
    .sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : a.source.id < b.source.id ? -1 : 1))
    .map(({ source }) => source)

const before = (a: Ranked, b: Ranked) => (a.rank < b.rank ? -1 : a.rank > b.rank ? 1 : a.id < b.id ? -1 : 1)

const sorted = new WeakMap<object, readonly Ranked[]>()

/** Everything in order; tables are never changed in place, so each is sorted once. */
export function inOrder<T extends Ranked>({ byId }: Table<T>): readonly T[] {
  let found = sorted.get(byId)
  if (!found) sorted.set(byId, (found = Object.values(byId).sort(before)))
  return found as readonly T[]
}

/** @returns a rank between two others; null is the beginning or the end */
export function rankBetween(a: string | null, b: string | null): string {
  return generateKeyBetween(a, b !== null && a !== null && b <= a ? null : b)
}

/** @returns as many ranks, in order, for things that come after everything there is */
export function firstRanks(count: number): string[] {
  const ranks: string[] = []
  for (let i = 0; i < count; i++) ranks.push(rankBetween(ranks.at(-1) ?? null, null))
  return ranks
}

/** @returns the rank after all of them */
export function lastRank(things: readonly Ranked[]): string {
  return rankBetween(things.at(-1)?.rank ?? null, null)
}

/** Elements of a group, or of the top, far to near. An element whose group is gone, or that is in itself, is at the top. */
export function childrenOf(shot: Arrangement, parent: string | null): readonly Element[] {
  return inOrder(shot.elements).filter((element) => parentOf(shot, element) === parent)
}

/** @returns the group that an element is in, or null where there is none such */
export function parentOf(shot: Arrangement, element: Element): string | null {
  const { parent } = element
  if (parent === null) return null
  const group = find(shot.elements, parent)
  if (!group || rootInput(group)?.kind !== 'group') return null
  return isInside(shot, parent, element.id) ? null : parent
}

/** Whether an element is another, or in it, however deep. A circle counts as being inside. */
export function isInside(shot: Arrangement, id: string, group: string): boolean {
  const seen = new Set<string>()
  for (let at: string | null = id; at !== null && !seen.has(at); at = find(shot.elements, at)?.parent ?? null) {
    if (at === group) return true
    seen.add(at)
  }
  return false
}

/** Every element, far to near, each group before what is in it, with its depth. */
export function elementsInOrder(shot: Arrangement): readonly { readonly element: Element; readonly depth: number }[] {
  const all: { element: Element; depth: number }[] = []
  const visit = (parent: string | null, depth: number) => {
    for (const element of childrenOf(shot, parent)) {
      all.push({ element, depth })
      if (rootInput(element)?.kind === 'group') visit(element.id, depth + 1)
    }
  }
  visit(null, 0)
  return all
}

/** Elements that have every word somewhere in their name or their tags, in order; all of them when nothing is wanted. */
export function elementsFound(shot: Arrangement, wanted: string): ReturnType<typeof elementsInOrder> {
  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean)
  if (words.length === 0) return elementsInOrder(shot)
  return elementsInOrder(shot)
    .filter(({ element: { name, tags = [] } }) => {
      const text = [name, ...tags].join(' ').toLowerCase()
      return words.every((word) => text.includes(word))
    })
    .map(({ element }) => ({ element, depth: 0 }))
}

/** @returns the root of an element's input tree; undefined only in a damaged document */
export function rootInput({ inputs }: Pick<Element, 'inputs'>): Input | undefined {
  return inOrder(inputs).find(({ parent }) => parent === null)
}

export function partsOfInput({ inputs }: Pick<Element, 'inputs'>, id: string): readonly Input[] {
  return inOrder(inputs).filter(({ parent }) => parent === id)
}

/** The uses of treatments on an element or on the finish, in order. */
export function usesOf({ uses }: Arrangement, owner: UseOwner): readonly Use[] {
  return usesByOwner(uses).get(ownerName(owner)) ?? []
}

// No id has a space in it.
const ownerName = (owner: UseOwner) => (owner.kind === 'element' ? owner.id : ` ${owner.kind}`)
const byOwner = new WeakMap<object, ReadonlyMap<string, readonly Use[]>>()

function usesByOwner(uses: Table<Use>): ReadonlyMap<string, readonly Use[]> {
  let found = byOwner.get(uses.byId)
  if (!found) {
    const map = new Map<string, Use[]>()
    for (const use of inOrder(uses)) {
      const name = ownerName(use.owner)
      const list = map.get(name)
      if (list) list.push(use)
      else map.set(name, [use])
    }
    byOwner.set(uses.byId, (found = map))
  }
  return found
}

/** The source that the plate is read from; undefined where there is none. */
export function plateSource(shot: Shot): Source | undefined {
  const plate = find(shot.elements, shot.plate)
  const root = plate && rootInput(plate)
  return root?.kind === 'pass' ? find(shot.sources, root.source) : undefined
}

/** Random, never counted: two tabs that add a thing at the same time add two things. */
export function newId(): string {
  return crypto.randomUUID().replaceAll('-', '').slice(0, 20)
}
