/** From settings that were found to edits of the document. */

import {
  applyEdit,
  find,
  inOrder,
  lastRank,
  newId,
  newTreatment,
  newUse,
  parametersFor,
  usesOf,
  type Owner,
  type Parameters,
  type Shot,
  type SingleChange,
} from '../shot'
import { blends } from '../set/blends'
import { elementDescription } from '../set/owners'
import type { TreatmentKind } from '../treatments'
import type { Matched, MatchedPart, Matching } from './parts'

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

/** Which settings become changes: those that are sure, or all that were found. */
export type Accept = 'sure' | 'all'

export const accepted = (parts: readonly MatchedPart[], accept: Accept): MatchedPart[] =>
  parts.filter(({ sure }) => sure || accept === 'all')

/** @returns edits to be made in this order; what is not there yet is added, and what somebody has set stays as it is */
export function changesOf(shot: Shot, { parts, witnesses }: Pick<Matching, 'parts' | 'witnesses'>): SingleChange[] {
  const changes: SingleChange[] = []
  let now = shot
  const change = (one: SingleChange) => {
    now = applyEdit(now, one).shot
    changes.push(one)
  }
  for (const witness of witnesses)
    if (!find(now.witnesses, witness.id))
      change({ kind: 'add-witness', witness: { ...witness, rank: lastRank(inOrder(now.witnesses)) } })
  for (const { element, what, values, sharedBy } of parts) {
    const target = targets[what]
    const numbers = values.map(({ value }) => value)
    if (!find(now.elements, element) || isSet(shot, element, what)) continue
    if ('of' in target) {
      change(setsOf(ownerOf(target.of, element), target.parameter, numbers, now))
      continue
    }
    const known = ownUse(now, element, target.treatment)
    const id = known?.settings.id ?? newId()
    const useOf = (of: string) => newUse(now, { kind: 'element', id: of }, target.treatment, id)
    if (!known) change({ kind: 'add-treatment', settings: newTreatment(target.treatment, id), use: useOf(element) })
    const each = target.parameters.length === 1 ? [numbers] : numbers.map((value) => [value])
    target.parameters.forEach((parameter, i) => change(setsOf({ kind: 'treatment', id }, parameter, each[i], now)))
    for (const other of sharedBy)
      if (find(now.elements, other) && !ownUse(now, other, target.treatment))
        change({ kind: 'share-treatment', use: useOf(other) })
  }
  return changes
}

const ownerOf = (of: 'blend' | 'element', element: string): Owner =>
  of === 'blend' ? { kind: 'blend', element } : { kind: 'element', id: element }

/** Whether somebody gave a setting another value than the one it began with. */
export function isSet(shot: Shot, element: string, what: Matched): boolean {
  const target = targets[what]
  const differs = (now: Parameters, initial: Parameters, names: readonly string[]) =>
    names.some((name) => JSON.stringify(now[name]) !== JSON.stringify(initial[name]))
  if ('treatment' in target) {
    // What the glass does to all of them counts where an element has none of its own, which would take its place.
    const known = ownUse(shot, element, target.treatment)?.settings ?? glassSettings(shot, target.treatment)
    const { parameters } = newTreatment(target.treatment, 'plain')
    return known !== undefined && differs(known.parameters, parameters, target.parameters)
  }
  const found = find(shot.elements, element)
  if (!found) return false
  return target.of === 'blend'
    ? differs(found.blend.parameters, parametersFor(blends[found.blend.kind]), [target.parameter])
    : differs(found.parameters, parametersFor(elementDescription), [target.parameter])
}

const glassSettings = (shot: Shot, kind: TreatmentKind) =>
  usesOf(shot, { kind: 'glass' })
    .filter(({ on }) => on)
    .map(({ treatment }) => find(shot.treatments, treatment))
    .find((settings) => settings?.kind === kind)

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
