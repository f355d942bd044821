/** New things with every parameter at its initial value. */

import { blends, type BlendKind } from '../set/blends'
import {
  elementDescription,
  inputDescriptions,
  limitDescription,
  placingDescription,
  shutterDescription,
} from '../set/owners'
import { treatments, type Description, type TreatmentKind } from '../treatments'
import { firstRanks } from './find'
import { parametersFor } from './parameters'
import type {
  BlendSettings,
  Box,
  Choices,
  Element,
  GradientInput,
  GroupInput,
  Input,
  Limit,
  NoiseInput,
  Parameters,
  PassInput,
  Placing,
  Point,
  Shot,
  Table,
  TreatmentSettings,
} from './types'

export function newTreatment(kind: TreatmentKind, id: string, parameters: Parameters = {}): TreatmentSettings {
  const description = treatments[kind]
  const { choices, points } = description
  return {
    ...{ id, kind, parameters: parametersFor(description, parameters) },
    ...(choices ? { choices: initialChoices(description) } : {}),
    ...(points ? { points: { byId: {} } } : {}),
  }
}

export const initialChoices = ({ choices = [] }: Description): Choices =>
  Object.fromEntries(choices.map(({ name, initial }) => [name, initial]))

export const newShutter = (): Shot['shutter'] => ({ parameters: parametersFor(shutterDescription) })

/** Where it came, with a box about it: its pivot is the middle of the box. */
export function newPlacing(box: Box, given: Parameters = {}): Placing {
  const pivot = { pivotX: [box.x + box.width / 2], pivotY: [box.y + box.height / 2] }
  return { parameters: parametersFor(placingDescription, { ...pivot, ...given }), box }
}

/** @param set of the description's sets, where it has any */
export function newPoint({ points }: Description, id: string, parameters: Parameters = {}, set?: string): Point {
  const described = { kind: 'point', label: '', help: '', parameters: points?.parameters ?? [] }
  return { id, ...(set === undefined ? {} : { set }), parameters: parametersFor(described, parameters) }
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

/** From black without coverage to white, across the box. */
export function gradientInputs(box: Box): Table<GradientInput> {
  const description = inputDescriptions.gradient
  const [rank] = firstRanks(1)
  const end = (id: string, at: number, level: number) =>
    newPoint(description, id, { at: [at], colour: [level, level, level], alpha: [at] })
  const middle = box.y + box.height / 2
  const parameters = parametersFor(description, {
    ...{ startX: [box.x], startY: [middle] },
    ...{ endX: [box.x + box.width], endY: [middle] },
  })
  const points = tableOf([end('start', 0, 0), end('end', 1, 1)])
  const input: GradientInput = {
    ...{ id: 'gradient', kind: 'gradient', parent: null, rank, parameters, points },
    choices: initialChoices(description),
  }
  return { byId: { gradient: input } }
}

export function noiseInputs(): Table<NoiseInput> {
  const [rank] = firstRanks(1)
  const parameters = parametersFor(inputDescriptions.noise)
  return { byId: { noise: { id: 'noise', kind: 'noise', parent: null, rank, parameters } } }
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
