/** Curves of an element through its witnesses: what they would have to be with everything else as it is set. */

import { decode, encode, type EncodingName } from '../colour'
import { toneCurves, unlikeOf, type PairRead, type ToneCurves } from '../match'
import { allOf, applyEdit, newId, newPoint, newTreatment, newUse, type Shot, type SingleChange } from '../shot'
import { treatments } from '../treatments'
import { ownUse } from './changes'
import { plansOf, type Look } from './look'
import type { PlanOf } from './parts'
import { lightWitnesses } from './propose-numbers'
import { WitnessReader } from './read-witness'

const channelSets = ['red', 'green', 'blue'] as const

/** @returns null where its witnesses tell no curves */
export async function proposeCurves(
  shot: Shot,
  look: Look,
  plan: PlanOf,
  element: string,
  frame: number,
): Promise<ToneCurves | null> {
  // Alike in colour alone, both sides may be as light as they like.
  const witnesses = lightWitnesses(shot, element, frame).filter(({ purpose }) => purpose !== 'colour')
  const bare = withoutCurves(shot, element).reduce((before, one) => applyEdit(before, one).shot, shot)
  const read = await new WitnessReader(look).read(plansOf(bare, plan), frame, witnesses)
  const pairs = read.flatMap(({ reference, adjusted }, i): PairRead[] => {
    const { name, purpose } = witnesses[i]
    return reference && adjusted ? [{ name, purpose, reference, adjusted, unlike: unlikeOf(witnesses[i]) }] : []
  })
  const encoding = encodingOf(shot, element)
  return toneCurves(pairs, {
    encode: (light) => encode(encoding, light),
    decode: (code) => decode(encoding, code),
  })
}

/** The code values that the element's curves are drawn in, or would be. */
function encodingOf(shot: Shot, element: string): EncodingName {
  const { choices } = ownUse(shot, element, 'curves')?.settings ?? newTreatment('curves', 'new')
  return (choices?.encoding ?? 'srgb') as EncodingName
}

/** Its curves of red, green and blue go; that of luma stays. */
function withoutCurves(shot: Shot, element: string): SingleChange[] {
  const known = ownUse(shot, element, 'curves')
  const points = known?.settings.points
  if (!known || !points) return []
  const of = { kind: 'treatment', id: known.settings.id } as const
  return allOf(points)
    .filter(({ set }) => channelSets.some((one) => one === set))
    .map(({ id }) => ({ kind: 'remove-point', of, point: id }))
}

/** @returns edits to be made in this order; the curves treatment is added where the element has none of its own */
export function curvesChanges(shot: Shot, element: string, { channels }: ToneCurves, id: string): SingleChange[] {
  const known = ownUse(shot, element, 'curves')
  const of = { kind: 'treatment', id: known?.settings.id ?? id } as const
  const code = (value: number) => Number(value.toFixed(5))
  return [
    ...(known
      ? withoutCurves(shot, element)
      : [
          {
            ...({ kind: 'add-treatment', settings: newTreatment('curves', id) } as const),
            use: newUse(shot, { kind: 'element', id: element }, 'curves', id),
          },
        ]),
    ...channels.flatMap((points, c) =>
      points.map((one) => ({
        ...({ kind: 'add-point', of } as const),
        point: newPoint(treatments.curves, newId(), { in: [code(one.in)], out: [code(one.out.value)] }, channelSets[c]),
      })),
    ),
  ]
}
