/** What every kind of thing refers to. Removal, circles, checks and copying read only this. */

import { allOf, find } from './find'
import { nameOfRegion } from './region-name'
import type {
  Arrangement,
  Element,
  Input,
  Matte,
  MatteReference,
  ReferenceObject,
  Sample,
  Shot,
  Source,
  Track,
  TreatmentSettings,
  Use,
  Witness,
} from './types'

export type ThingKind = 'source' | 'element' | 'treatment' | 'use' | 'track' | 'matte'

export interface Reference {
  readonly kind: ThingKind
  readonly id: string
}

const source = (id: string): Reference => ({ kind: 'source', id })
const element = (id: string): Reference => ({ kind: 'element', id })
const track = (id: string): Reference => ({ kind: 'track', id })
const matte = (id: string): Reference => ({ kind: 'matte', id })

/** What a source is made of, where it is made here. */
export function refsOfSource({ made }: Source): Reference[] {
  switch (made?.kind) {
    case undefined:
      return []
    case 'clean-plate':
      return [
        source(made.source),
        ...(made.without === undefined ? [] : [matte(made.without)]),
        ...(made.pin?.tracks ?? []).map(track),
      ]
    case 'motion-blur':
      return [source(made.source)]
    case 'soft-matte':
      return [element(made.element), ...[made.matte, ...(made.band === undefined ? [] : [made.band])].map(matte)]
  }
}

export function refsOfInput(input: Input): Reference[] {
  if (input.kind === 'pass') return [source(input.source)]
  return input.kind === 'element' ? [element(input.element)] : []
}

/** A group refers to what is in it by being named there, not here. */
export function refsOfElement({ parent, inputs, blend, placing }: Element): Reference[] {
  return [
    ...(parent === null ? [] : [element(parent)]),
    ...allOf(inputs).flatMap(refsOfInput),
    ...(blend.shows ? [source(blend.shows.source)] : []),
    ...(placing?.with === undefined ? [] : [element(placing.with)]),
    ...(placing?.pin?.tracks ?? []).map(track),
  ]
}

export function refsOfTreatment({ sources = {}, lines, pin }: TreatmentSettings): Reference[] {
  const drawnOn = lines ? allOf(lines).flatMap((line) => (line.source === undefined ? [] : [line.source])) : []
  return [...[...Object.values(sources), ...new Set(drawnOn)].map(source), ...(pin?.tracks ?? []).map(track)]
}

function refOfMatte(of: MatteReference): Reference {
  if (of.kind === 'source') return source(of.source)
  return of.kind === 'element' ? element(of.element) : matte(of.matte)
}

export function refsOfMatte(one: Matte): Reference[] {
  switch (one.kind) {
    case 'drawn':
    case 'painted':
      if (one.pin && 'element' in one.pin) return [element(one.pin.element)]
      return (one.pin?.tracks ?? []).map(track)
    case 'channel':
    case 'depth':
    case 'objects':
      return [source(one.source), ...(one.lies === undefined ? [] : [element(one.lies)])]
    case 'band':
      return [matte(one.matte)]
    case 'alpha':
    case 'keyed':
      return [element(one.element)]
    case 'combined':
      return allOf(one.parts).map((part) => matte(part.matte))
  }
}

export function refsOfUse({ owner, treatment, limit }: Use): Reference[] {
  return [
    ...(owner.kind === 'element' ? [element(owner.id)] : []),
    { kind: 'treatment', id: treatment },
    ...(limit?.matte ? [refOfMatte(limit.matte)] : []),
  ]
}

export function refsOfTrack({ region }: Track): Reference[] {
  return region?.leavesOut === undefined ? [] : [matte(region.leavesOut)]
}

export function refsOfSample({ follows }: Sample): Reference[] {
  if (!follows) return []
  return follows.track === undefined ? [element(follows.element)] : [track(follows.track)]
}

export function refsOfWitness({ element: own, reference, adjusted }: Witness): Reference[] {
  const along = [reference.along, adjusted.along].filter((one) => one !== undefined)
  return [element(own), ...along.map(track)]
}

export function refsOfReferenceObject({ photographed, rendered, insteadOf }: ReferenceObject): Reference[] {
  return [photographed, rendered, insteadOf].map(source)
}

/** Things of an arrangement that refer to one, by what a person calls them. */
export function usersOf(shot: Shot, wanted: Reference): string[] {
  const names = new Set<string>()
  const isIt = (ref: Reference) => ref.kind === wanted.kind && ref.id === wanted.id
  const look = (arrangement: Arrangement, prefix: string) => {
    const nameOf = (use: Use) =>
      use.owner.kind === 'element'
        ? (find(arrangement.elements, use.owner.id)?.name ?? 'an element')
        : `the ${use.owner.kind}`
    for (const one of allOf(arrangement.elements)) if (refsOfElement(one).some(isIt)) names.add(prefix + one.name)
    for (const use of allOf(arrangement.uses)) {
      const settings = find(arrangement.treatments, use.treatment)
      if (refsOfUse(use).some(isIt) || (settings && refsOfTreatment(settings).some(isIt)))
        names.add(prefix + nameOf(use))
    }
  }
  look(shot, '')
  for (const one of allOf(shot.sources)) if (refsOfSource(one).some(isIt)) names.add(one.name)
  for (const one of allOf(shot.mattes)) if (refsOfMatte(one).some(isIt)) names.add(`matte ${one.name}`)
  for (const one of allOf(shot.tracks))
    if (refsOfTrack(one).some(isIt)) names.add(one.region ? nameOfRegion(one) : one.name)
  for (const sample of allOf(shot.samples)) if (refsOfSample(sample).some(isIt)) names.add(`sample ${sample.name}`)
  for (const one of allOf(shot.witnesses)) if (refsOfWitness(one).some(isIt)) names.add(`witness ${one.name}`)
  for (const one of allOf(shot.referenceObjects))
    if (refsOfReferenceObject(one).some(isIt)) names.add(`reference object ${one.name}`)
  for (const kept of allOf(shot.tries)) look(kept, `${kept.name}: `)
  return [...names]
}
