/** The box of an element that is to be placed: what of its picture is not empty on this frame. */

import type { Engine } from '../../../../core/engine/engine'
import { boxOfCoverage } from '../../../../core/measure/box-of-coverage'
import type { FramePlan } from '../../../../core/plan/plan'
import { find, rootInput, type Box, type Element, type Shot, type Source } from '../../../../core/shot'

/** Room around the frame in which an overscan is looked for, as a share of it. */
const around = 0.5

/** @param plan at a scale @returns the frame where nothing of it is seen, or it cannot be read */
export async function boxOf(engine: Engine, plan: FramePlan | null, shot: Shot, { id }: Element): Promise<Box> {
  const { width, height } = shot.frameSize
  const all = { x: 0, y: 0, width, height }
  const step = plan?.elements.get(id)
  if (!plan || !step) return all
  const { scale } = plan
  const [across, down] = [Math.ceil((width * around) / scale), Math.ceil((height * around) / scale)]
  const window = {
    ...{ x: -across, y: -down },
    width: Math.ceil(width / scale) + 2 * across,
    height: Math.ceil(height / scale) + 2 * down,
  }
  // What cannot be read is said by the picture itself.
  const light = await engine.light(step, window).catch(() => null)
  const box = light && boxOfCoverage(light, window)
  if (!box) return all
  return { x: box.x * scale, y: box.y * scale, width: box.width * scale, height: box.height * scale }
}

/** The source that an element shows, where it is one pass. */
export function fileOf(shot: Shot, element: Element): Source | undefined {
  const root = rootInput(element)
  return root?.kind === 'pass' ? find(shot.sources, root.source) : undefined
}
