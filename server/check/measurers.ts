/** Measures a shot's sources on threads of their own, and keeps what was measured until a file or a claim changes. */

import { fileURLToPath } from 'node:url'
import { LRUCache } from 'lru-cache'
import { Piscina } from 'piscina'
import { waysOfReading, type SourceReport } from '../../core/check'
import { allOf, type Shot, type Source } from '../../core/shot'
import { stillKey, type Catalog } from '../../core/plan/catalog'
import { framesInFolder } from '../media/frames-in-folder'
import type { MediaPlace } from '../media/read-frame'
import type { MeasureTask } from './measure-source'

export class Measurers {
  private readonly pool: Piscina<MeasureTask, SourceReport>
  private readonly known = new LRUCache<string, Promise<SourceReport>>({ max: 500 })

  /** @param workerFile the built `source-measurer.mjs` */
  constructor(workerFile: URL, threads: number) {
    this.pool = new Piscina({
      filename: fileURLToPath(workerFile),
      minThreads: 0,
      maxThreads: threads,
      idleTimeout: 30_000,
    })
  }

  /** In the shot's order. */
  async measure(place: MediaPlace, shot: Shot, catalog: Catalog): Promise<SourceReport[]> {
    const uses = waysOfReading(shot)
    return Promise.all(
      allOf(shot.sources).map(async (source) => {
        const frames = source.frames
          ? await framesInFolder(place, source.path)
          : catalog[source.id]?.[stillKey]
            ? [null]
            : []
        const task = { place, source, uses: uses.get(source.id) ?? [], frames }
        const key = JSON.stringify([place, aboutFiles(source), task.uses, frames, catalog[source.id]])
        let report = this.known.get(key)
        if (!report) {
          report = this.pool.run(task)
          this.known.set(key, report)
          report.catch(() => this.known.delete(key))
        }
        return report
      }),
    )
  }

  close(): Promise<void> {
    return this.pool.destroy()
  }
}

/** What of a source decides what is measured; its claims are only compared with it. */
function aboutFiles({ id, path, frames }: Source) {
  return [id, path, frames]
}
