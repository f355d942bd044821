/** For the tests: a database with the tables of work, stores and workers of any build on it. */

import type { Sequelize } from 'sequelize'
import { connect, migrate } from '../../database/connect'
import { defineModels } from '../../database/models'
import { newDatabase } from '../../test/running-server'
import type { AnyWorkKind } from '../kind'
import { Notifications } from '../notifications'
import { WorkStore } from '../work-store'
import { Worker } from '../worker'

export interface WorkBench {
  readonly url: string
  readonly sequelize: Sequelize
  store(build?: string): WorkStore
  worker(run: AnyWorkKind['run'], options?: { readonly atOnce?: number; readonly build?: string }): Promise<Worker>
  close(): Promise<void>
}

export async function workBench(): Promise<WorkBench> {
  const url = await newDatabase()
  const sequelize = connect(url)
  await migrate(sequelize)
  const models = defineModels(sequelize)
  const workers: Worker[] = []
  const listening: Notifications[] = []
  const store = (build = 'this build') => new WorkStore(sequelize, models, build)
  return {
    ...{ url, sequelize, store },
    async worker(run, { atOnce = 2, build } = {}) {
      const notifications = new Notifications(url)
      await notifications.start()
      listening.push(notifications)
      const kinds = [{ kind: 'movie' as const, run }]
      const worker = new Worker({ store: store(build), notifications, kinds, atOnce, complain: () => undefined })
      workers.push(worker)
      worker.start()
      return worker
    },
    async close() {
      await Promise.all(workers.map((worker) => worker.stop()))
      await Promise.all(listening.map((one) => one.stop()))
      await sequelize.close()
    },
  }
}
