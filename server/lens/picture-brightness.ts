/** The brightness of a whole frame of a shot's plate, or of another of its sources. */

import type { Engine } from '../../core/engine/engine'
import { PlanMemo, type PlanContext } from '../../core/plan/memo'
import { planFrame } from '../../core/plan/plan'
import { UnplannedError } from '../../core/plan/problem'
import { sourceNode } from '../../core/plan/source-node'
import { find } from '../../core/shot'
import { brightnessOf } from '../../core/track'
import type { Plane } from '../../core/track/spline'

/**
 * @param source null: the plate
 * @throws UnplannedError where there is none at the frame, and what reading throws
 */
export async function pictureBrightness(
  engine: Engine,
  { shot, files }: PlanContext,
  source: string | null,
  frame: number,
  signal?: AbortSignal,
): Promise<Plane> {
  const window = { x: 0, y: 0, ...shot.frameSize }
  const memo = new PlanMemo()
  const step =
    source === null
      ? planFrame(shot, frame, 1, files, memo).plate
      : sourceNode({ shot, files, memo, scale: 1 }, source, null, undefined, frame)
  const name = source === null ? 'the plate' : (find(shot.sources, source)?.name ?? 'a source that is gone')
  if (!step) throw new UnplannedError(`${shot.name} has no picture of ${name} at frame ${frame}. Choose another frame.`)
  return brightnessOf(await engine.light(step, window, { once: true, ...(signal ? { signal } : {}) }), window)
}
