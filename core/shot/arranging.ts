/** What a person does with several elements at once, as one edit: move, group, take apart, remove. */

import { groupInputs, newBlend, newElement } from './defaults'
import type { SingleChange, Together } from './edits'
import { childrenOf, elementsInOrder, find, isInside, newId, parentOf, rankBetween } from './find'
import type { Element, Shot } from './types'

/** Where elements go: into a group or to the top, right behind another of its children; null: nearest of all. */
export interface Spot {
  readonly parent: string | null
  readonly behind: string | null
}

/** The chosen elements, far to near, without the plate and without what is in a group that is chosen too. */
export function movable(shot: Shot, ids: readonly string[]): readonly Element[] {
  return elementsInOrder(shot)
    .map(({ element }) => element)
    .filter(({ id }) => ids.includes(id) && id !== shot.plate)
    .filter(({ id }) => !ids.some((other) => other !== id && isInside(shot, id, other)))
}

/** @returns null when nothing would move */
export function moveTo(shot: Shot, ids: readonly string[], { parent, behind }: Spot): Together | null {
  const moved = movable(shot, ids)
  const stay = childrenOf(shot, parent).filter(({ id }) => !moved.some((one) => one.id === id))
  const at = behind === null ? stay.length : stay.findIndex(({ id }) => id === behind)
  if (moved.length === 0 || at < 0) return null
  const next = stay[at]?.rank ?? null
  let last = stay[at - 1]?.rank ?? null
  const changes = moved.map(({ id }): SingleChange => {
    last = rankBetween(last, next)
    return { kind: 'move-element', element: id, parent, rank: last }
  })
  return { kind: 'together', changes }
}

/** One step nearer or farther among its brothers; into and out of groups goes by `moveTo`. @returns null at the end */
export function step(shot: Shot, id: string, way: 'nearer' | 'farther'): Together | null {
  const element = find(shot.elements, id)
  if (!element || id === shot.plate) return null
  const parent = parentOf(shot, element)
  const brothers = childrenOf(shot, parent)
  const at = brothers.findIndex((one) => one.id === id)
  if (way === 'nearer')
    return at + 1 < brothers.length ? moveTo(shot, [id], { parent, behind: brothers[at + 2]?.id ?? null }) : null
  const before = brothers[at - 1]
  return before && before.id !== shot.plate ? moveTo(shot, [id], { parent, behind: before.id }) : null
}

/** A group in the place of the nearest of them, with all of them in it in their order. @returns null when there is nothing to group */
export function group(
  shot: Shot,
  ids: readonly string[],
  name: string,
): { readonly edit: Together; readonly id: string } | null {
  const inside = movable(shot, ids)
  const nearest = inside.at(-1)
  if (!nearest) return null
  const id = newId()
  const parent = parentOf(shot, nearest)
  const element = { ...newElement(id, name, nearest.rank, newBlend('over'), groupInputs()), parent }
  let last: string | null = null
  const moves = inside.map(({ id: moved }): SingleChange => {
    last = rankBetween(last, null)
    return { kind: 'move-element', element: moved, parent: id, rank: last }
  })
  const add: SingleChange = { kind: 'add-element', element, treatments: [], uses: [] }
  return { id, edit: { kind: 'together', changes: [add, ...moves], label: `Group ${namesOf(inside)}` } }
}

/** What is in a group comes to where the group is; the group goes. */
export function ungroup(shot: Shot, id: string): Together | null {
  const element = find(shot.elements, id)
  if (!element) return null
  const parent = parentOf(shot, element)
  const brothers = childrenOf(shot, parent)
  const next = brothers[brothers.findIndex((one) => one.id === id) + 1]?.id ?? null
  const inside = childrenOf(shot, id).map((one) => one.id)
  const moved = inside.length > 0 ? moveTo(shot, inside, { parent, behind: next }) : null
  const changes: SingleChange[] = [...(moved?.changes ?? []), { kind: 'remove-element', element: id }]
  return { kind: 'together', changes, label: `Take the group ${element.name} apart` }
}

/** With everything that is in a group that is chosen. @returns null when only the plate is chosen */
export function removeAll(shot: Shot, ids: readonly string[]): Together | null {
  const chosen = movable(shot, ids)
  if (chosen.length === 0) return null
  const gone = elementsInOrder(shot)
    .map(({ element }) => element)
    .filter(({ id }) => chosen.some((one) => isInside(shot, id, one.id)))
  return {
    kind: 'together',
    // What is in a group goes first, else it would come to the top.
    changes: [...gone].reverse().map(({ id }): SingleChange => ({ kind: 'remove-element', element: id })),
    label: `Remove ${namesOf(chosen)}`,
  }
}

/** "Bell", "Bell and Rope", "Bell and 3 more". */
export function namesOf(elements: readonly Pick<Element, 'name'>[]): string {
  const [first, second, ...more] = elements.map(({ name }) => name)
  if (second === undefined) return first ?? 'nothing'
  return more.length === 0 ? `${first} and ${second}` : `${first} and ${more.length + 1} more`
}
