/** Veil and gain of an element from what its witnesses read without them; with a gamma, where that is asked for. */

import {
  proposeVeilAndGain,
  proposeWithGamma,
  purposes,
  triedGammas,
  unlikeOf,
  type PairRead,
  type PairReadAtGammas,
  type Rgb,
  type VeilAndGain,
  type VeilGainAndGamma,
} from '../match'
import { valueAt } from '../motion/curve'
import { applyEdit, inOrder, newTreatment, newUse, type Shot, type SingleChange, type TreatmentSettings } from '../shot'
import { ownUse } from './changes'
import { plansOf, type Look } from './look'
import type { PlanOf } from './parts'
import { countsOn, WitnessReader, type WitnessReading } from './read-witness'

export interface ProposedForElement {
  readonly proposal: VeilAndGain | VeilGainAndGamma
  /** whose numbers it is about; null where the element has no veil and gain yet */
  readonly settings: TreatmentSettings | null
  /** the pairs that it rests on, the adjusted side without veil, gain and gamma */
  readonly pairs: readonly PairRead[]
}

const none = [0, 0, 0] as const
const one = [1, 1, 1] as const

/**
 * @param withGamma a gamma is to be found as well; else it stays as it is set
 * @returns null where there is nothing to go by; a sentence where gamma is asked for and cannot be told
 */
export async function proposeForElement(
  shot: Shot,
  look: Look,
  plan: PlanOf,
  element: string,
  frame: number,
  withGamma: boolean,
): Promise<ProposedForElement | string | null> {
  const settings = ownUse(shot, element, 'veil-and-gain')?.settings ?? null
  const at = (name: 'veil' | 'gain' | 'gamma', otherwise: Rgb): Rgb =>
    settings ? (settings.parameters[name].map((curve) => valueAt(curve, frame)) as unknown as Rgb) : otherwise
  const present = { veil: at('veil', none), gain: at('gain', one) }
  const witnesses = inOrder(shot.witnesses).filter(
    (witness) =>
      witness.element === element && purposes[witness.purpose].comparesLight && countsOn(shot, witness, frame),
  )
  const reader = new WitnessReader(look)
  const readAt = (gamma: Rgb) => reader.read(plansOf(bareAt(shot, element, gamma, frame), plan), frame, witnesses)
  const bare = await readAt(one)
  const named = ({ name, purpose, on }: (typeof witnesses)[number]) => ({ name, purpose, unlike: unlikeOf({ on }) })
  const paired = (read: readonly WitnessReading[]) =>
    witnesses.flatMap((witness, i): PairRead[] => {
      const { reference, adjusted } = read[i]
      return reference && adjusted ? [{ ...named(witness), reference, adjusted }] : []
    })
  const pairs = paired(bare)
  if (!withGamma) {
    const gamma = at('gamma', one)
    const proposal = proposeVeilAndGain(
      gamma.every((value) => value === 1) ? pairs : paired(await readAt(gamma)),
      present,
    )
    return proposal && { proposal, settings, pairs }
  }
  const tried: WitnessReading[][] = []
  for (const gamma of triedGammas) tried.push(await readAt([gamma, gamma, gamma]))
  const proposal = proposeWithGamma(
    witnesses.flatMap((witness, i): PairReadAtGammas[] => {
      const { reference } = bare[i]
      const adjusted = tried.flatMap((sides) => sides[i].adjusted ?? [])
      return reference && adjusted.length === tried.length ? [{ ...named(witness), reference, adjusted }] : []
    }),
  )
  return typeof proposal === 'string' ? proposal : { proposal, settings, pairs }
}

const setsOf = (treatment: string, frame: number, values: Readonly<Record<'veil' | 'gain' | 'gamma', Rgb>>) =>
  (['veil', 'gain', 'gamma'] as const).map((parameter): SingleChange => ({
    kind: 'set-channels',
    at: { owner: { kind: 'treatment', id: treatment }, parameter },
    frame,
    values: [...values[parameter]],
  }))

/** The shot with a gamma of the element, and neither veil nor gain of it. */
function bareAt(shot: Shot, element: string, gamma: Rgb, frame: number): Shot {
  const known = ownUse(shot, element, 'veil-and-gain')
  const id = known?.settings.id ?? 'tried'
  const added: SingleChange[] = known
    ? []
    : [
        {
          ...({ kind: 'add-treatment', settings: newTreatment('veil-and-gain', id) } as const),
          use: newUse(shot, { kind: 'element', id: element }, 'veil-and-gain', id),
        },
      ]
  const sets = setsOf(id, frame, { veil: none, gain: one, gamma })
  return [...added, ...sets].reduce((before, change) => applyEdit(before, change).shot, shot)
}
