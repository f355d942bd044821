/** Work of the kind `match`: a shot matched by what was shot for reference. One item; nothing of it is used by itself. */

import { object, string } from 'yup'
import type { Engine } from '../../core/engine/engine'
import { planInPlate } from '../../core/plan/plan'
import { matchAll, type Matching } from '../../core/witnesses'
import { lookOf } from '../engine/look-of'
import type { ShotsNow } from '../shots/shots-now'
import type { WorkKind } from '../work/kind'

export interface MatchWorkOptions {
  readonly shots: ShotsNow
  /** an engine that reads from the shot's folder */
  readonly engineFor: (shotFolder: string) => Engine
}

export interface MatchItem {
  readonly matching: Matching
  /** of the shot that it was found on */
  readonly revision: number
}

const inputOfWork = object({ shot: string().required(), gainFrom: string() })

export function matchWork({ shots, engineFor }: MatchWorkOptions): WorkKind<unknown, MatchItem> {
  return {
    kind: 'match',
    async run(input, _item, { signal, progress }) {
      const asked = inputOfWork.validateSync(input)
      const { row, shot, files, memo } = await shots.of(asked.shot)
      const series = asked.gainFrom === undefined ? null : await shots.of(asked.gainFrom)
      const matching = await matchAll(
        shot,
        lookOf(engineFor(row.folder), signal),
        (seen, frame, scale) => planInPlate(seen, frame, scale, files, memo),
        { series: series?.shot ?? null, progress },
      )
      return { matching, revision: row.revision }
    },
  }
}
