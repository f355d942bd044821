/** From settings that were found to edits of the document. */

import {
  applyEdit,
  find,
  inOrder,
  lastRank,
  newTreatment,
  newUse,
  usesOf,
  type Owner,
  type Shot,
  type SingleChange,
  type Witness,
} from '../shot'
import type { TreatmentKind } from '../treatments'
import type { Matched, MatchedPart } from './parts'

/** The treatment and its parameters, or the parameter of the blend or the element, that a setting is. */
type Target =
  | { readonly treatment: TreatmentKind; readonly parameters: readonly string[] }
  | { readonly of: 'blend' | 'element'; readonly parameter: string }

const targets: Readonly<Record<Matched, Target>> = {
  softness: { treatment: 'soften', parameters: ['across', 'down'] },
  veil: { treatment: 'veil-and-gain', parameters: ['veil'] },
  gain: { treatment: 'veil-and-gain', parameters: ['gain'] },
  'plate veil': { of: 'blend', parameter: 'veil' },
  'shadow ratio': { of: 'blend', parameter: 'ratio' },
  'occlusion strength': { of: 'element', parameter: 'opacity' },
}

/**
 * @param idFor the id of what is added, by a name: the same name, the same id
 * @returns to be made in this order; what is not there yet is added
 */
export function changesOf(
  shot: Shot,
  parts: readonly MatchedPart[],
  witnesses: readonly Witness[],
  idFor: (name: string) => string,
): SingleChange[] {
  const changes: SingleChange[] = []
  let now = shot
  const change = (one: SingleChange) => {
    now = applyEdit(now, one).shot
    changes.push(one)
  }
  for (const witness of witnesses)
    change({ kind: 'add-witness', witness: { ...witness, rank: lastRank(inOrder(now.witnesses)) } })
  for (const { element, what, values, sharedBy } of parts) {
    const target = targets[what]
    const numbers = values.map(({ value }) => value)
    if ('of' in target) {
      const owner: Owner = target.of === 'blend' ? { kind: 'blend', element } : { kind: 'element', id: element }
      change(setsOf(owner, target.parameter, numbers, now))
      continue
    }
    const known = ownUse(now, element, target.treatment)
    const id = known?.settings.id ?? idFor(`${element} ${target.treatment}`)
    const useOf = (of: string) => ({
      ...newUse(now, { kind: 'element', id: of }, target.treatment, id),
      id: idFor(`use ${of} ${target.treatment}`),
    })
    if (!known) change({ kind: 'add-treatment', settings: newTreatment(target.treatment, id), use: useOf(element) })
    const each = target.parameters.length === 1 ? [numbers] : numbers.map((value) => [value])
    target.parameters.forEach((parameter, i) => change(setsOf({ kind: 'treatment', id }, parameter, each[i], now)))
    for (const other of sharedBy)
      if (!ownUse(now, other, target.treatment)) change({ kind: 'share-treatment', use: useOf(other) })
  }
  return changes
}

/** Values of all channels, to what a document keeps of them. */
export function setsOf(owner: Owner, parameter: string, values: readonly number[], shot: Shot): SingleChange {
  const kept = values.map((value) => Number(value.toFixed(6)))
  return { kind: 'set-channels', at: { owner, parameter }, frame: shot.frames.first, values: kept }
}

/** The element's own use of a treatment, if it has one that is on. */
export function ownUse(shot: Shot, element: string, kind: TreatmentKind) {
  const use = usesOf(shot, { kind: 'element', id: element }).findLast(
    ({ on, treatment }) => on && find(shot.treatments, treatment)?.kind === kind,
  )
  const settings = use && find(shot.treatments, use.treatment)
  return use && settings ? { use, settings } : null
}
