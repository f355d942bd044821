/** Exposure, white balance and saturation of an element, each by itself: what its witnesses say it would have to be. */

import { lumaWeights, workingSpaces } from '../colour'
import { numberNames, oneNumber, purposes, triedOf, unlikeOf, type NumberName, type NumberProposed } from '../match'
import {
  applyEdit,
  inOrder,
  newTreatment,
  newUse,
  type Owner,
  type Shot,
  type SingleChange,
  type Use,
  type TreatmentSettings,
} from '../shot'
import type { TreatmentKind } from '../treatments'
import { ownUse } from './changes'
import { plansOf, type Look } from './look'
import type { PlanOf } from './parts'
import { countsOn, WitnessReader, type WitnessReading } from './read-witness'

/** The treatment and the parameter that a number is set by. */
export const numberSettings: Readonly<
  Record<NumberName, { readonly treatment: TreatmentKind; readonly parameter: string; readonly channels: 1 | 3 }>
> = {
  exposure: { treatment: 'exposure', parameter: 'stops', channels: 3 },
  'white balance': { treatment: 'white-balance', parameter: 'to', channels: 1 },
  saturation: { treatment: 'saturation', parameter: 'amount', channels: 1 },
}

/** What makes a treatment of an element its own setting of a number, added where it has none. */
export interface NumberChanges {
  /** null where the element has one already */
  readonly added: { readonly settings: TreatmentSettings; readonly use: Use } | null
  readonly sets: SingleChange
}

/** @param id of the treatment that is added where the element has none */
export function numberChanges(
  shot: Shot,
  element: string,
  name: NumberName,
  { value, frame, id }: { readonly value: number; readonly frame: number; readonly id: string },
): NumberChanges {
  const { treatment, parameter, channels } = numberSettings[name]
  const known = ownUse(shot, element, treatment)
  const owner: Owner = { kind: 'treatment', id: known?.settings.id ?? id }
  const values = Array.from({ length: channels }, () => Number(value.toFixed(6)))
  return {
    added: known
      ? null
      : { settings: newTreatment(treatment, id), use: newUse(shot, { kind: 'element', id: element }, treatment, id) },
    sets: { kind: 'set-channels', at: { owner, parameter }, frame, values },
  }
}

/** @returns by name; null where no witness can tell it */
export async function proposeNumbers(
  shot: Shot,
  look: Look,
  plan: PlanOf,
  element: string,
  frame: number,
): Promise<Readonly<Record<NumberName, NumberProposed | null>>> {
  const witnesses = inOrder(shot.witnesses).filter(
    // In the dark it is the veil that is seen, which no number of these is about.
    (one) =>
      one.element === element &&
      (one.purpose === 'colour' || purposes[one.purpose].comparesLight) &&
      one.purpose !== 'black' &&
      countsOn(shot, one, frame),
  )
  const reader = new WitnessReader(look)
  const luma = lumaWeights(workingSpaces[shot.workingSpace])
  const found: Partial<Record<NumberName, NumberProposed | null>> = {}
  for (const name of numberNames) {
    const read: WitnessReading[][] = []
    for (const value of triedOf(name))
      read.push(await reader.read(plansOf(withNumber(shot, element, name, { value, frame }), plan), frame, witnesses))
    const pairs = witnesses.flatMap((witness, i) => {
      const { reference } = read[0][i]
      const adjusted = read.flatMap((one) => one[i].adjusted ?? [])
      return reference && adjusted.length === read.length
        ? [{ name: witness.name, reference, adjusted, unlike: unlikeOf(witness) }]
        : []
    })
    found[name] = oneNumber(name, pairs, luma)
  }
  return found as Record<NumberName, NumberProposed | null>
}

function withNumber(
  shot: Shot,
  element: string,
  name: NumberName,
  to: { readonly value: number; readonly frame: number },
): Shot {
  const { added, sets } = numberChanges(shot, element, name, { ...to, id: 'tried' })
  const ready = added ? applyEdit(shot, { kind: 'add-treatment', ...added }).shot : shot
  return applyEdit(ready, sets).shot
}
