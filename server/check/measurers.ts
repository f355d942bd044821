/** Measures sources on threads of their own. */

import { fileURLToPath } from 'node:url'
import { Piscina } from 'piscina'
import { waysOfReading, type SourceReport } from '../../core/check'
import { allOf, type Shot, type Source } from '../../core/shot'
import { stillKey, type Catalog } from '../../core/plan/catalog'
import { framesInFolder } from '../media/frames-in-folder'
import type { MediaPlace } from '../media/read-frame'
import type { MeasureTask } from './measure-source'

export class Measurers {
  private readonly pool: Piscina<MeasureTask, SourceReport>

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
    return Promise.all((await tasksFor(place, shot, catalog)).map((task) => this.measureOne({ ...task, place })))
  }

  measureOne(task: MeasureTask, signal?: AbortSignal): Promise<SourceReport> {
    return this.pool.run(task, { signal })
  }

  close(): Promise<void> {
    return this.pool.destroy()
  }
}

/** Raise when a report holds something else: reports are kept. */
const reportVersion = 2

/** What is to be measured of each source, in the shot's order, and a text that changes when its files do. */
export async function tasksFor(
  place: MediaPlace,
  shot: Shot,
  catalog: Catalog,
): Promise<(Omit<MeasureTask, 'place'> & { readonly about: string })[]> {
  const uses = waysOfReading(shot)
  return Promise.all(
    allOf(shot.sources).map(async (source) => {
      const frames = source.frames
        ? await framesInFolder(place, source.path)
        : catalog[source.id]?.[stillKey]
          ? [null]
          : []
      const task = { source, uses: uses.get(source.id) ?? [], frames }
      return {
        ...task,
        about: JSON.stringify([reportVersion, aboutFiles(source), task.uses, frames, catalog[source.id]]),
      }
    }),
  )
}

/** What of a source decides what is measured; its claims are only compared with it. */
function aboutFiles({ id, path, frames }: Source) {
  return [id, path, frames]
}
