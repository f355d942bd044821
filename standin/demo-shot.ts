/** The shot file of quay-010, as an artist would have set it up before matching anything. */

import { newBlend, newTreatment, schemaVersion, type Claims, type Shot } from '../core/shot'
import type { Frame } from './camera'

const claims = (alpha: Claims['alpha']): Claims => ({ encoding: 'linear', primaries: 'rec709', alpha })

export function quayShot(frame: Frame, first: number, last: number): Shot {
  const frames = { first, last }
  const source = (
    id: string,
    name: string,
    path: string,
    alpha: Claims['alpha'],
    range: typeof frames | null = frames,
  ) => ({ id, name, path, frames: range, claims: claims(alpha) })
  // The renders are straight; what is blended over the plate is bent as its lens bent the quay.
  const bent = () => ({ ...newTreatment('lens-map', 'lens'), sources: { map: 'lens' } })
  return {
    schema: schemaVersion,
    name: 'quay-010',
    frames,
    rate: { numerator: 24, denominator: 1 },
    frameSize: frame,
    pixelAspect: 1,
    workingSpace: 'linear-rec709',
    sources: [
      source('plate', 'Quay plate', 'plate/quay-010_plate.####.exr', 'none'),
      source('bell', 'Bell render', 'cg/quay-010_bell.####.exr', 'premultiplied'),
      source('front', 'Bollard and rope matte', 'matte/quay-010_front.####.exr', 'none'),
      source('clean', 'Clean plate', 'clean/quay-010_clean.exr', 'none', null),
      source('lens', 'Lens map, straight to bent', 'lens/quay-010_redistort.exr', 'none', null),
    ],
    elements: [
      {
        id: 'plate',
        name: 'Quay',
        source: 'plate',
        part: null,
        visible: true,
        blend: newBlend('plate'),
        treatments: [],
      },
      {
        id: 'shadow',
        name: 'Bell shadow',
        source: 'bell',
        part: 'shadow',
        visible: true,
        blend: newBlend('shadow', { ratio: [0.3, 0.36, 0.42], veil: [0.02, 0.022, 0.027] }),
        treatments: [bent()],
      },
      {
        id: 'occlusion',
        name: 'Bell contact',
        source: 'bell',
        part: 'occlusion',
        visible: true,
        blend: newBlend('occlusion', { veil: [0.02, 0.022, 0.027] }),
        treatments: [bent()],
      },
      {
        id: 'reflection',
        name: 'Bell in wet stone',
        source: 'bell',
        part: 'ground_reflection',
        visible: true,
        blend: newBlend('plus-lighter'),
        treatments: [bent()],
      },
      {
        id: 'bell',
        name: 'Diving bell',
        source: 'bell',
        part: 'beauty',
        visible: true,
        blend: newBlend('over'),
        treatments: [newTreatment('veil-and-gain', 'match'), bent()],
      },
      {
        id: 'front',
        name: 'Bollard and rope',
        source: 'front',
        part: null,
        visible: true,
        blend: newBlend('reveal'),
        treatments: [],
      },
    ],
  }
}
