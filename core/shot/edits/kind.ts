/** What a kind of edit is: everything that any door needs to know of it. */

import type { Draft } from 'immer'
import type { Schema } from 'yup'
import { find } from '../find'
import { ImpossibleEditError } from '../impossible-edit'
import type {
  Element,
  DrawnMatte,
  Marker,
  Matte,
  ReferenceObject,
  Sample,
  Shape,
  Shot,
  Source,
  Table,
  Track,
  TreatmentSettings,
  Try,
  Use,
  Witness,
} from '../types'

export interface EditKind<E extends { readonly kind: string }> {
  readonly kind: E['kind']
  /** the shape of the edit as it is sent */
  readonly schema: Schema
  /** changes the draft @throws ImpossibleEditError when what it names is gone, or it would break a rule */
  apply(draft: Draft<Shot>, edit: E): void
  /** what it does, for the history and for undo: "Veil red of Bell"; the shot is as it was before */
  sentence(shot: Shot, edit: E): string
}

/** Keeps the edit's own type while the table is made. */
export const editKind = <E extends { readonly kind: string }>(kind: EditKind<E>): EditKind<E> => kind

function wanted<T>(table: Table<T> | Draft<Table<T>>, id: string, what: string): Draft<T> {
  const found = find(table as Table<T>, id)
  if (!found) throw new ImpossibleEditError(`There is no ${what} "${id}" in this shot any more.`)
  return found as Draft<T>
}

export const elementIn = (draft: Draft<Shot>, id: string) => wanted<Element>(draft.elements, id, 'element')
export const sourceIn = (draft: Draft<Shot>, id: string) => wanted<Source>(draft.sources, id, 'source')
export const treatmentIn = (draft: Draft<Shot>, id: string) =>
  wanted<TreatmentSettings>(draft.treatments, id, 'treatment')
export const useIn = (draft: Draft<Shot>, id: string) => wanted<Use>(draft.uses, id, 'use of a treatment')
export const sampleIn = (draft: Draft<Shot>, id: string) => wanted<Sample>(draft.samples, id, 'sample')
export const markerIn = (draft: Draft<Shot>, id: string) => wanted<Marker>(draft.markers, id, 'marker')
export const witnessIn = (draft: Draft<Shot>, id: string) => wanted<Witness>(draft.witnesses, id, 'witness')
export const referenceObjectIn = (draft: Draft<Shot>, id: string) =>
  wanted<ReferenceObject>(draft.referenceObjects, id, 'reference object')
export const trackIn = (draft: Draft<Shot>, id: string) => wanted<Track>(draft.tracks, id, 'track')
export const matteIn = (draft: Draft<Shot>, id: string) => wanted<Matte>(draft.mattes, id, 'matte')
/** @throws ImpossibleEditError when it is not drawn */
export function drawnMatteIn(draft: Draft<Shot>, id: string): Draft<DrawnMatte> {
  const matte = matteIn(draft, id)
  if (matte.kind !== 'drawn') throw new ImpossibleEditError(`${matte.name} is not drawn.`)
  return matte
}
export const shapeIn = (draft: Draft<Shot>, matte: string, id: string) =>
  wanted<Shape>(drawnMatteIn(draft, matte).shapes, id, 'shape')
export const tryIn = (draft: Draft<Shot>, id: string) => wanted<Try>(draft.tries, id, 'try')

/** Puts a new thing into a table. @throws ImpossibleEditError when there is one of that id */
export function put<T extends { readonly id: string }>(table: Draft<Table<T>>, thing: T, what: string): void {
  if (find(table as Table<T>, thing.id))
    throw new ImpossibleEditError(`There is a ${what} with the id "${thing.id}" already.`)
  Object.assign(table.byId, { [thing.id]: thing })
}

export function take<T>(table: Draft<Table<T>>, id: string): void {
  delete (table.byId as Record<string, unknown>)[id]
}

export const elementName = ({ elements }: Shot, id: string) => find(elements, id)?.name ?? id
export const sourceName = ({ sources }: Shot, id: string) => find(sources, id)?.name ?? id
