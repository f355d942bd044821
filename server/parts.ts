/** What the server and a worker of its own have in common: database, media, engines, and the kinds of long work. */

import { EventEmitter } from 'node:events'
import type { Sequelize } from 'sequelize'
import type { Engine } from '../core/engine/engine'
import type { LoadBounds } from '../core/engine/source-frame'
import { usualWorkKinds, type WorkKindName } from '../core/work'
import { ComputedElements } from './computed/computed-elements'
import { ComputedFiles } from './computed/computed-files'
import { computedWork } from './computed/computed-work'
import { claimsWork } from './check/claims-work'
import { Measurers } from './check/measurers'
import type { Configuration } from './configuration'
import { connect, migrate } from './database/connect'
import { defineModels, type Models } from './database/models'
import { Deliveries } from './delivery/deliveries'
import { deliveryWork } from './delivery/delivery-work'
import { demoShotWork } from './demo-shots/demo-shots'
import { framesAtOnce } from './delivery/in-order'
import { nodeEngine } from './engine/node-engine'
import { sourcesBy, MadeFiles } from './making/made-files'
import { MadeSources } from './making/made-sources'
import { madeSourceWork } from './making/made-source-work'
import { Makers } from './making/makers'
import { Matchings } from './matching/matchings'
import { matchWork } from './matching/match-work'
import { checksWork } from './readings/checks-work'
import { Readings } from './readings/readings'
import { readingsWork } from './readings/readings-work'
import { FrameReaders } from './media/frame-readers'
import { movieWork } from './media/movie-work'
import { ShotStore } from './shots/shot-store'
import { ShotsNow } from './shots/shots-now'
import { trackWork, type TrackingNews } from './tracking/track-work'
import { buildHash } from './work/build-hash'
import { Notifications } from './work/notifications'
import { WorkStore } from './work/work-store'
import { Worker } from './work/worker'

export interface Parts {
  readonly sequelize: Sequelize
  readonly models: Models
  readonly store: ShotStore
  readonly readers: FrameReaders
  readonly measurers: Measurers
  readonly work: WorkStore
  readonly notifications: Notifications
  readonly deliveries: Deliveries
  readonly computedFiles: ComputedFiles
  readonly computed: ComputedElements
  readonly readings: Readings
  readonly matchings: Matchings
  readonly madeSources: MadeSources
  readonly madeFiles: MadeFiles
  readonly trackingNews: TrackingNews
  engineFor(shotFolder: string): Engine
  /** @param kinds of work that it takes; all but tracking when absent */
  worker(complain: (sentence: string) => void, kinds?: readonly WorkKindName[]): Worker
  close(): Promise<void>
}

/**
 * Connects, and brings the tables up to date.
 *
 * @param built folder of the built programs, where the entries of worker threads lie
 * @param ready whether threads that read are started before there is anything to read
 */
export async function startParts(configuration: Configuration, built: URL, ready: boolean): Promise<Parts> {
  const { databaseUrl, threads, media, engineBytes, deliveryRoot, computedRoot, computedBytes, madeBytes } =
    configuration
  const sequelize = connect(databaseUrl)
  await migrate(sequelize)
  const models = defineModels(sequelize)
  const readers = new FrameReaders(new URL('frame-reader.mjs', built), threads, ready)
  const measurers = new Measurers(new URL('source-measurer.mjs', built), threads)
  const makers = new Makers(new URL('maker.mjs', built), threads)
  const engines = new Map<string, Engine>()
  const engineFor = (folder: string) => {
    const known = engines.get(folder)
    if (known) return known
    const place = media.place(folder)
    const bounds: LoadBounds = (request, signal) => readers.bounds(place, request, signal)
    const engine = nodeEngine({ load: readers.loader(place), bounds, threads, memoryBytes: engineBytes, built })
    engines.set(folder, engine)
    return engine
  }
  const work = new WorkStore(sequelize, models, await buildHash(built))
  const notifications = new Notifications(databaseUrl)
  await notifications.start()
  const deliveries = new Deliveries({ sequelize, models, work, root: deliveryRoot })
  const shots = new ShotsNow(models, media)
  const store = new ShotStore(sequelize, models)
  const trackingNews: TrackingNews = new EventEmitter()
  const computedFiles = new ComputedFiles(computedRoot, computedBytes)
  const computed = new ComputedElements(work, computedFiles)
  const madeSources = new MadeSources(work, media)
  const madeFiles = new MadeFiles(sourcesBy(models), madeBytes)
  const kinds = [
    deliveryWork({ models, deliveries, madeSources, media, engineFor, built }),
    movieWork(media),
    claimsWork(measurers, media),
    demoShotWork(configuration, built),
    computedWork({ shots, files: computedFiles, engineFor }),
    readingsWork({ shots, work, engineFor }),
    checksWork({ shots, work, engineFor }),
    matchWork({ shots, engineFor }),
    madeSourceWork({ shots, media, madeSources, madeFiles, engineFor, heavy: makers }),
    trackWork({ shots, store, work, engineFor, news: trackingNews }),
  ]
  return {
    ...{
      sequelize,
      models,
      store,
      readers,
      measurers,
      work,
      notifications,
      deliveries,
      engineFor,
      computedFiles,
      computed,
    },
    readings: new Readings(work, media),
    matchings: new Matchings(work, media),
    madeSources,
    madeFiles,
    trackingNews,
    worker: (complain, wanted = usualWorkKinds) =>
      new Worker({
        store: work,
        notifications,
        kinds: kinds.filter(({ kind }) => wanted.includes(kind)),
        atOnce: framesAtOnce,
        complain,
      }),
    async close() {
      for (const engine of engines.values()) engine.close()
      await measurers.close()
      await makers.close()
      await readers.close()
      await notifications.stop()
      await sequelize.close()
    },
  }
}
