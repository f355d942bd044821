/** Work of the kind `readings`: what all witnesses of a shot read, a frame an item. Only their windows are read and made. */

import { LRUCache } from 'lru-cache'
import { object, string } from 'yup'
import { readingKey, readWitness } from '../../core/check'
import type { Engine } from '../../core/engine/engine'
import { filesIn } from '../../core/plan/catalog'
import { PlanMemo } from '../../core/plan/memo'
import { planFrame } from '../../core/plan/plan'
import { inOrder, parseShot, type Shot } from '../../core/shot'
import type { KeptReading } from '../../core/work'
import type { Models } from '../database/models'
import { catalogOf } from '../media/catalog'
import type { MediaRoots } from '../media/media-roots'
import type { WorkKind } from '../work/kind'
import type { WorkStore } from '../work/work-store'

export interface ReadingsWorkOptions {
  readonly models: Models
  readonly work: WorkStore
  readonly media: MediaRoots
  /** an engine that reads from the shot's folder */
  readonly engineFor: (shotFolder: string) => Engine
}

/** By witness. */
export interface ReadingsItem {
  readonly witnesses: Readonly<Record<string, KeptReading>>
}

const inputOfWork = object({ shot: string().required() })

export function readingsWork({ models, work, media, engineFor }: ReadingsWorkOptions): WorkKind<unknown, ReadingsItem> {
  const known = new LRUCache<string, { readonly shot: Shot; readonly memo: PlanMemo }>({ max: 5 })
  return {
    kind: 'readings',
    async run(input, frame, { signal }) {
      const row = await models.shots.findByPk(inputOfWork.validateSync(input).shot)
      if (!row) throw new Error('The shot of these witnesses is gone.')
      // As it is now: what has changed since the wish is wanted as it became.
      const name = `${row.id} ${row.revision}`
      const { shot, memo } = known.get(name) ?? { shot: parseShot(row.document, row.name), memo: new PlanMemo() }
      known.set(name, { shot, memo })
      const plan = planFrame(shot, frame, 1, filesIn(await catalogOf(media.place(row.folder), shot)), memo)
      const before = ((await work.lastResultOf(row.id, 'readings', frame)) as ReadingsItem | null)?.witnesses ?? {}
      const engine = engineFor(row.folder)
      const witnesses: Record<string, KeptReading> = {}
      for (const witness of inOrder(shot.witnesses)) {
        const key = readingKey(plan, witness)
        const found = Object.hasOwn(before, witness.id) ? before[witness.id] : undefined
        witnesses[witness.id] =
          found?.key === key
            ? found
            : {
                key,
                ...(await readWitness((step, side) => engine.light(step, side, { signal, once: true }), plan, witness)),
              }
      }
      return { witnesses }
    },
  }
}
