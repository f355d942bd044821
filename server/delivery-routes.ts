/** HTTP: deliveries of a shot, and their files. */

import type { Express } from 'express'
import { pipeline } from 'node:stream/promises'
import { number, object, string } from 'yup'
import { ZipFile } from 'yazl'
import { outputSchema, versionName, type DeliveryOutput } from '../core/delivery'
import type { Scale } from '../core/graph/steps'
import type { Service } from './service'
import { shotId } from './shot-id'

const frameNumber = () => number().integer().min(-1e8).max(1e8).required()
const deliveryBody = object({
  first: frameNumber(),
  last: frameNumber(),
  scale: number<Scale>().oneOf([1, 2, 4]).default(1),
  author: string().trim().max(100),
})

export function addDeliveryRoutes(app: Express, { store, deliveries }: Service): void {
  app.get('/api/shots/:id/deliveries', async (request, response) => {
    const row = await store.find(shotId(request))
    response.json(await deliveries.list(row.id))
  })
  app.post('/api/shots/:id/deliveries', async (request, response) => {
    const body = (request.body ?? {}) as { outputs?: unknown }
    const { author, ...wanted } = deliveryBody.validateSync(body)
    const outputs = outputSchema.validateSync(body.outputs, { strict: true }) as unknown as readonly DeliveryOutput[]
    const row = await store.find(shotId(request))
    response.status(201).json(await deliveries.create(row, store.documentOf(row), { ...wanted, outputs }, author))
  })
  app.get('/api/deliveries/:delivery/files', async (request, response) => {
    response.json(await deliveries.files(String(request.params.delivery)))
  })
  app.get('/api/deliveries/:delivery/files/:name', async (request, response) => {
    const { delivery, name } = request.params
    const path = await deliveries.pathOf(delivery, name)
    response.download(path, name, { dotfiles: 'allow' })
  })
  // Pictures are packed already, so they are only put one after the other.
  app.get('/api/deliveries/:delivery/archive', async (request, response) => {
    const { delivery } = request.params
    const status = await deliveries.status(delivery)
    const zip = new ZipFile()
    for (const { name } of await deliveries.files(delivery))
      zip.addFile(await deliveries.pathOf(delivery, name), name, { compress: false })
    zip.end()
    const name = `${status.folder.split('/')[0]}_${versionName(status.version)}.zip`
    response.attachment(name).type('application/zip')
    // Whoever stops downloading needs no sentence.
    await pipeline(zip.outputStream, response).catch(() => response.destroy())
  })
  app.post('/api/deliveries/:delivery/remove', async (request, response) => {
    response.json(await deliveries.remove(String(request.params.delivery)))
  })
}
