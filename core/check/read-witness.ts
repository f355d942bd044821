/** Reads both sides of a witness, at full scale whatever the picture is made at. */

import { contentKey } from '../graph/content-key'
import type { Step } from '../graph/steps'
import type { Window } from '../image/window'
import { readSide, type SideReading } from '../match'
import type { FramePlan } from '../plan/plan'
import type { Witness } from '../shot'

export interface WitnessReading {
  /** null where there is nothing to read */
  readonly reference: SideReading | null
  readonly adjusted: SideReading | null
}

/** Makes premultiplied light of a window of a step. */
export type MakeLight = (step: Step, window: Window) => Promise<Float32Array>

/**
 * The reference is the plate as it came; the adjusted side is the element as the plan has it.
 *
 * @param plan at full scale
 * @throws what making light throws
 */
export async function readWitness(light: MakeLight, plan: FramePlan, witness: Witness): Promise<WitnessReading> {
  const { reference, adjusted, element } = witness
  const read = async (step: Step | null | undefined, side: Window) =>
    step ? readSide(await light(step, side), side) : null
  return {
    reference: await read(plan.plate, reference),
    adjusted: await read(plan.elements.get(element), adjusted),
  }
}

/** Equal key, equal reading: what else is in the shot, and what is asked of the reading, does not count. */
export function readingKey(plan: FramePlan, { reference, adjusted, element }: Witness): string {
  const sides = [reference, adjusted].map(({ x, y, width, height }) => [x, y, width, height])
  return contentKey('reading', 1, plan.plate?.key ?? null, plan.elements.get(element)?.key ?? null, sides)
}
