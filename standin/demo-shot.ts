/** The shot file of quay-010, as an artist would have set it up before matching anything. */

import {
  firstRanks,
  newBlend,
  newElement,
  newShutter,
  newTreatment,
  passInputs,
  schemaVersion,
  tableOf,
  type BlendSettings,
  type Claims,
  type Shot,
  type Source,
  type TreatmentSettings,
  type Use,
} from '../core/shot'
import type { Frame } from './camera'

const claims = (alpha: Claims['alpha']): Claims => ({ encoding: 'linear', primaries: 'rec709', alpha })

const guests = [
  { id: 'ball', name: 'Grey ball' },
  { id: 'chart', name: 'Colour chart' },
] as const

interface Layer {
  readonly id: string
  readonly name: string
  readonly source: string
  readonly part: string | null
  readonly blend: BlendSettings
  readonly treatments: readonly TreatmentSettings[]
}

/** @param lastReference the last frame on which ball and chart were shot */
export function quayShot(frame: Frame, first: number, last: number, lastReference: number): Shot {
  const frames = { first, last }
  const shot = { first, last: lastReference }
  const source = (
    id: string,
    name: string,
    path: string,
    alpha: Claims['alpha'],
    range: typeof frames | null = frames,
  ): Source => ({ id, name, path, frames: range, claims: claims(alpha) })
  // The renders are straight; what is blended over the plate is bent as its lens bent the quay.
  const lens = { ...newTreatment('lens-map', 'lens'), sources: { map: 'lens' } }
  const layers: readonly Layer[] = [
    { id: 'plate', name: 'Quay', source: 'plate', part: null, blend: newBlend('over'), treatments: [] },
    {
      id: 'shadow',
      name: 'Bell shadow',
      source: 'bell',
      part: 'shadow',
      blend: newBlend('shadow'),
      treatments: [lens],
    },
    {
      id: 'occlusion',
      name: 'Bell contact',
      source: 'bell',
      part: 'occlusion',
      blend: newBlend('occlusion'),
      treatments: [lens],
    },
    {
      id: 'reflection',
      name: 'Bell in wet stone',
      source: 'bell',
      part: 'ground_reflection',
      blend: newBlend('plus-lighter'),
      treatments: [lens],
    },
    {
      id: 'bell',
      name: 'Diving bell',
      source: 'bell',
      part: 'beauty',
      blend: newBlend('over'),
      treatments: [newTreatment('veil-and-gain', 'match'), lens],
    },
    { id: 'front', name: 'Bollard and rope', source: 'front', part: null, blend: newBlend('reveal'), treatments: [] },
  ]
  const ranks = firstRanks(layers.length)
  const settings = new Map(layers.flatMap(({ treatments }) => treatments.map((one) => [one.id, one] as const)))
  return {
    schema: schemaVersion,
    name: 'quay-010',
    seed: 'quay-010',
    frames,
    rate: { numerator: 24, denominator: 1 },
    frameSize: frame,
    pixelAspect: 1,
    workingSpace: 'linear-rec709',
    plate: 'plate',
    sources: tableOf([
      source('plate', 'Quay plate', 'plate/quay-010_plate.####.exr', 'none'),
      source('bell', 'Bell render', 'cg/quay-010_bell.####.exr', 'premultiplied'),
      source('front', 'Bollard and rope matte', 'matte/quay-010_front.####.exr', 'none'),
      source('clean', 'Clean plate', 'clean/quay-010_clean.exr', 'none', null),
      source('lens', 'Lens map, straight to bent', 'lens/quay-010_redistort.exr', 'none', null),
      ...guests.flatMap(({ id, name }): Source[] => [
        {
          ...source(`${id}-plate`, `${name}, photographed`, `reference/quay-010_${id}_plate.####.exr`, 'none', shot),
          forComparing: true,
        },
        {
          ...source(`${id}-render`, `${name}, rendered`, `reference/quay-010_${id}_cg.####.exr`, 'premultiplied', shot),
          forComparing: true,
        },
      ]),
    ]),
    elements: tableOf(
      layers.map(({ id, name, source: from, part, blend }, i) =>
        newElement(id, name, ranks[i], blend, passInputs(from, part)),
      ),
    ),
    treatments: tableOf([...settings.values()]),
    uses: tableOf(layers.flatMap(usesOf)),
    tries: { byId: {} },
    samples: tableOf([]),
    markers: tableOf([]),
    witnesses: tableOf([]),
    tracks: tableOf([]),
    mattes: tableOf([]),
    referenceObjects: tableOf(
      guests.map(({ id, name }, i) => ({
        ...{ id, name, rank: firstRanks(guests.length)[i] },
        ...{ photographed: `${id}-plate`, rendered: `${id}-render`, insteadOf: 'bell' },
      })),
    ),
    shutter: newShutter(),
  }
}

function usesOf({ id, treatments }: Layer): Use[] {
  const ranks = firstRanks(treatments.length)
  return treatments.map((treatment, i) => ({
    id: `${id}-${treatment.id}`,
    rank: ranks[i],
    owner: { kind: 'element', id },
    treatment: treatment.id,
    on: true,
    limit: null,
  }))
}
