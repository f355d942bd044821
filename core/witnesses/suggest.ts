/** Suggests witnesses by itself: pairs of places near the element that hold still over the frames, each with what it is good for. */

import type { Window } from '../image/window'
import { couldAgree, judged, referenceOverFrames, type Rgb, type SideReading } from '../match'
import { valueAt } from '../motion/curve'
import { newId, type Element, type Shot, type Witness, type WitnessSide } from '../shot'
import type { Look } from './look'
import type { PlanOf } from './parts'
import { purposesFor, type SuggestedPurpose } from './places-to-compare'
import { errorsOf, readPlaces, total, type ReadSide } from './read-places'

export interface Suggestion {
  readonly witness: Witness
  /** why these places, as a sentence */
  readonly reason: string
  /** standard error of its drift on one frame: light of the worst channel, pixels of sigma or of a slip, what is left of light */
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

const usually: Readonly<Record<SuggestedPurpose, number>> = {
  ...{ black: 2, mid: 1, sharpness: 2, registration: 1, shadow: 1 },
}

const names: Readonly<Record<SuggestedPurpose, string>> = {
  ...{ black: 'Dark', mid: 'Like light', sharpness: 'Edge', registration: 'Texture', shadow: 'Shadow' },
}
const reasons: Readonly<Record<SuggestedPurpose, string>> = {
  black: 'The darkest places of the plate near by and of the element that hold still.',
  mid: 'Lit places whose light is most alike as the element is treated now, and that hold still.',
  sharpness: 'The sharpest straight edge of the plate near by, and of the element’s outline.',
  registration: 'Texture of both sides that can be followed on every frame, and that stays together.',
  shadow:
    'Ground that is darker than ground beside it, evenly in all channels: see whether it is a shadow. And where the element takes most.',
}
const nothingFor: Readonly<Record<SuggestedPurpose, string>> = {
  black: 'No dark place was found on both sides that holds still over the frames.',
  mid: 'No lit places of like light were found on both sides that hold still over the frames.',
  sharpness: 'No straight edge was found on both sides that can be measured on every frame.',
  registration: 'No texture was found on both sides that can be followed on every frame and stays together.',
  shadow:
    'No ground was found that looks like a shadow of the plate’s own, or the element darkens nothing that is lit.',
}

export interface SuggestOptions {
  /** that are looked for; absent: all that suit the element */
  readonly purposes?: readonly SuggestedPurpose[]
  /** of an element that is matched: only those that agree by now, on every frame that is looked at */
  readonly agreeing?: boolean
}

export async function suggestWitnesses(
  shot: Shot,
  look: Look,
  plan: PlanOf,
  element: Element,
  { purposes = purposesFor(element), agreeing = false }: SuggestOptions = {},
): Promise<Suggested> {
  const { chosenOn, read } = await readPlaces(shot, look, plan, element, purposes)
  if (!read) {
    const why = `The element shows nothing on frame ${chosenOn}, in the middle of the shot.`
    return { suggestions: [], not: purposes.map((purpose) => ({ purpose, why })) }
  }
  const suggestions = purposes.flatMap((purpose) => {
    const [reference, adjusted] = [read[purpose].reference, read[purpose].adjusted].map(steadyOf)
    return pairsFor(purpose, reference, adjusted)
      .filter(([plate, own]) => purpose !== 'mid' || areAlike(plate, own))
      .filter(([plate, own]) => purpose !== 'registration' || stayTogether(plate, own))
      .filter(([plate, own]) => purpose !== 'shadow' || isOfItsKind(plate, own, element, chosenOn))
      .filter(([plate, own]) => !agreeing || agree(purpose, plate, own))
      .slice(0, usually[purpose])
      .map(([plate, own], i): Suggestion => ({
        witness: {
          ...{ id: newId(), name: `${names[purpose]} ${i + 1}`, rank: 'a0', purpose, element: element.id },
          ...{ reference: plate.side, adjusted: own.side },
          ...(plate.lit ? { lit: plate.lit } : {}),
        },
        reason: reasons[purpose],
        error: Math.max(
          ...errorsOf(plate.reading, purpose).map((error, c) => Math.hypot(error, errorsOf(own.reading, purpose)[c])),
        ),
        ...{ reference: plate.reading, adjusted: own.reading },
      }))
  })
  const bare = purposes.filter((purpose) => !suggestions.some(({ witness }) => witness.purpose === purpose))
  return { suggestions, not: bare.map((purpose) => ({ purpose, why: nothingFor[purpose] })) }
}

/** A side that was read on every frame that was looked at, and holds still. */
interface SteadySide {
  readonly side: WitnessSide
  readonly lit?: Window
  readonly reading: SideReading
  readonly frames: ReadSide['frames']
}

const steadyOf = (sides: readonly ReadSide[]): SteadySide[] =>
  sides.flatMap(({ steady, ...side }) => (steady ? [{ ...side, reading: steady }] : []))

/** By half of what it may drift: what is unlike from the beginning would say nothing of the frames. */
function areAlike({ reading: reference }: SteadySide, { reading: adjusted }: SteadySide): boolean {
  const { drift, tolerance } = judged({ purpose: 'mid' }, { reference, adjusted })
  return drift.every((value, c) => Math.abs(value) <= tolerance[c] / 2)
}

/** The plate's side has been found to hold still, so that its frames tell it together, however far apart they are. */
function agree(purpose: SuggestedPurpose, plate: SteadySide, own: SteadySide): boolean {
  const references = referenceOverFrames(
    purpose,
    plate.frames.map((side, i) => ({ frame: i, side })),
  )
  return references.every(
    (reference, i) => judged({ purpose }, { reference, adjusted: own.frames[i] }).verdict === 'agrees',
  )
}

/** In pixels: what goes farther apart is not one thing. */
const mostApart = 1

/** What moves against the plate from the beginning would say nothing of the frames. */
const stayTogether = (plate: SteadySide, own: SteadySide): boolean =>
  plate.frames.every((one, i) => {
    const [a, b] = [one?.moved, own.frames[i]?.moved]
    return !!a && !!b && Math.hypot(a.x - b.x, a.y - b.y) <= mostApart
  })

/** Lamps that the element takes away at most may be away elsewhere on the plate as well; ground that is darker is of another material. */
function isOfItsKind(plate: SteadySide, own: SteadySide, { blend }: Element, frame: number): boolean {
  const [left, made] = [plate.reading.shadow, own.reading.shadow]
  const present = blend.parameters.ratio.map((curve) => valueAt(curve, frame)) as unknown as Rgb
  return !!left && !!made && couldAgree(left, made, present)
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
  // The darkest of both; the deepest shadows; else what is surest.
  const byValue = purpose === 'black' || purpose === 'shadow'
  const rank = ({ reading }: SteadySide) => (byValue ? total(reading, purpose) : errorsOf(reading, purpose)[0])
  const inOrder = (sides: readonly SteadySide[]) => [...sides].sort((a, b) => rank(a) - rank(b))
  const others = inOrder(own)
  if (purpose === 'shadow') return others.length === 0 ? [] : inOrder(plate).map((one) => [one, others[0]])
  return inOrder(plate)
    .slice(0, others.length)
    .map((one, i) => [one, others[i]] as const)
}
