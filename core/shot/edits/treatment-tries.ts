/** Edits of a treatment's tries: kept alternatives of its settings, to step through and to come back to. */

import type { Draft } from 'immer'
import { object, string, type ObjectShape } from 'yup'
import { treatments } from '../../treatments'
import { allOf, find, inOrder, lastRank } from '../find'
import { ImpossibleEditError } from '../impossible-edit'
import { mostTreatmentTries } from '../limits'
import { id, text } from '../schema'
import type { Shot, Table, TreatmentSettings, TreatmentTry } from '../types'
import { editKind, put, take, treatmentIn } from './kind'

export interface KeepTreatmentTry {
  readonly kind: 'keep-treatment-try'
  readonly treatment: string
  readonly id: string
  readonly name: string
}
/** its settings are again as they were then; how they are now is kept as a try of its own if it is not already */
export interface UseTreatmentTry {
  readonly kind: 'use-treatment-try'
  readonly treatment: string
  readonly id: string
  readonly keepAs: { readonly id: string; readonly name: string }
}
export interface RemoveTreatmentTry {
  readonly kind: 'remove-treatment-try'
  readonly treatment: string
  readonly id: string
}

const fields = (shape: ObjectShape) => object(shape).noUnknown().strict().required()
type Kept = Pick<TreatmentSettings, 'parameters' | 'choices' | 'points'>
const copied = ({ parameters, choices, points }: Kept | Draft<Kept>) =>
  JSON.parse(JSON.stringify({ parameters, choices, points })) as Kept

/** With names in order, so that equal settings are equal as text. */
const asText = ({ parameters, choices, points }: Kept) => JSON.stringify(inNamesOrder({ parameters, choices, points }))

function inNamesOrder(value: unknown): unknown {
  if (value === null || typeof value !== 'object' || Array.isArray(value)) return value
  return Object.entries(value)
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([name, one]) => [name, inNamesOrder(one)])
}

/** @returns the try whose settings are those of the treatment now; undefined when none is */
export function usedTry(settings: TreatmentSettings): TreatmentTry | undefined {
  const now = asText(settings)
  return settings.tries && inOrder(settings.tries).find((one) => asText(one) === now)
}

/** @returns "3": a name for the next one */
export function nextTreatmentTryName({ tries }: TreatmentSettings): string {
  return String(1 + Math.max(0, ...(tries ? allOf(tries) : []).map(({ name }) => Number(name) || 0)))
}

function keep(settings: Draft<TreatmentSettings>, { id: own, name }: { readonly id: string; readonly name: string }) {
  const tries = (settings.tries ??= { byId: {} } as Draft<Table<TreatmentTry>>)
  const known = allOf(tries as Table<TreatmentTry>)
  if (known.length >= mostTreatmentTries)
    throw new ImpossibleEditError(`A treatment keeps at most ${mostTreatmentTries} tries. Remove some first.`)
  const rank = lastRank(inOrder({ byId: { ...(tries.byId as Record<string, TreatmentTry>) } }))
  put<TreatmentTry>(tries, { id: own, name, rank, ...copied(settings) }, 'try')
}

function tryOf(settings: Draft<TreatmentSettings>, wanted: string): TreatmentTry {
  const found = settings.tries && find(settings.tries as Table<TreatmentTry>, wanted)
  if (!found) throw new ImpossibleEditError(`There is no try "${wanted}" of this treatment any more.`)
  return found
}

function said(shot: Shot, treatment: string, wanted: string): string {
  const settings = find(shot.treatments, treatment)
  const label = settings ? treatments[settings.kind].label.toLowerCase() : 'a treatment'
  return `try ${(settings?.tries && find(settings.tries, wanted)?.name) ?? wanted} of ${label}`
}

export const keepTreatmentTry = editKind<KeepTreatmentTry>({
  kind: 'keep-treatment-try',
  schema: fields({ kind: string().required(), treatment: id(), id: id(), name: text() }),
  apply: (draft, { treatment, id: own, name }) => keep(treatmentIn(draft, treatment), { id: own, name }),
  sentence(shot, { treatment, name }) {
    const settings = find(shot.treatments, treatment)
    return `Keep try ${name} of ${settings ? treatments[settings.kind].label.toLowerCase() : 'a treatment'}`
  },
})

export const useTreatmentTry = editKind<UseTreatmentTry>({
  kind: 'use-treatment-try',
  schema: fields({
    kind: string().required(),
    treatment: id(),
    id: id(),
    keepAs: fields({ id: id(), name: text() }),
  }),
  apply(draft, { treatment, id: wanted, keepAs }) {
    const settings = treatmentIn(draft, treatment)
    const used = copied(tryOf(settings, wanted))
    if (!usedTry(settings as TreatmentSettings)) keep(settings, keepAs)
    Object.assign(settings, used)
  },
  sentence: (shot, { treatment, id: wanted }) => `Use ${said(shot, treatment, wanted)}`,
})

export const removeTreatmentTry = editKind<RemoveTreatmentTry>({
  kind: 'remove-treatment-try',
  schema: fields({ kind: string().required(), treatment: id(), id: id() }),
  apply(draft, { treatment, id: removed }) {
    const settings = treatmentIn(draft, treatment)
    tryOf(settings, removed)
    if (settings.tries) take(settings.tries, removed)
    if (settings.tries && Object.keys(settings.tries.byId).length === 0) delete settings.tries
  },
  sentence: (shot, { treatment, id: removed }) => `Remove ${said(shot, treatment, removed)}`,
})
