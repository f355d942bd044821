/** Reads places that may be worth comparing on several frames, and finds those that hold still. */

import type { Window } from '../image/window'
import { leastCoverage, purposes as described, type SideReading } from '../match'
import type { Element, Shot, Witness, WitnessSide } from '../shot'
import { plansOf, type Look } from './look'
import type { PlanOf } from './parts'
import { placesToCompare, suggestedPurposes, type Place, type Places, type SuggestedPurpose } from './places-to-compare'
import { WitnessReader } from './read-witness'
import { WholeFrames } from './whole-frames'

/** Chosen on the middle one, judged on the others, so that noise which made a place look dark is not measured again. */
const framesLookedAt = 5

export interface ReadSide {
  readonly side: WitnessSide
  /** of a shadow of the plate's own the same ground in the light */
  readonly lit?: Window
  /** in the order of the frames that were looked at; null where it could not be read */
  readonly frames: readonly (SideReading | null)[]
  /** of the frame in the middle of them, where it holds still over all; else null */
  readonly steady: SideReading | null
}

export type Role = 'reference' | 'adjusted'
type BySide<T> = Readonly<Record<Role, readonly T[]>>

export interface ReadPlaces {
  /** the frame in the middle of the shot, on which they were chosen */
  readonly chosenOn: number
  /** null where the element shows nothing there */
  readonly read: Readonly<Record<SuggestedPurpose, BySide<ReadSide>>> | null
}

/** @throws what reading throws */
export async function readPlaces(
  shot: Shot,
  look: Look,
  plan: PlanOf,
  element: Element,
  purposes: readonly SuggestedPurpose[],
): Promise<ReadPlaces> {
  const frames = framesOver(shot)
  const chosenOn = frames[frames.length >> 1]
  const places = await placesToCompare(shot, look, plan, element, chosenOn, purposes)
  return { chosenOn, read: places && (await readSides(shot, look, plan, { element, frames, chosenOn }, places)) }
}

function framesOver({ frames: { first, last } }: Shot): number[] {
  const count = Math.min(framesLookedAt, last - first + 1)
  return Array.from({ length: count }, (_, i) => Math.round(first + ((last - first) * i) / Math.max(1, count - 1)))
}

interface Looking {
  readonly element: Element
  readonly frames: readonly number[]
  readonly chosenOn: number
}

interface AskedSide {
  readonly side: WitnessSide
  readonly lit?: Window
}

const plain = ({ x, y, width, height }: Window): WitnessSide => ({ x, y, width, height })

async function readSides(
  shot: Shot,
  look: Look,
  plan: PlanOf,
  looking: Looking,
  places: Readonly<Record<SuggestedPurpose, Places>>,
): Promise<Readonly<Record<SuggestedPurpose, BySide<ReadSide>>>> {
  const follows = looking.chosenOn
  const sideOf = (place: Place, stays: boolean): AskedSide => ({
    side: stays ? plain(place) : { ...plain(place), follows },
    ...(place.lit ? { lit: place.lit } : {}),
  })
  const following = (of: Places, stays: boolean): BySide<AskedSide> => ({
    reference: of.reference.map((one) => sideOf(one, stays)),
    adjusted: of.adjusted.map((one) => sideOf(one, false)),
  })
  const readAll = async (purposes: readonly SuggestedPurpose[], stays: boolean) => {
    const asked = purposes.map((purpose) => ({ purpose, sides: following(places[purpose], stays) }))
    return sidesOn(shot, look, plan, looking, asked)
  }
  const first = await readAll(suggestedPurposes, false)
  // Where there is nothing that the plate could be followed by, it may stay where it is.
  const bare = suggestedPurposes.filter(
    (purpose) =>
      purpose !== 'registration' &&
      places[purpose].reference.length > 0 &&
      !first[purpose].reference.some(({ steady }) => steady),
  )
  if (bare.length === 0) return first
  const staying = await readAll(bare, true)
  return { ...first, ...Object.fromEntries(bare.map((purpose) => [purpose, staying[purpose]])) }
}

type AskedSides = readonly { readonly purpose: SuggestedPurpose; readonly sides: BySide<AskedSide> }[]

/** All of them together: a file is read once on each frame. */
async function sidesOn(
  shot: Shot,
  look: Look,
  plan: PlanOf,
  { element, frames }: Looking,
  asked: AskedSides,
): Promise<Record<SuggestedPurpose, BySide<ReadSide>>> {
  // Sides are paired only to be read; each is judged by itself.
  const witnesses = asked.flatMap(({ purpose, sides: { reference, adjusted } }) => {
    const count = reference.length === 0 || adjusted.length === 0 ? 0 : Math.max(reference.length, adjusted.length)
    return Array.from({ length: count }, (_, i): Witness => {
      const { side, lit } = reference[i % reference.length]
      return {
        ...{ id: `${purpose} ${i}`, name: '', rank: 'a0', purpose, element: element.id },
        ...{ reference: side, adjusted: adjusted[i % adjusted.length].side },
        ...(lit ? { lit } : {}),
      }
    })
  })
  const full = frames.flatMap((frame) => {
    const { plate, elements } = plan(shot, frame, 1)
    return [plate, elements.get(element.id)].flatMap((step) => step ?? [])
  })
  const reader = new WitnessReader(new WholeFrames(look, { x: 0, y: 0, ...shot.frameSize }, full))
  const plans = plansOf(shot, plan)
  const read = witnesses.map((): Record<Role, SideReading | null>[] => [])
  for (const frame of frames)
    (await reader.read(plans, frame, witnesses)).forEach(({ reference, adjusted }, i) =>
      read[i].push({ reference, adjusted }),
    )
  const ofRole = (purpose: SuggestedPurpose, role: Role): ReadSide[] => {
    const sides = asked.find((one) => one.purpose === purpose)?.sides[role] ?? []
    return sides.flatMap(({ side, lit }) => {
      const i = witnesses.findIndex((one) => one.purpose === purpose && one[role] === side)
      const readings = i < 0 ? [] : read[i].map((one) => one[role])
      const steady = togetherIfSteady(purpose, readings)
      return i < 0 ? [] : [{ side, ...(lit ? { lit } : {}), frames: readings, steady }]
    })
  }
  const both = (purpose: SuggestedPurpose) => ({
    ...{ reference: ofRole(purpose, 'reference'), adjusted: ofRole(purpose, 'adjusted') },
  })
  const [black, mid, sharpness, registration, shadow] = suggestedPurposes.map(both)
  return { black, mid, sharpness, registration, shadow }
}

/**
 * A side may sway by this much over the frames, where noise does not account for it: light, pixels, what is left of light. What is
 * followed may go anywhere.
 */
const mostSway = { black: 0.001, mid: 0.001, sharpness: 0.1, registration: Infinity, shadow: 0.05 } as const
/** And light between by this share of itself. */
const mostShare = 0.025
/** Of a side that is followed, in pixels: what is less sure is not worth comparing. */
const mostSlipError = 0.15

export function valuesOf({ light, edge, moved, shadow }: SideReading, purpose: SuggestedPurpose): readonly number[] {
  if (purpose === 'sharpness') return [edge?.sigma ?? NaN]
  if (purpose === 'registration') return moved && moved.error <= mostSlipError ? [moved.x, moved.y] : [NaN, NaN]
  return purpose === 'shadow' ? (shadow?.ratio ?? [NaN, NaN, NaN]) : light
}

export function errorsOf({ error, edge, moved, shadow }: SideReading, purpose: SuggestedPurpose): readonly number[] {
  if (purpose === 'sharpness') return [edge?.error ?? NaN]
  if (purpose === 'registration') return [moved?.error ?? NaN, moved?.error ?? NaN]
  return purpose === 'shadow' ? (shadow?.error ?? [NaN, NaN, NaN]) : error
}

/** @returns null where it was not read on a frame, or sways */
function togetherIfSteady(purpose: SuggestedPurpose, frames: readonly (SideReading | null)[]): SideReading | null {
  const there = frames.flatMap((one) => one ?? [])
  if (there.length === 0 || there.length < frames.length) return null
  if (described[purpose].covered && there.some(({ coverage }) => coverage < leastCoverage)) return null
  const middle = there[0] && [...there].sort((a, b) => total(a, purpose) - total(b, purpose))[there.length >> 1]
  const still = there.every((one) =>
    valuesOf(one, purpose).every((value, c) => {
      const expected = valuesOf(middle, purpose)[c]
      const most = Math.max(mostSway[purpose], purpose === 'mid' ? mostShare * expected : 0)
      return Math.abs(value - expected) - 2 * (errorsOf(one, purpose)[c] ?? 0) <= most
    }),
  )
  return still ? middle : null
}

export const total = (one: SideReading, purpose: SuggestedPurpose) =>
  valuesOf(one, purpose).reduce((sum, value) => sum + value, 0)
