/** The server's parts put together: shots, work, and the listeners that tell browsers what changed. */

import { EventEmitter } from 'node:events'
import { ClaimsReports } from './check/claims-work'
import type { Configuration } from './configuration'
import { DemoShots } from './demo-shots/demo-shots'
import { Movies } from './media/movies'
import { uploadsInto, type Uploads } from './media/uploads'
import { startParts, type Parts } from './parts'
import { AdoptedFiles } from './shots/adopted-files'
import { findShotFiles } from './shots/shot-store'
import { WorkNews } from './work/work-news'

/** Measured claims are kept so long after they were made. */
const measuredDays = 30

export interface Revised {
  readonly shotId: string
  readonly revision: number
  readonly tab: string
}

export interface Service extends Omit<Parts, 'worker' | 'close' | 'measurers'> {
  readonly configuration: Configuration
  readonly claims: ClaimsReports
  readonly movies: Movies
  readonly demoShots: DemoShots
  readonly uploads: Uploads
  readonly events: EventEmitter<{ revised: [Revised] }>
  readonly news: WorkNews
  /** looks for shot files that are new; @returns sentences about files that could not be taken in */
  adoptShots(): Promise<string[]>
  close(): Promise<void>
}

/**
 * Connects, migrates, takes in shot files, goes on with long work.
 *
 * @param built folder of the built programs, where the entries of worker threads lie
 */
export async function startService(configuration: Configuration, built: URL): Promise<Service> {
  const parts = await startParts(configuration, built, true)
  const { work, notifications, deliveries, store } = parts
  const { media } = configuration
  const uploads = await uploadsInto(media.store, configuration.uploadFolder)
  const events: Service['events'] = new EventEmitter()
  events.setMaxListeners(0)
  const adopted = new AdoptedFiles((file) => store.adopt(file))
  const adoptShots = async () => adopted.look(await findShotFiles(media.store))
  await adoptShots()
  await work.forgetMeasured(measuredDays)
  await parts.computed.removeUnused()
  const worker = configuration.worksHere ? parts.worker((sentence) => console.error(sentence)) : null
  worker?.start()
  // Somebody watches what is tracked: it never waits behind other work.
  const tracker = parts.worker((sentence) => console.error(sentence), ['tracking'])
  tracker.start()
  const news = new WorkNews(work, deliveries, notifications)
  return {
    ...parts,
    ...{ configuration, uploads, events, news, adoptShots },
    claims: new ClaimsReports(work, notifications, media),
    movies: new Movies(media, work),
    demoShots: new DemoShots(configuration, work),
    async close() {
      news.stop()
      await tracker.stop()
      await worker?.stop()
      await parts.close()
    },
  }
}
