/** Whatever can be keyed has an owner: one address, one way to its description and its curves. */

import type { Draft } from 'immer'
import { blends } from '../set/blends'
import { elementDescription, inputDescriptions, limitDescription } from '../set/owners'
import { treatments, type Description, type ParameterDescription } from '../treatments'
import { find } from './find'
import { ImpossibleEditError } from './impossible-edit'
import type { Owner, Parameter, Parameters, Shot, Use } from './types'

export interface Owned {
  readonly description: Description
  readonly parameters: Parameters
  /** what a person calls the owner */
  readonly name: () => string
}

/** Works on documents and on drafts of them; a draft's parameters may be changed in place. */
export function ownedBy(shot: Shot | Draft<Shot>, owner: Owner): Owned | undefined {
  const { elements, treatments: settings, uses } = shot as Shot
  switch (owner.kind) {
    case 'element': {
      const element = find(elements, owner.id)
      return element && { description: elementDescription, parameters: element.parameters, name: () => element.name }
    }
    case 'blend': {
      const element = find(elements, owner.element)
      return element && { ...element.blend, description: blends[element.blend.kind], name: () => element.name }
    }
    case 'input': {
      const element = find(elements, owner.element)
      const input = element && find(element.inputs, owner.id)
      return input && { ...input, description: inputDescriptions[input.kind], name: () => element.name }
    }
    case 'treatment': {
      const found = find(settings, owner.id)
      return found && { ...found, description: treatments[found.kind], name: () => ownersName(shot as Shot, owner.id) }
    }
    case 'limit': {
      const use = find(uses, owner.use)
      return use?.limit
        ? { description: limitDescription, parameters: use.limit.parameters, name: () => nameOfUse(shot as Shot, use) }
        : undefined
    }
  }
}

/** @returns "Diving bell", or "the finish" */
export function nameOfUse({ elements }: Shot, { owner }: Use): string {
  return owner.kind === 'element' ? (find(elements, owner.id)?.name ?? 'an element that is gone') : `the ${owner.kind}`
}

function ownersName(shot: Shot, treatment: string): string {
  const names = Object.values(shot.uses.byId)
    .filter((use) => use.treatment === treatment)
    .map((use) => nameOfUse(shot, use))
  return [...new Set(names)].join(' and ') || 'nothing'
}

/** @throws ImpossibleEditError when there is no such owner or parameter */
export function parameterOf(
  shot: Shot | Draft<Shot>,
  owner: Owner,
  name: string,
): { readonly known: ParameterDescription; readonly curves: Parameter; readonly owned: Owned } {
  const owned = ownedBy(shot, owner)
  if (!owned) throw new ImpossibleEditError(`What the parameter "${name}" belongs to is not in this shot any more.`)
  const known = owned.description.parameters.find((one) => one.name === name)
  const curves = Object.hasOwn(owned.parameters, name) ? owned.parameters[name] : undefined
  if (!known || !curves) throw new ImpossibleEditError(`${owned.description.label} has no parameter "${name}".`)
  return { known, curves, owned }
}

export function initialParameters(description: Description): Parameters {
  return Object.fromEntries(description.parameters.map((p) => [p.name, Array<number>(p.channels).fill(p.initial)]))
}

/** Parameters as a description asks for them: what is not given has its initial value. */
export function parametersFor(description: Description, given: Parameters = {}): Parameters {
  return { ...initialParameters(description), ...given }
}

/** @returns a sentence for each value beyond its range */
export function beyondRange(description: Description, parameters: Parameters): string[] {
  return description.parameters.flatMap((known) =>
    (parameters[known.name] ?? []).flatMap((curve) => {
      const values = typeof curve === 'number' ? [curve] : Object.values(curve.keyframes)
      const out = values.find((value) => !(value >= known.least && value <= known.most))
      return out === undefined ? [] : [rangeSentence(known, out)]
    }),
  )
}

export function rangeSentence({ label, least, most, unit }: ParameterDescription, value: number): string {
  const printed = unit ? ` ${unit}` : ''
  return `${label} is ${value}${printed}; it must be from ${least} to ${most}${printed}`
}
