/**
 * Matches what is rendered to the plate by measuring, in the order in which one rests on the other: softness, then veil and
 * gain, then the shadow, and softness once more on the whole picture. What somebody set is left as it is.
 */

import { newId, type Shot } from '../shot'
import type { Look } from './look'
import { matchPlateVeil, matchShadow } from './match-shadow'
import { matchSoftness, refineSoftness } from './match-softness'
import { matchVeilAndGain } from './match-veil-and-gain'
import { companionsOf, objectsOf, ShotBeingMatched, toBeMatched, type Accept } from './matching'
import type { Matching, PlanOf } from './parts'

/**
 * @param accept which settings become changes: those that are sure, or all that were found
 * @throws what reading and making pictures throws
 */
export async function matchAll(shot: Shot, look: Look, plan: PlanOf, accept: Accept): Promise<Matching> {
  const matched = new ShotBeingMatched(shot, look, plan)
  for (const element of toBeMatched(shot)) {
    const objects = objectsOf(shot, element)
    if (objects.length === 0) {
      for (const what of ['softness', 'veil', 'gain'] as const) matched.leave(element, what, nothingShot)
      continue
    }
    const { light, shadows } = companionsOf(shot, element)
    const soft = await matchSoftness(matched, element, objects, light)
    const veil = await matchVeilAndGain(matched, element, objects, light)
    if (veil) for (const one of shadows) matchPlateVeil(matched, one, veil, objects)
    const [shadow, occlusion] = (['shadow', 'occlusion'] as const).map(
      (kind) => shadows.find(({ blend }) => blend.kind === kind) ?? null,
    )
    if (shadow) await matchShadow(matched, element, shadow, occlusion, objects)
    if (soft) await refineSoftness(matched, element, objects)
  }
  const changes = matched.changes(accept)
  const before = { kind: 'keep-try', id: newId(), name: 'before matching' } as const
  return { parts: matched.parts, left: matched.left, changes: changes.length > 0 ? [before, ...changes] : [] }
}

const nothingShot = 'no ball or chart was shot in its place'
