/** Which sources a treatment can read, and which it reads when it is added. */

import { mediaKind } from '../../../../core/check'
import { newTreatment, type Source, type TreatmentSettings } from '../../../../core/shot'
import { treatments, type SourceDescription, type TreatmentKind } from '../../../../core/treatments'

export function sourcesFor(takes: SourceDescription['takes'], sources: readonly Source[]): readonly Source[] {
  const kind = takes === 'table' ? 'table' : 'picture'
  return sources.filter(({ path }) => mediaKind(path) === kind)
}

/** @returns null where a source is wanting */
export function settingsFor(
  kind: TreatmentKind,
  taken: readonly TreatmentSettings[],
  sources: readonly Source[],
): TreatmentSettings | null {
  let id: string = kind
  for (let n = 2; taken.some((one) => one.id === id); n++) id = `${kind}-${n}`
  const { sources: wanted = [] } = treatments[kind]
  if (wanted.length === 0) return newTreatment(kind, id)
  const found = wanted.map(({ name, takes }) => [name, sourcesFor(takes, sources)[0]?.id] as const)
  if (found.some(([, source]) => source === undefined)) return null
  return { ...newTreatment(kind, id), sources: Object.fromEntries(found) as Record<string, string> }
}
