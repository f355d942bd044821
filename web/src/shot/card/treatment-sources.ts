/** Which sources a treatment can read, and a new treatment with its use, where the light path has it. */

import {
  allOf,
  belongsTo,
  type Change,
  mattesOf,
  mediaKind,
  nameOfUse,
  newDrawnMatte,
  newId,
  newLimit,
  newTreatment,
  newUse,
  plateSource,
  type Shot,
  type Source,
  type TreatmentSettings,
  type Use,
  type UseOwner,
  usesOf,
} from '../../../../core/shot'
import { treatments, type SourceDescription, type TreatmentKind } from '../../../../core/treatments'

export function sourcesFor(takes: SourceDescription['takes'], sources: readonly Source[]): readonly Source[] {
  const kind = takes === 'table' ? 'table' : 'picture'
  return sources.filter(({ path }) => mediaKind(path) === kind)
}

/** A picture is the plate's, until another is chosen. */
function firstFor(takes: SourceDescription['takes'], shot: Shot, sources: readonly Source[]): string | undefined {
  const fitting = sourcesFor(takes, sources)
  const plate = takes === 'rgba' ? plateSource(shot) : undefined
  return (fitting.find(({ id }) => id === plate?.id) ?? fitting.at(0))?.id
}

/** @returns the edit that adds a treatment; null where a source is wanting that it reads */
export function additionOf(
  kind: TreatmentKind,
  owner: UseOwner,
  shot: Shot,
  sources: readonly Source[],
): Change | null {
  const wanted = (treatments[kind].sources ?? []).filter(({ without }) => without === undefined)
  const found = wanted.map(({ name, takes }) => [name, firstFor(takes, shot, sources)] as const)
  if (found.some(([, source]) => source === undefined)) return null
  const id = newId()
  const plain = newTreatment(kind, id)
  const settings =
    wanted.length === 0 ? plain : { ...plain, sources: Object.fromEntries(found) as Record<string, string> }
  const use = newUse(shot, owner, kind, id)
  return treatments[kind].byMatte ? limitedAddition(shot, settings, use) : { kind: 'add-treatment', settings, use }
}

/** By the matte that was made last; where there is none, by a new one to be drawn. */
function limitedAddition(shot: Shot, settings: TreatmentSettings, use: Use): Change {
  const last = mattesOf(shot).at(-1)
  const by = (matte: string) => ({ ...use, limit: newLimit({ kind: 'matte', matte }) })
  if (last) return { kind: 'add-treatment', settings, use: by(last.id) }
  const matte = newDrawnMatte(shot)
  return {
    kind: 'together',
    changes: [
      { kind: 'add-matte', matte },
      { kind: 'add-treatment', settings, use: by(matte.id) },
    ],
    label: `${treatments[settings.kind].label} by a new matte`,
  }
}

export interface Shareable {
  readonly treatment: string
  readonly kind: TreatmentKind
  /** "Veil and gain of Diving bell" */
  readonly words: string
  readonly edit: Change
}

/** Settings that act elsewhere and could act here too: changed in one place they change in all. */
export function shareableWith(owner: UseOwner, shot: Shot): Shareable[] {
  const here = new Set(usesOf(shot, owner).map(({ treatment }) => treatment))
  return allOf(shot.treatments)
    .filter(({ id, kind }) => !here.has(id) && belongsTo(kind, owner))
    .map(({ id, kind }) => {
      const names = allOf(shot.uses).flatMap((use) => (use.treatment === id ? [nameOfUse(shot, use)] : []))
      const use = newUse(shot, owner, kind, id)
      const words = `${treatments[kind].label} of ${[...new Set(names)].join(' and ')}`
      return { treatment: id, kind, words, edit: { kind: 'share-treatment', use } as const }
    })
    .sort((a, b) => (a.words < b.words ? -1 : 1))
}
