/** Tries: how elements and finish stood, kept in the document to compare with and to come back to. */

import type { Draft } from 'immer'
import { ImpossibleEditError } from './impossible-edit'
import type { Shot, Try } from './types'

type Standing = Pick<Draft<Try>, 'elements' | 'finish'>

/** How things stand, of a shot or of a try: a copy, since two places of a document must not be changed together. */
function standing({ elements, finish }: Standing): Standing {
  // Documents are JSON, and what is copied may be a draft of a draft, which nothing else can copy.
  return JSON.parse(JSON.stringify(finish ? { elements, finish } : { elements })) as Standing
}

/** Tries are numbered on: a number that was given is not given again while a later one is there. */
function nextNumber(tries: readonly { readonly id: string }[] = []): number {
  return 1 + Math.max(0, ...tries.map(({ id }) => Number(/\d+$/.exec(id)?.[0] ?? 0)))
}

export const nextTryName = ({ tries }: Shot): string => `try ${nextNumber(tries)}`

export function keepTry(draft: Draft<Shot>): void {
  const number = nextNumber(draft.tries)
  draft.tries = [...(draft.tries ?? []), { id: `try-${number}`, name: `try ${number}`, ...standing(draft) }]
}

/** Nothing is lost: how things stand is kept first, unless some try is the same. @throws ImpossibleEditError */
export function takeTry(draft: Draft<Shot>, id: string): void {
  const { elements, finish } = standing(find(draft, id))
  const text = (of: Standing) => JSON.stringify(standing(of))
  const now = text(draft)
  if (!draft.tries?.some((one) => text(one) === now)) keepTry(draft)
  draft.elements = elements
  if (finish) draft.finish = finish
  else delete draft.finish
}

/** @throws ImpossibleEditError */
export function dropTry(draft: Draft<Shot>, id: string): void {
  const dropped = find(draft, id)
  draft.tries = draft.tries?.filter((one) => one !== dropped)
  if (draft.tries?.length === 0) delete draft.tries
}

function find(draft: Draft<Shot>, id: string): Draft<Try> {
  const found = draft.tries?.find((one) => one.id === id)
  if (!found) throw new ImpossibleEditError(`There is no try "${id}" in this shot.`)
  return found
}
