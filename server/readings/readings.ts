/** What the witnesses of shots read on every frame: asked for, and told as far as it is there. */

import { randomUUID } from 'node:crypto'
import { countsOn, factsKey, plansOf, readingKey, type ShotReadings } from '../../core/witnesses'
import { filesIn } from '../../core/plan/catalog'
import { PlanMemo } from '../../core/plan/memo'
import { planFrame } from '../../core/plan/plan'
import { allOf, type Shot } from '../../core/shot'
import type { ShotRow } from '../database/models'
import { catalogOf } from '../media/catalog'
import type { MediaRoots } from '../media/media-roots'
import type { WorkStore } from '../work/work-store'
import type { ReadingsItem } from './readings-work'

export class Readings {
  constructor(
    private readonly work: WorkStore,
    private readonly media: MediaRoots,
  ) {}

  async of(shotId: string): Promise<ShotReadings> {
    const [newest] = await this.work.newestOfShot(shotId, 'readings')
    if (!newest) return { work: null, done: 0, total: 0, frames: {}, facts: {} }
    const [{ done, total }, results] = await Promise.all([this.work.status(newest.id), this.work.resultsOf(newest.id)])
    const items = [...results].map(([frame, result]) => [frame, result as ReadingsItem] as const)
    const frames = Object.fromEntries(items.map(([frame, { witnesses }]) => [frame, witnesses]))
    const facts = Object.fromEntries(items.flatMap(([frame, one]) => (one.facts ? [[frame, one.facts]] : [])))
    return { work: newest.id, done, total, frames, facts }
  }

  /** Frames of which there is no reading of the shot as it is. */
  private async wanting(row: ShotRow, shot: Shot, work: string): Promise<number[]> {
    const [results, catalog] = await Promise.all([
      this.work.resultsOf(work),
      catalogOf(this.media.place(row.folder), shot),
    ])
    const files = filesIn(catalog)
    const memo = new PlanMemo()
    const plans = plansOf(shot, (seen, at, scale) => planFrame(seen, at, scale, files, memo))
    const witnesses = allOf(shot.witnesses)
    const { first, last } = shot.frames
    const frames = Array.from({ length: last - first + 1 }, (_, i) => first + i)
    return frames.filter((frame) => {
      const item = results.get(frame) as ReadingsItem | undefined
      if (item?.facts?.key !== factsKey(shot, planFrame(shot, frame, 1, files, memo))) return true
      const read = item.witnesses
      return witnesses
        .filter((one) => countsOn(shot, one, frame))
        .some((one) => !Object.hasOwn(read, one.id) || read[one.id].key !== readingKey(plans, frame, one))
    })
  }

  /** Every frame, or again: what has not changed is not read again. */
  async read(row: ShotRow, shot: Shot, author?: string): Promise<void> {
    const { first, last } = shot.frames
    const key = `readings ${row.id} ${first} ${last}`
    const [newest] = await this.work.newestOfShot(row.id, 'readings')
    if (newest?.key === key) return this.work.retryItems(newest.id, 'tally', await this.wanting(row, shot, newest.id))
    await this.work.wish({
      ...{ id: randomUUID(), kind: 'readings', key, shotId: row.id, author, input: { shot: row.id }, wisher: 'tally' },
      title: `Witnesses and checks of ${shot.name}, ${first} to ${last}`,
      items: Array.from({ length: last - first + 1 }, (_, i) => first + i),
    })
  }
}
