import { existsSync, readdirSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { usualOutput, type DeliveryOutput } from '../../core/delivery'
import { isOver } from '../../core/work'
import { configurationFrom } from '../configuration'
import { useKernelsForBlocks } from '../media/exr-blocks'
import { startParts, type Parts } from '../parts'
import { findShotFiles, ShotStore } from '../shots/shot-store'
import { DataFolder, newDatabase, until } from '../test/running-server'
import { RemovedDeliveryError } from './deliveries'
import { deliveryWork } from './delivery-work'

/** An attempt at a frame that was thought lost, and ends when everything is over. */

const data = new DataFolder()
const built = pathToFileURL(resolve('dist/node') + '/')
let parts: Parts
let store: ShotStore

beforeAll(async () => {
  useKernelsForBlocks(built)
  const configuration = configurationFrom({ ENKRASIS_DATABASE: await newDatabase(), ENKRASIS_DATA: data.path })
  parts = await startParts(configuration, built, false)
  store = new ShotStore(parts.sequelize, parts.models)
  for (const file of await findShotFiles(configuration.media.store)) await store.adopt(file)
})
afterAll(async () => {
  await parts.close()
  data.remove()
})

const movie: DeliveryOutput = {
  ...{ of: usualOutput.of, name: 'look', pattern: '{shot}_{version}' },
  ...{ format: 'movie', line: false },
}
const lateAttempt = (id: string) => {
  const { models, deliveries, madeSources, engineFor } = parts
  const media = configurationFrom({ ENKRASIS_DATABASE: 'unused', ENKRASIS_DATA: data.path }).media
  const kind = deliveryWork({ models, deliveries, madeSources, media, engineFor, built })
  const context = { signal: new AbortController().signal, attempt: 'late', again: false, progress: () => undefined }
  return kind.run({ delivery: id }, 1001, context)
}

async function delivered(outputs: readonly DeliveryOutput[]) {
  const row = await store.findByName('quay-010')
  const wanted = { first: 1001, last: 1002, scale: 4, outputs } as const
  const delivery = await parts.deliveries.create(row, store.documentOf(row), wanted)
  const worker = parts.worker(() => undefined)
  worker.start()
  await until(
    () => parts.deliveries.status(delivery.id),
    ({ work }) => isOver(work),
  )
  await worker.stop()
  return { id: delivery.id, folder: join(data.path, 'delivery', delivery.folder) }
}

test('it leaves no frames of a movie behind that was made meanwhile', async () => {
  const { id, folder } = await delivered([movie])
  expect(readdirSync(folder)).toEqual(['quay-010_v001.mp4'])
  await lateAttempt(id)
  expect(readdirSync(folder)).toEqual(['quay-010_v001.mp4'])
})

test('it writes the same file again, and nothing besides', async () => {
  const { id, folder } = await delivered([usualOutput])
  const names = readdirSync(folder)
  expect(names).toHaveLength(2)
  await lateAttempt(id)
  expect(readdirSync(folder)).toEqual(names)
})

test('it brings no files back that were removed meanwhile', async () => {
  const { id, folder } = await delivered([usualOutput])
  await parts.deliveries.remove(id)
  expect(existsSync(folder)).toBe(false)
  await expect(lateAttempt(id)).rejects.toThrow(RemovedDeliveryError)
  expect(existsSync(folder)).toBe(false)
})
