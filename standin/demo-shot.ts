/** The shot file of a demo shot, as an artist would have set it up before matching anything. */

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
import type { Frame, Lens } from './camera'

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

export interface ShotToSetUp {
  readonly name: string
  readonly frame: Frame
  readonly first: number
  readonly last: number
  /** the last frame on which ball and chart were shot */
  readonly lastReference: number
  /** by its numbers, with a camera file of the scene beside it; null: by a map */
  readonly lens: Lens | null
}

export function quayShot({ name: shotName, frame, first, last, lastReference, lens: byNumbers }: ShotToSetUp): Shot {
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
  const glass = byNumbers ? newTreatment('lens', 'lens', lensNumbers(byNumbers, frame)) : null
  // A map is on each element that needs it; a lens that is known by its numbers is the glass of the shot.
  const lens = glass ? [] : [{ ...newTreatment('lens-map', 'lens'), sources: { map: 'lens' } }]
  const layers: readonly Layer[] = [
    { id: 'plate', name: 'Quay', source: 'plate', part: null, blend: newBlend('over'), treatments: [] },
    {
      id: 'shadow',
      name: 'Bell shadow',
      source: 'bell',
      part: 'shadow',
      blend: newBlend('shadow'),
      treatments: lens,
    },
    {
      id: 'occlusion',
      name: 'Bell contact',
      source: 'bell',
      part: 'occlusion',
      blend: newBlend('occlusion'),
      treatments: lens,
    },
    {
      id: 'reflection',
      name: 'Bell in wet stone',
      source: 'bell',
      part: 'ground_reflection',
      blend: newBlend('plus-lighter'),
      treatments: lens,
    },
    {
      id: 'bell',
      name: 'Diving bell',
      source: 'bell',
      part: 'beauty',
      blend: newBlend('over'),
      treatments: [newTreatment('veil-and-gain', 'match'), ...lens],
    },
    { id: 'front', name: 'Bollard and rope', source: 'front', part: null, blend: newBlend('reveal'), treatments: [] },
  ]
  const ranks = firstRanks(layers.length)
  const settings = new Map(layers.flatMap(({ treatments }) => treatments.map((one) => [one.id, one] as const)))
  return {
    schema: schemaVersion,
    name: shotName,
    seed: shotName,
    frames,
    rate: { numerator: 24, denominator: 1 },
    frameSize: frame,
    pixelAspect: 1,
    workingSpace: 'linear-rec709',
    plate: 'plate',
    sources: tableOf([
      source('plate', 'Quay plate', `plate/${shotName}_plate.####.exr`, 'none'),
      source('bell', 'Bell render', `cg/${shotName}_bell.####.exr`, 'premultiplied'),
      source('front', 'Bollard and rope matte', `matte/${shotName}_front.####.exr`, 'none'),
      source('clean', 'Clean plate', `clean/${shotName}_clean.exr`, 'none', null),
      source('lens', 'Lens map, straight to bent', `lens/${shotName}_redistort.exr`, 'none', null),
      ...(byNumbers ? [source('camera', 'Shot camera', `camera/${shotName}_camera.gltf`, 'none', null)] : []),
      ...guests.flatMap(({ id, name }): Source[] => [
        {
          ...source(`${id}-plate`, `${name}, photographed`, `reference/${shotName}_${id}_plate.####.exr`, 'none', shot),
          forComparing: true,
        },
        {
          ...source(
            `${id}-render`,
            `${name}, rendered`,
            `reference/${shotName}_${id}_cg.####.exr`,
            'premultiplied',
            shot,
          ),
          forComparing: true,
        },
      ]),
    ]),
    elements: tableOf(
      layers.map(({ id, name, source: from, part, blend }, i) => ({
        ...newElement(id, name, ranks[i], blend, passInputs(from, part)),
        // It was seen through the lens already.
        ...(glass && id === 'front' ? { ownGlass: true } : {}),
      })),
    ),
    treatments: tableOf([...settings.values(), ...(glass ? [glass] : [])]),
    uses: tableOf([...layers.flatMap(usesOf), ...(glass ? [inGlass(glass)] : [])]),
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

/** In the terms of the treatment: the unit is the focal length, as a share of the way from the middle to a corner. */
function lensNumbers({ focal, centreX, centreY, k1, k2 }: Lens, { width, height }: Frame) {
  const unit = focal / (Math.hypot(width, height) / 2)
  return { k1: [k1], k2: [k2], x: [centreX - width / 2], y: [centreY - height / 2], unit: [unit] }
}

const inGlass = ({ id }: TreatmentSettings): Use => ({
  ...{ id: `glass-${id}`, rank: firstRanks(1)[0], owner: { kind: 'glass' } },
  ...{ treatment: id, on: true, limit: null },
})

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
