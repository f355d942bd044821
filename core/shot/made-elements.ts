/** Elements that are made here, not read: gradients, noise, one colour. */

import { gradientInputs, newBlend, newElement, noiseInputs } from './defaults'
import type { SingleChange } from './edits'
import { childrenOf, find, firstRanks, newId, parentOf, rankBetween } from './find'
import { inputDescriptions } from '../set/owners'
import { parametersFor } from './parameters'
import type { ConstantInput, Input, Shot, Table } from './types'

export const madeKinds = ['gradient', 'noise', 'constant'] as const
export type MadeKind = (typeof madeKinds)[number]

function inputsOf(shot: Shot, kind: MadeKind): Table<Input> {
  if (kind === 'gradient') return gradientInputs({ x: 0, y: 0, ...shot.frameSize })
  if (kind === 'noise') return noiseInputs()
  const [rank] = firstRanks(1)
  const parameters = parametersFor(inputDescriptions.constant)
  const constant: ConstantInput = { id: 'constant', kind: 'constant', parent: null, rank, parameters }
  return { byId: { constant } }
}

/** @param behind the element in front of which it comes; null: in front of everything */
export function addMade(
  shot: Shot,
  kind: MadeKind,
  behind: string | null,
): Extract<SingleChange, { kind: 'add-element' }> {
  const chosen = behind === null ? undefined : find(shot.elements, behind)
  const parent = chosen ? parentOf(shot, chosen) : null
  const siblings = childrenOf(shot, parent)
  const at = chosen ? siblings.indexOf(chosen) : siblings.length - 1
  const rank = rankBetween(siblings[at]?.rank ?? null, siblings[at + 1]?.rank ?? null)
  const id = newId()
  const element = {
    ...newElement(id, inputDescriptions[kind].label, rank, newBlend('over'), inputsOf(shot, kind)),
    parent,
  }
  return { kind: 'add-element', element, treatments: [], uses: [] }
}
