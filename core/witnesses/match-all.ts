/**
 * Matches what is rendered to the plate by measuring, in the order in which one rests on the other: softness, then veil and
 * gain, then the shadow, and softness once more on the whole picture. What somebody set is left as it is.
 */

import { inOrder, type Element, type Shot } from '../shot'
import type { Look } from './look'
import { matchPlateVeil, matchShadow } from './match-shadow'
import { matchSoftness, refineSoftness } from './match-softness'
import { matchVeilAndGain } from './match-veil-and-gain'
import { matchWithoutObjects } from './match-without-objects'
import { companionsOf, objectsOf, ShotBeingMatched, toBeMatched } from './matching'
import { namesOf, seenOnAll, type SeenOnObject } from './on-objects'
import type { Matching, PlanOf } from './parts'
import type { SuggestedPurpose } from './places-to-compare'
import { suggestWitnesses } from './suggest'

/** A finished shot has witnesses for these (see the proof). */
const wantedPurposes: readonly SuggestedPurpose[] = ['black', 'mid', 'sharpness']

/** Of an element; each takes about as long as the others. */
const stages = 5

export interface MatchOptions {
  /** another shot of the series, matched: its gain is taken where nothing was shot for reference */
  readonly series?: Shot | null
  /** told how far it is, 0 to 1 */
  readonly progress?: (share: number) => void
}

/** @throws what reading and making pictures throws */
export async function matchAll(
  shot: Shot,
  look: Look,
  plan: PlanOf,
  { series = null, progress = () => undefined }: MatchOptions = {},
): Promise<Matching> {
  const matched = new ShotBeingMatched(shot, look, plan)
  const all = toBeMatched(shot)
  for (const [i, element] of all.entries()) {
    const stage = (done: number) => progress((i + done / stages) / all.length)
    const objects = objectsOf(shot, element)
    const { light, shadows } = companionsOf(shot, element)
    if (objects.length === 0) {
      await matchWithoutObjects(matched, element, { light, shadows }, series)
      stage(4)
      await keepSuggested(matched, element)
      continue
    }
    let read: Promise<readonly SeenOnObject[]> | null = null
    const pictures = () => (read ??= seenOnAll(matched, element, objects))
    const soft = await matchSoftness(matched, element, objects, light, pictures)
    stage(1)
    const veil = await matchVeilAndGain(matched, element, objects, light, pictures)
    if (veil) for (const one of shadows) matchPlateVeil(matched, one, veil, namesOf(objects))
    stage(2)
    const [shadow, occlusion] = (['shadow', 'occlusion'] as const).map(
      (kind) => shadows.find(({ blend }) => blend.kind === kind) ?? null,
    )
    if (shadow) await matchShadow(matched, element, shadow, occlusion, objects)
    stage(3)
    if (soft) await refineSoftness(matched, element, objects)
    stage(4)
    await keepSuggested(matched, element)
    stage(5)
  }
  return { parts: matched.parts, left: matched.left, witnesses: matched.witnesses }
}

/**
 * Witnesses that go on where the reference objects end: chosen on what was matched, of purposes that nobody has one for yet. Places
 * that are unlike all the same are of unlike material, and say nothing.
 */
async function keepSuggested(matched: ShotBeingMatched, element: Element): Promise<void> {
  const { shot, look, plan } = matched
  const there = inOrder(shot.witnesses).filter((one) => one.element === element.id && one.on === undefined)
  if (wantedPurposes.every((wanted) => there.some(({ purpose }) => purpose === wanted))) return
  const { suggestions } = await suggestWitnesses(shot, look, plan, element, {
    purposes: wantedPurposes,
    agreeing: true,
  })
  for (const { witness } of suggestions)
    if (!there.some(({ purpose }) => purpose === witness.purpose)) matched.keep(witness)
}
