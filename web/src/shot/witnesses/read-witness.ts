/** Reads both sides of a witness, at full scale whatever the picture is made at. */

import type { Engine } from '../../../../core/engine/engine'
import type { Step } from '../../../../core/graph/steps'
import { readSide, type SideReading } from '../../../../core/match'
import type { FramePlan } from '../../../../core/plan/plan'
import type { Witness, WitnessSide } from '../../../../core/shot'

async function sideOf(engine: Engine, step: Step | null | undefined, side: WitnessSide): Promise<SideReading | null> {
  if (!step) return null
  return readSide(await engine.light(step, side), side)
}

/**
 * The reference is the plate as it came; the adjusted side is the element as the plan has it.
 *
 * @param plan at full scale
 * @throws what loading throws
 */
export async function readWitness(engine: Engine, plan: FramePlan, { reference, adjusted, element }: Witness) {
  const [plate, shown] = await Promise.all([
    sideOf(engine, plan.plate, reference),
    sideOf(engine, plan.elements.get(element), adjusted),
  ])
  return { frame: plan.frame, reference: plate, adjusted: shown }
}
