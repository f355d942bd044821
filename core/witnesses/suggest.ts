/** Suggests witnesses by itself: pairs of places near the element that hold still over the frames, each with what it is good for. */

import { judged, type SideReading } from '../match'
import { newId, type Element, type Shot, type Witness, type WitnessSide } from '../shot'
import type { Look } from './look'
import type { PlanOf } from './parts'
import { suggestedPurposes, type SuggestedPurpose } from './places-to-compare'
import { errorsOf, readPlaces, total, type ReadSide } from './read-places'

export interface Suggestion {
  readonly witness: Witness
  /** why these places, as a sentence */
  readonly reason: string
  /** standard error of its drift on one frame: light of the worst channel, or pixels of sigma */
  readonly error: number
  /** what both sides read, the frames taken together */
  readonly reference: SideReading
  readonly adjusted: SideReading
}

export interface NotSuggested {
  readonly purpose: SuggestedPurpose
  /** as a sentence */
  readonly why: string
}

export interface Suggested {
  readonly suggestions: readonly Suggestion[]
  readonly not: readonly NotSuggested[]
}

const usually: Readonly<Record<SuggestedPurpose, number>> = { black: 2, mid: 1, sharpness: 2 }

const names: Readonly<Record<SuggestedPurpose, string>> = { black: 'Dark', mid: 'Like light', sharpness: 'Edge' }
const reasons: Readonly<Record<SuggestedPurpose, string>> = {
  black: 'The darkest places of the plate near by and of the element that hold still.',
  mid: 'Lit places whose light is most alike as the element is treated now, and that hold still.',
  sharpness: 'The sharpest straight edge of the plate near by, and of the element’s outline.',
}
const nothingFor: Readonly<Record<SuggestedPurpose, string>> = {
  black: 'No dark place was found on both sides that holds still over the frames.',
  mid: 'No lit places of like light were found on both sides that hold still over the frames.',
  sharpness: 'No straight edge was found on both sides that can be measured on every frame.',
}

/** @param limits most of each purpose */
export async function suggestWitnesses(
  shot: Shot,
  look: Look,
  plan: PlanOf,
  element: Element,
  limits: Readonly<Record<SuggestedPurpose, number>> = usually,
): Promise<Suggested> {
  const { chosenOn, read } = await readPlaces(shot, look, plan, element)
  if (!read) {
    const why = `The element shows nothing on frame ${chosenOn}, in the middle of the shot.`
    return { suggestions: [], not: suggestedPurposes.map((purpose) => ({ purpose, why })) }
  }
  const suggestions = suggestedPurposes.flatMap((purpose) => {
    const [reference, adjusted] = [read[purpose].reference, read[purpose].adjusted].map(steadyOf)
    return pairsFor(purpose, reference, adjusted)
      .filter(([plate, own]) => purpose !== 'mid' || areAlike(plate, own))
      .slice(0, limits[purpose])
      .map(([plate, own], i): Suggestion => ({
        witness: {
          ...{ id: newId(), name: `${names[purpose]} ${i + 1}`, rank: 'a0', purpose, element: element.id },
          ...{ reference: plate.side, adjusted: own.side },
        },
        reason: reasons[purpose],
        error: Math.max(
          ...errorsOf(plate.reading, purpose).map((error, c) => Math.hypot(error, errorsOf(own.reading, purpose)[c])),
        ),
        ...{ reference: plate.reading, adjusted: own.reading },
      }))
  })
  const bare = suggestedPurposes.filter((purpose) => !suggestions.some(({ witness }) => witness.purpose === purpose))
  return { suggestions, not: bare.map((purpose) => ({ purpose, why: nothingFor[purpose] })) }
}

/** A side that was read on every frame that was looked at, and holds still. */
interface SteadySide {
  readonly side: WitnessSide
  readonly reading: SideReading
}

const steadyOf = (sides: readonly ReadSide[]): SteadySide[] =>
  sides.flatMap(({ side, steady }) => (steady ? [{ side, reading: steady }] : []))

/** By half of what it may drift: what is unlike from the beginning would say nothing of the frames. */
function areAlike({ reading: reference }: SteadySide, { reading: adjusted }: SteadySide): boolean {
  const { drift, tolerance } = judged({ purpose: 'mid' }, { reference, adjusted })
  return drift.every((value, c) => Math.abs(value) <= tolerance[c] / 2)
}

/** The darkest with the darkest, the surest edges with each other, like with like. */
function pairsFor(
  purpose: SuggestedPurpose,
  plate: readonly SteadySide[],
  own: readonly SteadySide[],
): (readonly [SteadySide, SteadySide])[] {
  if (purpose === 'mid') {
    const apart = (a: SteadySide, b: SteadySide) =>
      Math.hypot(...a.reading.light.map((value, c) => Math.log(value / b.reading.light[c])))
    return plate
      .flatMap((one) => own.map((other) => [one, other] as const))
      .sort(([a, b], [c, d]) => apart(a, b) - apart(c, d))
  }
  const rank = ({ reading }: SteadySide) =>
    purpose === 'black' ? total(reading, purpose) : (reading.edge?.error ?? NaN)
  const inOrder = (sides: readonly SteadySide[]) => [...sides].sort((a, b) => rank(a) - rank(b))
  const others = inOrder(own)
  return inOrder(plate)
    .slice(0, others.length)
    .map((one, i) => [one, others[i]] as const)
}
