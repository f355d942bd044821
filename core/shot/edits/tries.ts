/** Edits of tries: how elements, treatments and finish were, kept in the document to compare with and to come back to. */

import type { Draft } from 'immer'
import { object, string } from 'yup'
import { allOf, inOrder, lastRank } from '../find'
import { id } from '../schema'
import type { Arrangement, Shot, Try } from '../types'
import { editKind, put, take, tryIn } from './kind'

export interface KeepTry {
  readonly kind: 'keep-try'
  readonly id: string
  readonly name: string
}
/** everything is again as it was then; how it was is kept as a try of its own if it is not already */
export interface UseTry {
  readonly kind: 'use-try'
  readonly id: string
  readonly keepAs: { readonly id: string; readonly name: string }
}
export interface RemoveTry {
  readonly kind: 'remove-try'
  readonly id: string
}

const fields = (shape: Parameters<typeof object>[0]) => object(shape).noUnknown().strict().required()
const text = () => string().strict().trim().min(1).max(200).required()

/** A copy, since two places of a document must not be changed together. */
function arrangement({ plate, elements, treatments, uses }: Draft<Arrangement> | Arrangement): Arrangement {
  // Documents are JSON, and what is copied may be a draft of a draft, which nothing else can copy.
  return JSON.parse(JSON.stringify({ plate, elements, treatments, uses })) as Arrangement
}

function keep(draft: Draft<Shot>, named: { readonly id: string; readonly name: string }): void {
  const rank = lastRank(inOrder({ byId: { ...(draft.tries.byId as Record<string, Try>) } }))
  put<Try>(draft.tries, { id: named.id, name: named.name, rank, ...arrangement(draft) }, 'try')
}

/** @returns "try 3": a name for the next one; only a name, since two tabs may give the same */
export function nextTryName({ tries }: Shot): string {
  const numbers = allOf(tries).map(({ name }) => Number(/^try (\d+)$/.exec(name)?.[1] ?? 0))
  return `try ${1 + Math.max(0, ...numbers)}`
}

const tryName = (shot: Shot, wanted: string) => shot.tries.byId[wanted]?.name ?? wanted

export const keepTry = editKind<KeepTry>({
  kind: 'keep-try',
  schema: fields({ kind: string().required(), id: id(), name: text() }),
  apply: (draft, named) => keep(draft, named),
  sentence: (_shot, { name }) => `Keep ${name}`,
})

export const useTry = editKind<UseTry>({
  kind: 'use-try',
  schema: fields({ kind: string().required(), id: id(), keepAs: fields({ id: id(), name: text() }) }),
  apply(draft, { id: wanted, keepAs }) {
    const used = arrangement(tryIn(draft, wanted))
    const now = JSON.stringify(arrangement(draft))
    const known = allOf(draft.tries as Shot['tries']).some((one) => JSON.stringify(arrangement(one)) === now)
    if (!known) keep(draft, keepAs)
    Object.assign(draft, used)
  },
  sentence: (shot, { id: wanted }) => `Use ${tryName(shot, wanted)}`,
})

export const removeTry = editKind<RemoveTry>({
  kind: 'remove-try',
  schema: fields({ kind: string().required(), id: id() }),
  apply(draft, { id: removed }) {
    tryIn(draft, removed)
    take(draft.tries, removed)
  },
  sentence: (shot, { id: removed }) => `Remove ${tryName(shot, removed)}`,
})
