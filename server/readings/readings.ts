/** What the witnesses of shots read, and what their checks measured, on every frame: asked for, and told as far as it is there. */

import { randomUUID } from 'node:crypto'
import { countsOn, factsKey, plansOf, readingKey, type KeptFacts, type ShotReadings } from '../../core/witnesses'
import { filesIn } from '../../core/plan/catalog'
import { PlanMemo } from '../../core/plan/memo'
import { planInPlate } from '../../core/plan/plan'
import { allOf, type Shot } from '../../core/shot'
import type { ShotRow } from '../database/models'
import { catalogOf } from '../media/catalog'
import type { MediaRoots } from '../media/media-roots'
import { statusAndResults } from '../work/status-and-results'
import type { WorkStore } from '../work/work-store'
import type { ReadingsItem } from './readings-work'

type Kind = 'readings' | 'checks'
const titles: Readonly<Record<Kind, string>> = { readings: 'Witnesses', checks: 'Checks' }

/** Whether what is kept of a frame is of the shot as it is. */
type IsFresh = (frame: number, result: object) => boolean

export class Readings {
  constructor(
    private readonly work: WorkStore,
    private readonly media: MediaRoots,
  ) {}

  async of(shotId: string): Promise<ShotReadings> {
    const [witnesses, checks] = await Promise.all([this.newest(shotId, 'readings'), this.newest(shotId, 'checks')])
    const by = <T>(results: ReadonlyMap<number, object>, of: (result: object) => T) =>
      Object.fromEntries([...results].map(([frame, result]) => [frame, of(result)]))
    return {
      progress: { witnesses: witnesses.progress, checks: checks.progress },
      frames: by(witnesses.results, (result) => (result as ReadingsItem).witnesses),
      facts: by(checks.results, (result) => result as KeptFacts),
    }
  }

  private async newest(shotId: string, kind: Kind) {
    const [newest] = await this.work.newestOfShot(shotId, kind)
    if (!newest) return { progress: { done: 0, total: 0 }, results: new Map<number, object>() }
    const { status, results } = await statusAndResults(this.work, newest.id)
    return { progress: { done: status.done, total: status.total }, results }
  }

  /** Every frame, or again: what has not changed is not read again. */
  async read(row: ShotRow, shot: Shot, author?: string): Promise<void> {
    const files = filesIn(await catalogOf(this.media.place(row.folder), shot))
    const memo = new PlanMemo()
    const plans = plansOf(shot, (seen, at, scale) => planInPlate(seen, at, scale, files, memo))
    const witnesses = allOf(shot.witnesses)
    await this.readKind('readings', row, shot, author, (frame, result) =>
      witnesses
        .filter((one) => countsOn(shot, one, frame))
        .every((one) => {
          const read = (result as ReadingsItem).witnesses
          return Object.hasOwn(read, one.id) && read[one.id].key === readingKey(plans, frame, one)
        }),
    )
    await this.readKind('checks', row, shot, author, (frame, result) => {
      const plan = plans.at(null, frame, 1)
      return plan !== null && (result as KeptFacts).key === factsKey(shot, plan)
    })
  }

  private async readKind(kind: Kind, row: ShotRow, shot: Shot, author: string | undefined, isFresh: IsFresh) {
    const { first, last } = shot.frames
    const frames = Array.from({ length: last - first + 1 }, (_, i) => first + i)
    const key = `${kind} ${row.id} ${first} ${last}`
    const [newest] = await this.work.newestOfShot(row.id, kind)
    if (newest?.key === key) {
      const results = await this.work.resultsOf(newest.id)
      const wanting = frames.filter((frame) => {
        const result = results.get(frame)
        return !result || !isFresh(frame, result)
      })
      return this.work.retryItems(newest.id, 'tally', wanting)
    }
    await this.work.wish({
      ...{ id: randomUUID(), kind, key, shotId: row.id, author, input: { shot: row.id }, wisher: 'tally' },
      title: `${titles[kind]} of ${shot.name}, ${first} to ${last}`,
      items: frames,
    })
  }
}
