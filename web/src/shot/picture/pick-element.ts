/** Which element is seen at a place of the picture: the nearest that does anything there. */

import type { Engine } from '../../../../core/engine/engine'
import type { FramePlan } from '../../../../core/plan/plan'
import { blends } from '../../../../core/set/blends'
import { elementsInOrder, isGroup, type Shot } from '../../../../core/shot'
import type { Point } from '../../store/view'

/** Coverage, or light, that an eye notices. */
const noticed = 0.05

/** @param at full-scale pixels @returns its id; the plate's where nothing lies over it */
export async function pickElement(engine: Engine, plan: FramePlan, shot: Shot, at: Point): Promise<string> {
  const window = { x: Math.floor(at.x / plan.scale), y: Math.floor(at.y / plan.scale), width: 1, height: 1 }
  const nearestFirst = elementsInOrder(shot)
    .map(({ element }) => element)
    .filter((element) => element.visible && element.id !== shot.plate && !isGroup(element))
    .reverse()
  for (const { id, blend } of nearestFirst) {
    const step = plan.elements.get(id)
    if (!step) continue
    const { takes, neutral = 0 } = blends[blend.kind]
    const [red, green, blue, alpha] = await engine.light(step, window)
    const light = [red, green, blue]
    const does = takes === 'rgba' ? Math.max(...light, alpha) : Math.max(...light.map((m) => Math.abs(m - neutral)))
    if (does > noticed) return id
  }
  return shot.plate
}
