/** Reads both sides of witnesses, at full scale whatever the picture is made at. */

import { contentKey } from '../graph/content-key'
import type { Step } from '../graph/steps'
import type { Window } from '../image/window'
import { readSide, type SideReading } from '../match'
import type { WindowReading } from '../measure/window-statistics'
import type { FramePlan } from '../plan/plan'
import type { Witness } from '../shot'

export interface WitnessReading {
  /** null where there is nothing to read */
  readonly reference: SideReading | null
  readonly adjusted: SideReading | null
}

/** Measures windows of a step, in their order: the files that they are made of are read once for all of them. */
export type Measure = (
  step: Step,
  windows: readonly Window[],
  wanted: { readonly noise: true },
) => Promise<readonly WindowReading[]>

/**
 * The reference is the plate as it came; the adjusted side is the element as the plan has it.
 *
 * @param plan at full scale
 * @returns in the order of the witnesses
 * @throws what measuring throws
 */
export async function readWitnesses(
  measure: Measure,
  plan: FramePlan,
  witnesses: readonly Witness[],
): Promise<WitnessReading[]> {
  const read = async (step: Step | null | undefined, sides: readonly Window[]) =>
    step ? (await measure(step, sides, { noise: true })).map(readSide) : sides.map(() => null)
  const references = await read(
    plan.plate,
    witnesses.map(({ reference }) => reference),
  )
  const adjusted = new Map<string, SideReading | null>()
  for (const element of new Set(witnesses.map((one) => one.element))) {
    const own = witnesses.filter((one) => one.element === element)
    const sides = await read(
      plan.elements.get(element),
      own.map((one) => one.adjusted),
    )
    own.forEach(({ id }, i) => adjusted.set(id, sides[i]))
  }
  return witnesses.map(({ id }, i) => ({ reference: references[i], adjusted: adjusted.get(id) ?? null }))
}

/** Equal key, equal reading: what else is in the shot, and what is asked of the reading, does not count. */
export function readingKey(plan: FramePlan, { reference, adjusted, element }: Witness): string {
  const sides = [reference, adjusted].map(({ x, y, width, height }) => [x, y, width, height])
  return contentKey('reading', 1, plan.plate?.key ?? null, plan.elements.get(element)?.key ?? null, sides)
}
