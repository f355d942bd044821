/** For the tests: the demo shot as a file of schema 1 had it, with one of everything that such a file could hold. */

const claims = (alpha: string) => ({ encoding: 'linear', primaries: 'rec709', alpha })
const range = { first: 1001, last: 1006 }
const source = (id: string, name: string, path: string, alpha: string, frames: typeof range | null = range) => ({
  id,
  name,
  path,
  frames,
  claims: claims(alpha),
})
const lens = { id: 'lens', kind: 'lens-map', enabled: true, parameters: {}, sources: { map: 'lens' } }
const element = (
  id: string,
  name: string,
  from: string,
  part: string | null,
  landing: object,
  treatments: object[],
) => ({
  id,
  name,
  source: from,
  part,
  visible: true,
  landing,
  treatments,
})
const veil = { keys: [{ frame: 1001, value: 0.01 }, { frame: 1006, value: 0.03 }] } // prettier-ignore

export const elementsOfSchema1 = [
  element('plate', 'Quay', 'plate', null, { kind: 'plate', parameters: {} }, []),
  element(
    'shadow',
    'Bell shadow',
    'bell',
    'shadow',
    { kind: 'shadow', parameters: { ratio: [0.3, 0.36, 0.42], veil: [0.02, 0.022, 0.027] } },
    [lens],
  ),
  { ...element('hidden', 'Bell in wet stone', 'bell', 'ground_reflection', { kind: 'plus-lighter', parameters: { amount: [0.7, 0.7, 0.7] } }, [lens]), visible: false }, // prettier-ignore
  {
    ...element('bell', 'Diving bell', 'bell', 'beauty', { kind: 'over', parameters: {} }, [
      { id: 'match', kind: 'veil-and-gain', enabled: true, parameters: { veil: [veil, 0.012, 0.015], gain: [0.9, 0.95, 1], gamma: [1, 1, 1] } }, // prettier-ignore
      { id: 'soften', kind: 'soften', enabled: false, parameters: { across: [0.6], down: [0.4] } },
      lens,
    ]),
    rebuild: ['diffuse_direct', 'diffuse_indirect', 'specular_direct'],
  },
  element('front', 'Bollard and rope', 'front', null, { kind: 'reveal', parameters: {} }, []),
]

export const finishOfSchema1 = [{ id: 'saturation', kind: 'saturation', enabled: true, parameters: { amount: [0.9] } }]

export const shotOfSchema1 = {
  schema: 1,
  name: 'quay-010',
  frames: range,
  rate: { numerator: 24, denominator: 1 },
  frameSize: { width: 640, height: 360 },
  pixelAspect: 1,
  workingSpace: 'linear-rec709',
  sources: [
    source('plate', 'Quay plate', 'plate/quay-010_plate.####.exr', 'none'),
    { ...source('bell', 'Bell render', 'cg/quay-010_bell.####.exr', 'premultiplied'), missing: 'repeat' },
    source('front', 'Bollard and rope matte', 'matte/quay-010_front.####.exr', 'none'),
    source('lens', 'Lens map, straight to bent', 'lens/quay-010_redistort.exr', 'none', null),
  ],
  elements: elementsOfSchema1,
  finish: finishOfSchema1,
  tries: [{ id: 'try-1', name: 'Try 1', elements: elementsOfSchema1.slice(0, 2), finish: [] }],
}
