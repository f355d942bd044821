/** Work of the kind `claims`: what one source's files say and what their pixels say. It is kept until a file changes. */

import { createHash, randomUUID } from 'node:crypto'
import type { SourceReport } from '../../core/check'
import type { Shot } from '../../core/shot'
import { isOver } from '../../core/work'
import type { ShotRow } from '../database/models'
import { catalogOf } from '../media/catalog'
import type { MediaRoots } from '../media/media-roots'
import type { WorkKind } from '../work/kind'
import type { Notifications } from '../work/notifications'
import type { WorkStore } from '../work/work-store'
import type { MeasureTask } from './measure-source'
import { tasksFor, type Measurers } from './measurers'

interface ToMeasure extends Omit<MeasureTask, 'place'> {
  /** of the shot file */
  readonly folder: string
}

export function claimsWork(measurers: Measurers, media: MediaRoots): WorkKind<unknown, SourceReport> {
  return {
    kind: 'claims',
    run(input, _item, { signal }) {
      const { folder, ...task } = input as ToMeasure
      return measurers.measureOne({ ...task, place: media.place(folder) }, signal)
    },
  }
}

/** Work may change without being told of, while the database is away. */
const lookAgainMs = 1000

export class ClaimsReports {
  constructor(
    private readonly work: WorkStore,
    private readonly notifications: Notifications,
    private readonly media: MediaRoots,
  ) {}

  /**
   * Waits until everything is measured.
   *
   * @returns in the shot's order; without the sources whose measuring was called off
   * @throws Error when measuring failed
   */
  async of(row: ShotRow, shot: Shot, signal?: AbortSignal): Promise<SourceReport[]> {
    const place = this.media.place(row.folder)
    const tasks = await tasksFor(place, shot, await catalogOf(place, shot))
    const ids = await Promise.all(
      tasks.map(({ about, ...task }) => {
        const input: ToMeasure = { ...task, folder: row.folder }
        const key = `claims ${createHash('sha256').update(`${row.folder} ${about}`).digest('hex')}`
        const title = `${task.source.name} of ${shot.name} measured`
        const about_ = { id: randomUUID(), kind: 'claims', key, shotId: row.id, title, input } as const
        return this.work.wish({ ...about_, items: [1], wisher: `shot ${row.id}` })
      }),
    )
    const found: SourceReport[] = []
    for (const id of ids) {
      const status = await this.untilOver(id, signal)
      if (status.state === 'failed') throw new Error(status.failed[0]?.sentence)
      const report = (await this.work.resultsOf(id)).get(1)
      if (report) found.push(report as SourceReport)
    }
    return found
  }

  private async untilOver(id: string, signal?: AbortSignal) {
    for (;;) {
      const changed = new Promise<void>((resolve) => {
        const heard = (which: string) => {
          if (which !== id) return
          this.notifications.off('changed', heard)
          resolve()
        }
        this.notifications.on('changed', heard)
        setTimeout(() => heard(id), lookAgainMs)
      })
      const status = await this.work.status(id)
      if (isOver(status)) return status
      signal?.throwIfAborted()
      await changed
    }
  }
}
