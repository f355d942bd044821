/** New things with every parameter at its initial value. */

import { blends, type BlendKind } from '../set/blends'
import { elementDescription, inputDescriptions, limitDescription } from '../set/owners'
import { treatments, type TreatmentKind } from '../treatments'
import { firstRanks } from './find'
import { parametersFor } from './parameters'
import type {
  BlendSettings,
  Element,
  GroupInput,
  Input,
  Limit,
  Parameters,
  PassInput,
  Table,
  TreatmentSettings,
} from './types'

export function newTreatment(kind: TreatmentKind, id: string, parameters: Parameters = {}): TreatmentSettings {
  return { id, kind, parameters: parametersFor(treatments[kind], parameters) }
}

export function newBlend(kind: BlendKind, parameters: Parameters = {}): BlendSettings {
  return { kind, parameters: parametersFor(blends[kind], parameters) }
}

export function newLimit(matte: Limit['matte'], parameters: Parameters = {}): Limit {
  return { matte, inverted: false, parameters: parametersFor(limitDescription, parameters) }
}

/** One pass of a source as an element's whole input. */
export function passInputs(
  source: string,
  part: string | null = null,
  given: Partial<PassInput> = {},
): Table<PassInput> {
  const parameters = parametersFor(inputDescriptions.pass)
  const [rank] = firstRanks(1)
  return { byId: { pass: { id: 'pass', kind: 'pass', parent: null, rank, parameters, source, part, ...given } } }
}

export function groupInputs(): Table<GroupInput> {
  const [rank] = firstRanks(1)
  return { byId: { group: { id: 'group', kind: 'group', parent: null, rank, parameters: {} } } }
}

/** @param inputs its input tree */
export function newElement(
  id: string,
  name: string,
  rank: string,
  blend: BlendSettings,
  inputs: Table<Input>,
): Element {
  return {
    id,
    name,
    rank,
    parent: null,
    inputs,
    visible: true,
    parameters: parametersFor(elementDescription),
    blend,
  }
}

/** Things by their own ids. */
export function tableOf<T extends { readonly id: string }>(things: readonly T[]): Table<T> {
  return { byId: Object.fromEntries(things.map((thing) => [thing.id, thing])) }
}
