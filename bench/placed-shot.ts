/** A made-up shot of placed elements, and what is on its pictures. */

import {
  firstRanks,
  newBlend,
  newElement,
  newPlacing,
  newShutter,
  newTreatment,
  passInputs,
  schemaVersion,
  tableOf,
  type Shot,
  type TreatmentSettings,
  type Use,
} from '../core/shot'

/** Edges, fine texture and smooth shading, from the dark to above white. */
export const texture = (c: number, x: number, y: number) =>
  0.3 + 0.25 * Math.sin(x * 0.9 + c) * Math.cos(y * 0.7) + (((x >> 5) + (y >> 5)) % 2) * 0.3 + 0.1 * Math.sin(x / 90)

const frames = { first: 1001, last: 1048 }
export type Size = { readonly width: number; readonly height: number }

/**
 * A plate, and elements of a quarter of the frame each, placed here and there.
 *
 * @param range of the shot and its sources
 */
export function placedShot(
  frameSize: Size,
  count: number,
  treatmentsOf: (id: string) => readonly TreatmentSettings[],
  range = frames,
): Shot {
  const ranks = firstRanks(count + 1)
  const claims = { encoding: 'linear', primaries: 'rec709', alpha: 'premultiplied' } as const
  const { width, height } = frameSize
  const box = { x: width / 4, y: height / 4, width: width / 2, height: height / 2 }
  const ids = Array.from({ length: count }, (_, i) => `thing-${i}`)
  const elements = ids.map((id, i) => ({
    ...newElement(id, id, ranks[i + 1], newBlend('over'), passInputs('thing')),
    placing: newPlacing(box, {
      x: [((i % 4) - 1.5) * (width / 8)],
      y: [((i % 3) - 1) * (height / 6)],
      rotation: [i * 7],
      scale: [0.8 + 0.05 * i],
    }),
  }))
  const settings = ids.flatMap((id) => treatmentsOf(id))
  const uses = ids.flatMap((id) =>
    treatmentsOf(id).map((one, i): Use => ({
      id: one.id,
      rank: `a${i}`,
      owner: { kind: 'element', id },
      treatment: one.id,
      on: true,
      limit: null,
    })),
  )
  return {
    schema: schemaVersion,
    name: 'placed',
    seed: 'placed',
    frames: range,
    rate: { numerator: 24, denominator: 1 },
    frameSize,
    pixelAspect: 1,
    workingSpace: 'linear-rec709',
    plate: 'plate',
    sources: tableOf([
      { id: 'plate', name: 'plate', path: 'plate.####.exr', frames: range, claims: { ...claims, alpha: 'none' } },
      { id: 'thing', name: 'thing', path: 'thing.####.exr', frames: range, claims },
    ]),
    elements: tableOf([newElement('plate', 'plate', ranks[0], newBlend('over'), passInputs('plate')), ...elements]),
    treatments: tableOf(settings),
    uses: tableOf(uses),
    tries: { byId: {} },
    samples: tableOf([]),
    markers: tableOf([]),
    witnesses: tableOf([]),
    referenceObjects: tableOf([]),
    tracks: tableOf([]),
    mattes: tableOf([]),
    shutter: newShutter(),
  }
}

/** Softened, veil and gain. */
export const matched = (id: string): TreatmentSettings[] => [
  newTreatment('veil-and-gain', `match-${id}`, { veil: [0.02, 0.02, 0.03], gain: [1.1, 1, 0.9] }),
  newTreatment('soften', `soft-${id}`, { across: [0.8], down: [0.8] }),
]
