/** Work of the kind `checks`: what is measured of whole frames, a frame an item. */

import { object, string } from 'yup'
import type { Engine } from '../../core/engine/engine'
import { planInPlate } from '../../core/plan/plan'
import { factsKey, factsOf, type KeptFacts } from '../../core/witnesses'
import { lookOf } from '../engine/look-of'
import type { ShotsNow } from '../shots/shots-now'
import type { WorkKind } from '../work/kind'
import type { WorkStore } from '../work/work-store'

export interface ChecksWorkOptions {
  readonly shots: ShotsNow
  readonly work: WorkStore
  /** an engine that reads from the shot's folder */
  readonly engineFor: (shotFolder: string) => Engine
}

const inputOfWork = object({ shot: string().required() })

export function checksWork({ shots, work, engineFor }: ChecksWorkOptions): WorkKind<unknown, KeptFacts> {
  return {
    kind: 'checks',
    async run(input, frame, { signal }) {
      const { row, shot, files, memo } = await shots.of(inputOfWork.validateSync(input).shot)
      const plan = planInPlate(shot, frame, 1, files, memo)
      const key = factsKey(shot, plan)
      const before = (await work.lastResultOf(row.id, 'checks', frame)) as KeptFacts | null
      if (before?.key === key) return before
      return { key, ...(await factsOf(shot, plan, lookOf(engineFor(row.folder), signal), signal)) }
    },
  }
}
