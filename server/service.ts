/** The server's parts put together: store, engines, deliveries, and the listeners that tell browsers what changed. */

import { EventEmitter } from 'node:events'
import type { Sequelize } from 'sequelize'
import type { Engine } from '../core/engine/engine'
import { Measurers } from './check/measurers'
import type { Configuration } from './configuration'
import { connect, migrate } from './database/connect'
import { defineModels, type Models } from './database/models'
import { nodeEngine } from './engine/node-engine'
import type { DeliveryStatus } from '../core/shot'
import { Deliveries } from './delivery/deliveries'
import { FrameReaders } from './media/frame-readers'
import { Movies } from './media/movies'
import { uploadsInto, type Uploads } from './media/uploads'
import { findShotFiles, ShotStore } from './shots/shot-store'

export interface Revised {
  readonly shotId: string
  readonly revision: number
  readonly tab: string
}

export interface Service {
  readonly configuration: Configuration
  readonly store: ShotStore
  readonly deliveries: Deliveries
  readonly models: Models
  readonly readers: FrameReaders
  readonly measurers: Measurers
  readonly movies: Movies
  readonly uploads: Uploads
  readonly events: EventEmitter<{ revised: [Revised]; delivery: [DeliveryStatus] }>
  engineFor(shotFolder: string): Engine
  /** looks for shot files that are new; @returns sentences about files that could not be taken in */
  adoptShots(): Promise<string[]>
  close(): Promise<void>
}

/**
 * Connects, migrates, takes in shot files, resumes deliveries.
 *
 * @param built folder of the built programs, where the entries of worker threads lie
 */
export async function startService(configuration: Configuration, built: URL): Promise<Service> {
  const sequelize: Sequelize = connect(configuration.databaseUrl)
  await migrate(sequelize)
  const models = defineModels(sequelize)
  const store = new ShotStore(sequelize, models)
  const readers = new FrameReaders(new URL('frame-reader.mjs', built), configuration.threads)
  const measurers = new Measurers(new URL('source-measurer.mjs', built), configuration.threads)
  const movies = new Movies(configuration.media)
  const uploads = await uploadsInto(configuration.media.store, configuration.uploadFolder)
  const engines = new Map<string, Engine>()
  const engineFor = (folder: string) => {
    const known = engines.get(folder)
    if (known) return known
    const engine = nodeEngine({
      load: readers.loader(configuration.media.place(folder)),
      threads: configuration.threads,
      memoryBytes: configuration.engineBytes,
      built,
    })
    engines.set(folder, engine)
    return engine
  }
  const events: Service['events'] = new EventEmitter()
  events.setMaxListeners(0)
  const deliveries = new Deliveries({
    databaseUrl: configuration.databaseUrl,
    models,
    outRoot: configuration.deliveryRoot,
    media: configuration.media,
    documentOf: (row) => store.documentOf(row),
    engineFor,
    workerName: configuration.workerName,
  })
  deliveries.on('changed', (status) => events.emit('delivery', status))

  const adoptShots = async () => {
    const complaints: string[] = []
    for (const file of await findShotFiles(configuration.media.store)) {
      try {
        await store.adopt(file)
      } catch (error) {
        complaints.push(error instanceof Error ? error.message : String(error))
      }
    }
    return complaints
  }
  await adoptShots()
  await deliveries.start()
  return {
    configuration,
    store,
    deliveries,
    models,
    readers,
    measurers,
    movies,
    uploads,
    events,
    engineFor,
    adoptShots,
    async close() {
      await deliveries.stop()
      for (const engine of engines.values()) engine.close()
      await movies.close()
      await measurers.close()
      await readers.close()
      await sequelize.close()
    },
  }
}
