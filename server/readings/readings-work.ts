/** Work of the kind `readings`: what all witnesses of a shot read, a frame an item. Only their windows are read and made. */

import { LRUCache } from 'lru-cache'
import { object, string } from 'yup'
import { readingKey, readWitnesses } from '../../core/check'
import type { Engine } from '../../core/engine/engine'
import { filesIn, type Catalog } from '../../core/plan/catalog'
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

const catalogMs = 2000

const inputOfWork = object({ shot: string().required() })

export function readingsWork({ models, work, media, engineFor }: ReadingsWorkOptions): WorkKind<unknown, ReadingsItem> {
  // Looking for all files of a shot takes as long as reading the windows of a frame.
  const catalogs = new LRUCache<string, Promise<Catalog>>({ max: 5, ttl: catalogMs })
  const shots = new LRUCache<string, { readonly shot: Shot; readonly memo: PlanMemo }>({ max: 5 })
  return {
    kind: 'readings',
    async run(input, frame, { signal }) {
      const row = await models.shots.findByPk(inputOfWork.validateSync(input).shot)
      if (!row) throw new Error('The shot of these witnesses is gone.')
      // As it is now: what has changed since the wish is wanted as it became.
      const name = `${row.id} ${row.revision}`
      const { shot, memo } = shots.get(name) ?? { shot: parseShot(row.document, row.name), memo: new PlanMemo() }
      shots.set(name, { shot, memo })
      const catalog = catalogs.get(name) ?? catalogOf(media.place(row.folder), shot)
      catalogs.set(name, catalog, { noUpdateTTL: true })
      catalog.catch(() => catalogs.delete(name))
      const plan = planFrame(shot, frame, 1, filesIn(await catalog), memo)
      const before = ((await work.lastResultOf(row.id, 'readings', frame)) as ReadingsItem | null)?.witnesses ?? {}
      const engine = engineFor(row.folder)
      const all = inOrder(shot.witnesses).map((witness) => ({ witness, key: readingKey(plan, witness) }))
      const known = (id: string) => (Object.hasOwn(before, id) ? before[id] : undefined)
      const wanting = all.filter(({ witness, key }) => known(witness.id)?.key !== key)
      const read = await readWitnesses(
        (step, sides, what) => engine.measure(step, sides, what, { signal }),
        plan,
        wanting.map(({ witness }) => witness),
      )
      const fresh = wanting.map(({ witness, key }, i) => [witness.id, { key, ...read[i] }] as const)
      const kept = all.flatMap(({ witness: { id }, key }) => {
        const one = known(id)
        return one?.key === key ? [[id, one] as const] : []
      })
      const witnesses: Record<string, KeptReading> = Object.fromEntries([...kept, ...fresh])
      return { witnesses }
    },
  }
}
