/** Suggests witnesses by itself: pairs of places near the element that hold still over the frames, each with what it is good for. */

import type { Window } from '../image/window'
import type { SideReading } from '../match'
import { newId, type Element, type Shot, type Witness, type WitnessSide } from '../shot'
import { plansOf, type Look } from './look'
import type { PlanOf } from './parts'
import { placesToCompare, suggestedPurposes, type Places, type SuggestedPurpose } from './places-to-compare'
import { WitnessReader } from './read-witness'
import { WholeFrames } from './whole-frames'

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

/** Chosen on the middle one, judged on the others, so that noise which made a place look dark is not measured again. */
const framesLookedAt = 5
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
  const frames = framesOver(shot)
  const chosenOn = frames[frames.length >> 1]
  const places = await placesToCompare(shot, look, plan, element, chosenOn)
  if (!places) {
    const why = `The element shows nothing on frame ${chosenOn}, in the middle of the shot.`
    return { suggestions: [], not: suggestedPurposes.map((purpose) => ({ purpose, why })) }
  }
  const read = await readSides(shot, look, plan, { element, frames, chosenOn }, places)
  const suggestions = suggestedPurposes.flatMap((purpose) => {
    const { reference, adjusted } = read[purpose]
    return pairsFor(purpose, reference, adjusted)
      .slice(0, limits[purpose])
      .map(([plate, own], i): Suggestion => ({
        witness: {
          ...{ id: newId(), name: `${names[purpose]} ${i + 1}`, rank: 'a0', purpose, element: element.id },
          ...{ reference: plate.side, adjusted: own.side },
        },
        reason: reasons[purpose],
        error: Math.max(...errorsOf(plate, purpose).map((error, c) => Math.hypot(error, errorsOf(own, purpose)[c]))),
        ...{ reference: plate.reading, adjusted: own.reading },
      }))
  })
  const bare = suggestedPurposes.filter((purpose) => !suggestions.some(({ witness }) => witness.purpose === purpose))
  return { suggestions, not: bare.map((purpose) => ({ purpose, why: nothingFor[purpose] })) }
}

function framesOver({ frames: { first, last } }: Shot): number[] {
  const count = Math.min(framesLookedAt, last - first + 1)
  return Array.from({ length: count }, (_, i) => Math.round(first + ((last - first) * i) / Math.max(1, count - 1)))
}

/** A side that was read on every frame that was looked at, and holds still. */
interface SteadySide {
  readonly side: WitnessSide
  readonly reading: SideReading
}
type BySide<T> = Readonly<Record<'reference' | 'adjusted', readonly T[]>>

interface Looking {
  readonly element: Element
  readonly frames: readonly number[]
  readonly chosenOn: number
}

const roles = ['reference', 'adjusted'] as const
const plain = ({ x, y, width, height }: Window): WitnessSide => ({ x, y, width, height })

async function readSides(
  shot: Shot,
  look: Look,
  plan: PlanOf,
  looking: Looking,
  places: Readonly<Record<SuggestedPurpose, Places>>,
): Promise<Readonly<Record<SuggestedPurpose, BySide<SteadySide>>>> {
  const follows = looking.chosenOn
  const following = (of: Places, stays: boolean): BySide<WitnessSide> => ({
    reference: of.reference.map((one) => (stays ? plain(one) : { ...plain(one), follows })),
    adjusted: of.adjusted.map((one) => ({ ...plain(one), follows })),
  })
  const steadyOf = async (purposes: readonly SuggestedPurpose[], stays: boolean) => {
    const asked = purposes.map((purpose) => ({ purpose, sides: following(places[purpose], stays) }))
    return steadySides(shot, look, plan, looking, asked)
  }
  const first = await steadyOf(suggestedPurposes, false)
  // Where there is nothing that the plate could be followed by, it may stay where it is.
  const bare = suggestedPurposes.filter((purpose) => first[purpose].reference.length === 0)
  return bare.length === 0 ? first : { ...first, ...(await steadyOf(bare, true)) }
}

type AskedSides = readonly { readonly purpose: SuggestedPurpose; readonly sides: BySide<WitnessSide> }[]

/** All of them together: a file is read once on each frame. */
async function steadySides(
  shot: Shot,
  look: Look,
  plan: PlanOf,
  { element, frames }: Looking,
  asked: AskedSides,
): Promise<Record<SuggestedPurpose, BySide<SteadySide>>> {
  // Sides are paired only to be read; each is judged by itself.
  const witnesses = asked.flatMap(({ purpose, sides: { reference, adjusted } }) => {
    const count = reference.length === 0 || adjusted.length === 0 ? 0 : Math.max(reference.length, adjusted.length)
    return Array.from({ length: count }, (_, i): Witness => ({
      ...{ id: `${purpose} ${i}`, name: '', rank: 'a0', purpose, element: element.id },
      ...{ reference: reference[i % reference.length], adjusted: adjusted[i % adjusted.length] },
    }))
  })
  const full = frames.flatMap((frame) => {
    const { plate, elements } = plan(shot, frame, 1)
    return [plate, elements.get(element.id)].flatMap((step) => step ?? [])
  })
  const reader = new WitnessReader(new WholeFrames(look, { x: 0, y: 0, ...shot.frameSize }, full))
  const plans = plansOf(shot, plan)
  const read = witnesses.map((): Record<(typeof roles)[number], SideReading | null>[] => [])
  for (const frame of frames)
    (await reader.read(plans, frame, witnesses)).forEach(({ reference, adjusted }, i) =>
      read[i].push({ reference, adjusted }),
    )
  const steady = (purpose: SuggestedPurpose, role: (typeof roles)[number]): SteadySide[] => {
    const sides = asked.find((one) => one.purpose === purpose)?.sides[role] ?? []
    return sides.flatMap((side) => {
      const i = witnesses.findIndex((one) => one.purpose === purpose && one[role] === side)
      const frames = i < 0 ? [] : read[i].map((one) => one[role])
      const reading = togetherIfSteady(purpose, frames)
      return reading ? [{ side, reading }] : []
    })
  }
  const both = (purpose: SuggestedPurpose) => ({
    ...{ reference: steady(purpose, 'reference'), adjusted: steady(purpose, 'adjusted') },
  })
  return { black: both('black'), mid: both('mid'), sharpness: both('sharpness') }
}

/** A side may sway by this much over the frames, where noise does not account for it: light, a share of light, pixels. */
const mostSway = { black: 0.001, share: 0.025, sharpness: 0.1 }

const valuesOf = ({ light, edge }: SideReading, purpose: SuggestedPurpose): readonly number[] =>
  purpose === 'sharpness' ? [edge?.sigma ?? NaN] : light
const errorsOf = ({ reading: { error, edge } }: Pick<SteadySide, 'reading'>, purpose: SuggestedPurpose) =>
  purpose === 'sharpness' ? [edge?.error ?? NaN] : error

/** @returns null where it was not read on a frame, or sways */
function togetherIfSteady(purpose: SuggestedPurpose, frames: readonly (SideReading | null)[]): SideReading | null {
  const there = frames.flatMap((one) => one ?? [])
  if (there.length === 0 || there.length < frames.length) return null
  if (purpose !== 'sharpness' && there.some(({ coverage }) => coverage < 0.98)) return null
  const middle = there[0] && [...there].sort((a, b) => total(a, purpose) - total(b, purpose))[there.length >> 1]
  const still = there.every((one) =>
    valuesOf(one, purpose).every((value, c) => {
      const expected = valuesOf(middle, purpose)[c]
      const most =
        purpose === 'sharpness'
          ? mostSway.sharpness
          : Math.max(mostSway.black, purpose === 'mid' ? mostSway.share * expected : 0)
      return Math.abs(value - expected) - 2 * (errorsOf({ reading: one }, purpose)[c] ?? 0) <= most
    }),
  )
  return still ? middle : null
}

const total = (one: SideReading, purpose: SuggestedPurpose) =>
  valuesOf(one, purpose).reduce((sum, value) => sum + value, 0)

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
