/** Whatever can be keyed has an owner: one address, one way to its description and its curves. */

import type { Draft } from 'immer'
import { blends } from '../set/blends'
import { settingsOf } from '../motion/curve'
import {
  elementDescription,
  inputDescriptions,
  limitDescription,
  matteDescriptions,
  placingDescription,
  shapeDescription,
  shutterDescription,
} from '../set/owners'
import { treatments, type Description, type ParameterDescription } from '../treatments'
import { find } from './find'
import { ImpossibleEditError } from './impossible-edit'
import type { Owner, Parameter, Parameters, Point, PointOwner, Shot, Table, Use } from './types'

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
    case 'placing': {
      const element = find(elements, owner.element)
      const placing = element?.placing
      return placing && { description: placingDescription, parameters: placing.parameters, name: () => element.name }
    }
    case 'shutter':
      return {
        description: shutterDescription,
        parameters: (shot as Shot).shutter.parameters,
        name: () => 'the shutter of the shot',
      }
    case 'matte': {
      const matte = find((shot as Shot).mattes, owner.id)
      return (
        matte && {
          description: matteDescriptions[matte.kind],
          parameters: matte.parameters,
          name: () => matte.name,
        }
      )
    }
    case 'shape': {
      const matte = find((shot as Shot).mattes, owner.matte)
      const shape = matte?.kind === 'drawn' ? find(matte.shapes, owner.id) : undefined
      return (
        matte &&
        shape && {
          description: shapeDescription,
          parameters: shape.parameters,
          name: () => `${shape.name} of ${matte.name}`,
        }
      )
    }
    case 'point': {
      const whole = withPoints(shot, owner.of)
      const point = whole && find(whole.points, owner.id)
      const described = whole?.description.points
      if (!point || !described) return undefined
      const set = described.sets?.find(({ name }) => name === point.set)?.label
      const description = { ...described, kind: 'point', label: set ? `${set}, ${described.label}` : described.label }
      return { description, parameters: point.parameters, name: whole.name }
    }
  }
}

/** What has points and choices: its description, its points, what a person calls it. */
export function withPoints(
  shot: Shot | Draft<Shot>,
  of: PointOwner,
): { readonly description: Description; readonly points: Table<Point>; readonly name: () => string } | undefined {
  const { elements, treatments: settings } = shot as Shot
  if (of.kind === 'treatment') {
    const found = find(settings, of.id)
    return (
      found && {
        description: treatments[found.kind],
        points: found.points ?? { byId: {} },
        name: () => ownersName(shot as Shot, of.id),
      }
    )
  }
  const element = find(elements, of.element)
  const input = element && find(element.inputs, of.id)
  return (
    input && {
      description: inputDescriptions[input.kind],
      points: 'points' in input ? input.points : { byId: {} },
      name: () => element.name,
    }
  )
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
      const values =
        typeof curve === 'number' ? [curve] : Object.values(curve.keyframes).map((one) => settingsOf(one).value)
      const out = values.find((value) => !(value >= known.least && value <= known.most))
      return out === undefined ? [] : [rangeSentence(known, out)]
    }),
  )
}

/** @returns a sentence for each point beyond its range, and for each set that has too few or too many */
export function beyondPoints({ label, points }: Description, given: Table<Point> | undefined): string[] {
  if (!points) return []
  const all = given ? Object.values(given.byId) : []
  const sets = points.sets?.map(({ name }) => name) ?? [undefined]
  const counted = sets.flatMap((set) => {
    const count = all.filter((one) => one.set === set).length
    if (count >= points.fewest && count <= points.most) return []
    return [
      `${label} has ${count} of ${points.label.toLowerCase()}; it must have from ${points.fewest} to ${points.most}`,
    ]
  })
  const described = { kind: 'point', label, help: '', parameters: points.parameters }
  return [...counted, ...all.flatMap(({ parameters }) => beyondRange(described, parameters))]
}

export function rangeSentence({ label, least, most, unit }: ParameterDescription, value: number): string {
  const printed = unit ? ` ${unit}` : ''
  return `${label} is ${value}${printed}; it must be from ${least} to ${most}${printed}`
}
