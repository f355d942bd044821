/** Veil and gain from reference objects, of which some regions become witnesses. */

import {
  lineOverPixels,
  mostThatContradict,
  pairsOverFrames,
  proposeVeilAndGain,
  unlikeOfSame,
  type LineOverPixels,
  type PairRead,
  type Sure,
} from '../match'
import { framesOfReferenceObject, type Element, type ReferenceObject, type Shot, type Witness } from '../shot'
import { plansOf } from './look'
import { isSet, ownUse } from './changes'
import { isByHand, type ShotBeingMatched } from './matching'
import { askedAhead, namesOf, renderedAgain, type SeenOnObject } from './on-objects'
import { WitnessReader } from './read-witness'
import { witnessesOn } from './witnesses-on-objects'

const fewestPairs = 3
const both = ['veil', 'gain'] as const

/**
 * @param light elements of the same render that are added as light: they get the gain
 * @param pictures of all objects, as nothing was matched yet
 * @returns the veil, where it was found
 */
export async function matchVeilAndGain(
  matched: ShotBeingMatched,
  element: Element,
  objects: readonly ReferenceObject[],
  light: readonly Element[],
  pictures: () => Promise<readonly SeenOnObject[]>,
): Promise<readonly Sure[] | null> {
  if (both.some((what) => isSet(matched.shot, element.id, what)) || hasGamma(matched.shot, element)) {
    for (const what of both) matched.leave(element, what, isByHand)
    return null
  }
  const seen = await softened(matched, element, await pictures())
  const { width } = matched.shot.frameSize
  const witnesses = objects.map((object) => witnessesOn(element, object, seen, width))
  const small = witnesses.flatMap((one) => one.small)
  const found = await lineFrom(matched, small, seen)
  if (typeof found === 'string') {
    for (const what of both) matched.leave(element, what, found)
    return null
  }
  for (const one of witnesses.flatMap(({ kept }) => kept)) matched.keep(one)
  for (const what of both) matched.find(element, what, found[what], namesOf(objects))
  // Light that is added has no veil of its own, but was lit by the same lamps.
  for (const one of light)
    if (ownUse(matched.shot, one.id, 'veil-and-gain')) matched.leave(one, 'gain', isByHand)
    else matched.find(one, 'gain', found.gain, namesOf(objects))
  return found.veil
}

/**
 * By all pixels; by regions where those are so few that they may contradict each other, or where pixels tell no line.
 *
 * @returns the end of a sentence where nothing tells it
 */
async function lineFrom(
  matched: ShotBeingMatched,
  witnesses: readonly Witness[],
  seen: readonly SeenOnObject[],
): Promise<LineOverPixels | string> {
  const line = lineOverPixels(seen, cellOf(matched.shot))
  if (line && witnesses.length > mostThatContradict) return line
  const pairs = await readAll(matched, witnesses)
  const found = pairs.length < fewestPairs ? null : proposeVeilAndGain(pairs, { veil: [0, 0, 0], gain: [1, 1, 1] })
  if (!found) return 'what was shot has too few regions that could tell it'
  if (found.rests.length === 0) return 'what was read of its regions contradicts itself'
  // Where some contradict the others, those that are left tell it.
  return line && found.contradictions.length === 0 ? line : found
}

/** A lens that is no Gaussian mixes light over a pixel of a frame 320 wide; larger ones are looked at in means. */
const cellOf = ({ frameSize: { width } }: Shot) => Math.max(1, Math.round(width / 320))

/** As soft as they are by now. */
async function softened(
  matched: ShotBeingMatched,
  element: Element,
  pictures: readonly SeenOnObject[],
): Promise<SeenOnObject[]> {
  const found: SeenOnObject[] = []
  for await (const one of askedAhead(pictures, (one) => renderedAgain(matched, element, one))) if (one) found.push(one)
  return found
}

/** A power before the gain: what is measured goes by a line. */
const hasGamma = (shot: Shot, { id }: Element) =>
  ownUse(shot, id, 'veil-and-gain')?.settings.parameters.gamma.some((value) => value !== 1) ?? false

/** On every frame that they were shot on, the frames of each taken together. */
async function readAll(matched: ShotBeingMatched, witnesses: readonly Witness[]): Promise<PairRead[]> {
  const reader = new WitnessReader(matched.look)
  const plans = plansOf(matched.shot, matched.plan)
  const frames = new Map(
    [...new Set(witnesses.map(({ on }) => on ?? ''))].map((on) => [on, framesOfReferenceObject(matched.shot, on)]),
  )
  const read = new Map<string, PairRead[]>()
  for (const [on, range] of frames) {
    const own = witnesses.filter((one) => one.on === on)
    for (let frame = range?.first ?? 1; range && frame <= range.last; frame++)
      (await reader.read(plans, frame, own)).forEach(({ reference, adjusted }, i) => {
        const { id, name, purpose } = own[i]
        if (!reference || !adjusted) return
        read.set(id, [...(read.get(id) ?? []), { name, purpose, reference, adjusted }])
      })
  }
  return pairsOverFrames([...read.values()].map((frames) => frames.map((one) => ({ ...one, unlike: unlikeOfSame }))))
}
