/** Windows of a shot's plate as it came, for what tracks it. */

import type { Engine } from '../../core/engine/engine'
import type { Window } from '../../core/image/window'
import type { Files } from '../../core/plan/catalog'
import { PlanMemo } from '../../core/plan/memo'
import { planFrame } from '../../core/plan/plan'
import { refuseProblems, UnplannedError } from '../../core/plan/problem'
import type { Shot } from '../../core/shot'

/** @returns reads premultiplied RGBA; throws UnplannedError where a frame has no plate, and what reading throws */
export function plateLight(engine: Engine, shot: Shot, files: Files, signal?: AbortSignal) {
  const memo = new PlanMemo()
  return (frame: number, window: Window): Promise<Float32Array> => {
    const { plate, problems } = planFrame(shot, frame, 1, files, memo)
    if (plate) return engine.light(plate, window, { once: true, ...(signal ? { signal } : {}) })
    refuseProblems(problems)
    throw new UnplannedError(`${shot.name} has no plate at frame ${frame}.`)
  }
}
