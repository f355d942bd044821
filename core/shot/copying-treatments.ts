/** Treatments as text that can be pasted onto other elements, here or in another shot; and shared settings made one's own. */

import { array, object, string } from 'yup'
import { treatments as descriptions } from '../treatments'
import { joinSources, nameAndPath, NothingToPasteError, sourcesReferred } from './copying'
import type { SingleChange, Together } from './edits'
import { allOf, find, lastRank, newId, usesOf } from './find'
import { nameOfUse } from './parameters'
import { refsOfTreatment, refsOfUse } from './refs'
import { faultOf, sourceSchema, treatmentSchema, useSchema } from './schema'
import {
  schemaVersion,
  type MatteReference,
  type Shot,
  type Source,
  type TreatmentSettings,
  type Use,
  type UseOwner,
} from './types'

/** What is on the clipboard: settings with where they counted, and the sources that they read. */
export interface CopiedTreatments {
  readonly kind: 'enkrasis-treatments'
  readonly schema: typeof schemaVersion
  readonly sources: readonly Source[]
  /** in order */
  readonly treatments: readonly TreatmentSettings[]
  readonly uses: readonly Use[]
}

const copiedSchema = object({
  kind: string().oneOf(['enkrasis-treatments']).required(),
  schema: object().strip(),
  sources: array(sourceSchema).required(),
  treatments: array(treatmentSchema).min(1).required(),
  uses: array(useSchema).min(1).required(),
})

/** @param ids of uses, in the order of the light path */
export function copyTreatments(shot: Shot, ids: readonly string[]): CopiedTreatments {
  const uses = ids.flatMap((id) => find(shot.uses, id) ?? [])
  const settings = uses.flatMap(({ treatment }) => find(shot.treatments, treatment) ?? [])
  const refs = [...settings.flatMap(refsOfTreatment), ...uses.flatMap(refsOfUse)]
  const sources = sourcesReferred(shot, refs)
  return { kind: 'enkrasis-treatments', schema: schemaVersion, sources, treatments: settings, uses }
}

/** @returns null where the text is something else @throws NothingToPasteError when it is damaged */
export function readCopiedTreatments(text: string): CopiedTreatments | null {
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch {
    return null
  }
  const { kind, schema } = (value ?? {}) as { kind?: unknown; schema?: unknown }
  if (kind !== 'enkrasis-treatments') return null
  if (schema !== schemaVersion) throw new NothingToPasteError('it is not from this version of Enkrasis')
  const { schema: _, ...rest } = value as CopiedTreatments
  const fault = faultOf(copiedSchema, rest)
  if (fault !== null) throw new NothingToPasteError(fault)
  return value as CopiedTreatments
}

export interface PastedTreatments {
  readonly edit: Together
  /** names of sources that the shot did not have: they come along, and their files may not be there */
  readonly added: readonly string[]
}

/** After what each owner has; sources of the same path are the same. A limit by an element's alpha comes along where that element is. */
export function pasteTreatments(shot: Shot, copied: CopiedTreatments, owners: readonly UseOwner[]): PastedTreatments {
  const { sources, added } = joinSources(shot, copied.sources)
  const changes: SingleChange[] = added.map((source) => ({ kind: 'add-source', source }))
  for (const owner of owners) {
    let rank = lastRank(usesOf(shot, owner))
    for (const use of copied.uses) {
      const settings = copied.treatments.find(({ id }) => id === use.treatment)
      if (!settings) continue
      const id = newId()
      const reads =
        settings.sources &&
        Object.fromEntries(
          Object.entries(settings.sources).map(([name, source]) => [name, sources.get(source) ?? source]),
        )
      const matte = use.limit?.matte ? matteIn(shot, use.limit.matte, sources) : null
      const limit = use.limit && (use.limit.matte === null || matte) ? { ...use.limit, matte } : null
      changes.push({
        kind: 'add-treatment',
        settings: { ...settings, id, ...(reads ? { sources: reads } : {}) },
        use: { id: newId(), rank, owner, treatment: id, on: use.on, limit },
      })
      rank = lastRank([{ id, rank }])
    }
  }
  const names = [...new Set(copied.treatments.map(({ kind }) => descriptions[kind].label.toLowerCase()))].join(', ')
  return {
    edit: { kind: 'together', changes, label: `Paste ${names}` },
    added: added.map(nameAndPath),
  }
}

function matteIn(shot: Shot, matte: MatteReference, sources: ReadonlyMap<string, string>): MatteReference | null {
  if (matte.kind === 'source') return { ...matte, source: sources.get(matte.source) ?? matte.source }
  const there = matte.kind === 'element' ? find(shot.elements, matte.element) : find(shot.mattes, matte.matte)
  return there ? matte : null
}

/** The same settings again, used here alone: what is changed then changes nowhere else. @returns null where nothing shares them */
export function makeOwn(shot: Shot, id: string): Together | null {
  const use = find(shot.uses, id)
  const settings = use && find(shot.treatments, use.treatment)
  const shared = allOf(shot.uses).filter(({ treatment }) => treatment === use?.treatment).length > 1
  if (!use || !settings || !shared) return null
  const treatment = newId()
  return {
    kind: 'together',
    changes: [
      { kind: 'remove-treatment', use: id },
      { kind: 'add-treatment', settings: { ...settings, id: treatment }, use: { ...use, treatment } },
    ],
    label: `${descriptions[settings.kind].label} of ${nameOfUse(shot, use)} is its own`,
  }
}
