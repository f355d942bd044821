/** HTTP: elements that are kept computed. */

import { pipeline } from 'node:stream/promises'
import type { Express } from 'express'
import { object, string } from 'yup'
import { shotId } from './shot-id'
import type { Service } from './service'

const keepBody = object({ element: string().max(64).required(), author: string().trim().max(100) })

export function addComputedRoutes(app: Express, { store, computed, computedFiles }: Service): void {
  app.get('/api/shots/:id/computed', async (request, response) => {
    const { id } = await store.find(shotId(request))
    response.json(await computed.list(id))
  })
  app.post('/api/shots/:id/computed', async (request, response) => {
    const row = await store.find(shotId(request))
    const { element, author } = keepBody.validateSync(request.body ?? {})
    await computed.keep(row, store.documentOf(row), element, author)
    response.status(202).json(await computed.list(row.id))
  })
  app.delete('/api/shots/:id/computed/:element', async (request, response) => {
    const { id } = await store.find(shotId(request))
    await computed.letGo(id, String(request.params.element))
    response.json(await computed.list(id))
  })
  app.get('/api/computed/:key', async (request, response) => {
    const { bytes, stream } = await computedFiles.read(String(request.params.key))
    response.set({
      'Content-Type': 'application/octet-stream',
      'Content-Length': String(bytes),
      'Cache-Control': 'no-store',
    })
    await pipeline(stream, response)
  })
}
