/** Work of the kind `readings`: what all witnesses of a shot read, a frame an item. Only their windows are read and made. */

import { object, string } from 'yup'
import { countsOn, plansOf, readingKey, WitnessReader, type KeptReading } from '../../core/witnesses'
import type { Engine } from '../../core/engine/engine'
import { planInPlate } from '../../core/plan/plan'
import { inOrder } from '../../core/shot'
import { lookOf } from '../engine/look-of'
import type { ShotsNow } from '../shots/shots-now'
import type { WorkKind } from '../work/kind'
import type { WorkStore } from '../work/work-store'

export interface ReadingsWorkOptions {
  readonly shots: ShotsNow
  readonly work: WorkStore
  /** an engine that reads from the shot's folder */
  readonly engineFor: (shotFolder: string) => Engine
}

export interface ReadingsItem {
  /** by id */
  readonly witnesses: Readonly<Record<string, KeptReading>>
}

const unread = { reference: null, adjusted: null, why: 'the frame could not be read' } as const

const inputOfWork = object({ shot: string().required() })

export function readingsWork({ shots, work, engineFor }: ReadingsWorkOptions): WorkKind<unknown, ReadingsItem> {
  return {
    kind: 'readings',
    async run(input, frame, { signal }) {
      const { row, shot, files, memo } = await shots.of(inputOfWork.validateSync(input).shot)
      const plans = plansOf(shot, (seen, at, scale) => planInPlate(seen, at, scale, files, memo))
      const before = ((await work.lastResultOf(row.id, 'readings', frame)) as ReadingsItem | null)?.witnesses ?? {}
      const all = inOrder(shot.witnesses)
        .filter((witness) => countsOn(shot, witness, frame))
        .map((witness) => ({ witness, key: readingKey(plans, frame, witness) }))
      const known = (id: string) => (Object.hasOwn(before, id) ? before[id] : undefined)
      const wanting = all.filter(({ witness, key }) => known(witness.id)?.key !== key)
      // Where a file cannot be read, the checks say so.
      const read = await new WitnessReader(lookOf(engineFor(row.folder), signal))
        .read(
          plans,
          frame,
          wanting.map(({ witness }) => witness),
        )
        .catch((error: unknown) => {
          if (signal.aborted) throw error
          return wanting.map(() => unread)
        })
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
