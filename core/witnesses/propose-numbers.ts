/** Exposure, white balance, saturation and tint of an element, each by itself: what its witnesses say it would have to be. */

import { lumaWeights, workingSpaces } from '../colour'
import {
  numberNames,
  oneNumber,
  purposes,
  triedOf,
  unlikeOf,
  type NumberName,
  type NumberProposed,
  type PairTried,
  type Rgb,
  type SideReading,
} from '../match'
import {
  allOf,
  applyEdit,
  inOrder,
  newId,
  newPoint,
  newTreatment,
  newUse,
  type Shot,
  type SingleChange,
  type Witness,
} from '../shot'
import { treatments, type TreatmentKind } from '../treatments'
import { ownUse } from './changes'
import { plansOf, type Look } from './look'
import type { PlanOf } from './parts'
import { countsOn, WitnessReader, type WitnessReading } from './read-witness'

/** The treatment and the parameter that a number is set by. */
const numberSettings: Readonly<
  Record<NumberName, { readonly treatment: TreatmentKind; readonly parameter: string; readonly channels: 1 | 3 }>
> = {
  exposure: { treatment: 'exposure', parameter: 'stops', channels: 3 },
  'white balance': { treatment: 'white-balance', parameter: 'to', channels: 1 },
  saturation: { treatment: 'saturation', parameter: 'amount', channels: 1 },
  tint: { treatment: 'tint', parameter: 'amount', channels: 1 },
}

/** A number with the light of the plate that it goes by, where it goes by any and the element has none of its own. */
export interface NumberFound extends NumberProposed {
  readonly picks: readonly Rgb[]
}

interface Wanted {
  readonly value: number
  readonly frame: number
  readonly picks?: readonly Rgb[]
  /** of the treatment that is added where the element has none */
  readonly id: string
}

/** @returns edits to be made in this order, which set an element's own number and add the treatment for it where there is none */
export function numberChanges(
  shot: Shot,
  element: string,
  name: NumberName,
  { value, frame, picks = [], id }: Wanted,
): SingleChange[] {
  const { treatment, parameter, channels } = numberSettings[name]
  const known = ownUse(shot, element, treatment)
  const of = { kind: 'treatment', id: known?.settings.id ?? id } as const
  const values = Array.from({ length: channels }, () => Number(value.toFixed(6)))
  return [
    ...(known
      ? []
      : [
          {
            ...({ kind: 'add-treatment', settings: newTreatment(treatment, id) } as const),
            use: newUse(shot, { kind: 'element', id: element }, treatment, id),
          },
        ]),
    ...picks.map((light) => ({
      ...({ kind: 'add-point', of } as const),
      point: newPoint(treatments[treatment], newId(), { colour: [...light] }),
    })),
    { kind: 'set-channels', at: { owner: of, parameter }, frame, values },
  ]
}

const mostPicks = 8
/** Picks nearer to each other are one, in stops of luma. */
const leastStops = 0.5

/** The plate's sides by brightness, each so far from the one before that it says more. */
function picksOf(sides: readonly SideReading[], weights: Rgb): readonly Rgb[] {
  const luma = ({ light }: SideReading) => weights.reduce((sum, weight, c) => sum + weight * light[c], 0)
  const rising = sides
    .filter((side) => luma(side) > leastErrors * Math.max(...side.error) && luma(side) > 0)
    .sort((a, b) => luma(a) - luma(b))
  const chosen: SideReading[] = []
  for (const side of rising)
    if (chosen.length === 0 || Math.log2(luma(side) / luma(chosen[chosen.length - 1])) >= leastStops) chosen.push(side)
  return chosen.slice(-mostPicks).map(({ light }) => light.map((one) => Math.max(0, one)) as unknown as Rgb)
}

const leastErrors = 3

/** Those that compare light of an element on a frame, in order. */
export const lightWitnesses = (shot: Shot, element: string, frame: number): Witness[] =>
  inOrder(shot.witnesses).filter(
    (one) =>
      one.element === element &&
      (one.purpose === 'colour' || purposes[one.purpose].comparesLight) &&
      countsOn(shot, one, frame),
  )

/** @returns by name; null where no witness can tell it */
export async function proposeNumbers(
  shot: Shot,
  look: Look,
  plan: PlanOf,
  element: string,
  frame: number,
): Promise<Readonly<Record<NumberName, NumberFound | null>>> {
  // In the dark it is the veil that is seen, which no number of these is about.
  const witnesses = lightWitnesses(shot, element, frame).filter(({ purpose }) => purpose !== 'black')
  const reader = new WitnessReader(look)
  const luma = lumaWeights(workingSpaces[shot.workingSpace])
  const present = await reader.read(plansOf(shot, plan), frame, witnesses)
  const asked = { shot, reader, plan, frame, witnesses }
  const plates = picksOf(
    present.flatMap(({ reference, adjusted }) => (reference && adjusted ? [reference] : [])),
    luma,
  )
  const found: Partial<Record<NumberName, NumberFound | null>> = {}
  for (const name of numberNames) {
    const picks = name === 'tint' && !hasPicks(shot, element) ? plates : []
    const number = oneNumber(name, await pairsTried(asked, element, name, picks), luma)
    found[name] = number && { ...number, picks }
  }
  return found as Record<NumberName, NumberFound | null>
}

/**
 * The light that the plate would have to look lit by, for its sides to agree with those of an element as it is set.
 *
 * @returns null where no witness can tell it
 */
export async function proposePlateBalance(
  shot: Shot,
  look: Look,
  plan: PlanOf,
  element: string,
  frame: number,
): Promise<NumberFound | null> {
  const witnesses = lightWitnesses(shot, element, frame).filter(({ purpose }) => purpose !== 'black')
  const asked = { shot, reader: new WitnessReader(look), plan, frame, witnesses }
  const luma = lumaWeights(workingSpaces[shot.workingSpace])
  const number = oneNumber('white balance', await pairsTried(asked, shot.plate, 'white balance', []), luma)
  return number && { ...number, picks: [] }
}

interface Trying {
  readonly shot: Shot
  readonly reader: WitnessReader
  readonly plan: PlanOf
  readonly frame: number
  readonly witnesses: readonly Witness[]
}

/** @param of the element whose number is tried: of the plate's, it is the references that change */
async function pairsTried(
  { shot, reader, plan, frame, witnesses }: Trying,
  of: string,
  name: NumberName,
  picks: readonly Rgb[],
): Promise<PairTried[]> {
  const read: WitnessReading[][] = []
  for (const value of triedOf(name)) {
    const changes = numberChanges(shot, of, name, { value, frame, picks, id: 'tried' })
    const set = changes.reduce((before, one) => applyEdit(before, one).shot, shot)
    read.push(await reader.read(plansOf(set, plan), frame, witnesses))
  }
  const [changing, still] =
    of === shot.plate ? (['reference', 'adjusted'] as const) : (['adjusted', 'reference'] as const)
  return witnesses.flatMap((witness, i) => {
    const reference = read[0][i][still]
    const adjusted = read.flatMap((one) => one[i][changing] ?? [])
    return reference && adjusted.length === read.length
      ? [{ name: witness.name, reference, adjusted, unlike: unlikeOf(witness) }]
      : []
  })
}

function hasPicks(shot: Shot, element: string): boolean {
  const { points } = ownUse(shot, element, 'tint')?.settings ?? {}
  return points !== undefined && allOf(points).length > 0
}
