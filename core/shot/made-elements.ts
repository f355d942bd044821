/** Elements that are made here, not read: gradients, noise, one colour. */

import { gradientInputs, newBlend, newElement, newPlacing, newTreatment, noiseInputs } from './defaults'
import type { SingleChange } from './edits'
import { childrenOf, find, firstRanks, newId, parentOf, rankBetween } from './find'
import { inputDescriptions } from '../set/owners'
import { parametersFor } from './parameters'
import type { ConstantInput, ElementInput, Input, Shot, Table, Use } from './types'

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

/** How soft a shadow is at first, in pixels. */
const shadowSoftness = 6

/**
 * A shadow of an element, made of its coverage, right behind it: moved, laid over and softened like any other element. It follows
 * what it is made of.
 */
export function addShadowOf(shot: Shot, of: string): Extract<SingleChange, { kind: 'add-element' }> | null {
  const caster = find(shot.elements, of)
  if (!caster || of === shot.plate) return null
  const parent = parentOf(shot, caster)
  const siblings = childrenOf(shot, parent)
  const at = siblings.findIndex(({ id }) => id === of)
  const [rank] = firstRanks(1)
  const input: ElementInput = {
    ...{ id: 'element', kind: 'element', parent: null, rank, element: of },
    parameters: parametersFor(inputDescriptions.element),
  }
  const element = {
    ...newElement(
      newId(),
      `Shadow of ${caster.name}`,
      rankBetween(siblings[at - 1]?.rank ?? null, caster.rank),
      newBlend('shadow'),
      { byId: { element: input } },
    ),
    ...{ parent, placing: newPlacing({ x: 0, y: 0, ...shot.frameSize }) },
  }
  const soften = newTreatment('soften', newId(), { across: [shadowSoftness], down: [shadowSoftness] })
  const owner = { kind: 'element', id: element.id } as const
  const use: Use = { id: newId(), rank, owner, treatment: soften.id, on: true, limit: null }
  return { kind: 'add-element', element, treatments: [soften], uses: [use] }
}
