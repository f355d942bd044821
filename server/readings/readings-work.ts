/**
 * Work of the kind `readings`: what all witnesses of a shot read, and what the checks measure, a frame an item. For witnesses only
 * their windows are read and made.
 */

import { object, string } from 'yup'
import {
  countsOn,
  factsKey,
  factsOf,
  plansOf,
  readingKey,
  WitnessReader,
  type KeptFacts,
  type KeptReading,
  type Look,
} from '../../core/witnesses'
import type { Engine } from '../../core/engine/engine'
import { planFrame } from '../../core/plan/plan'
import { inOrder } from '../../core/shot'
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
  /** absent in what was read before there were checks */
  readonly facts?: KeptFacts
}

const unread = { reference: null, adjusted: null, why: 'the frame could not be read' } as const

const inputOfWork = object({ shot: string().required() })

export function readingsWork({ shots, work, engineFor }: ReadingsWorkOptions): WorkKind<unknown, ReadingsItem> {
  return {
    kind: 'readings',
    async run(input, frame, { signal }) {
      const { row, shot, files, memo } = await shots.of(inputOfWork.validateSync(input).shot)
      const plans = plansOf(shot, (seen, at, scale) => planFrame(seen, at, scale, files, memo))
      const last = (await work.lastResultOf(row.id, 'readings', frame)) as ReadingsItem | null
      const before = last?.witnesses ?? {}
      const engine = engineFor(row.folder)
      const all = inOrder(shot.witnesses)
        .filter((witness) => countsOn(shot, witness, frame))
        .map((witness) => ({ witness, key: readingKey(plans, frame, witness) }))
      const known = (id: string) => (Object.hasOwn(before, id) ? before[id] : undefined)
      const wanting = all.filter(({ witness, key }) => known(witness.id)?.key !== key)
      const look: Look = {
        measure: (step, sides, what) => engine.measure(step, sides, what, { signal }),
        light: (step, window, options) => engine.light(step, window, { ...options, signal }),
        bounds: (step) => engine.bounds(step),
      }
      // Where a file cannot be read, the checks say so.
      const read = await new WitnessReader(look)
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
      const plan = planFrame(shot, frame, 1, files, memo)
      const key = factsKey(shot, plan)
      const facts = last?.facts?.key === key ? last.facts : { key, ...(await factsOf(shot, plan, look, signal)) }
      return { witnesses, facts }
    },
  }
}
