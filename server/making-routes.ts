/** HTTP: sources that are made here. */

import type { Express } from 'express'
import { object, string } from 'yup'
import { shotId } from './shot-id'
import type { Service } from './service'

const makeBody = object({ source: string().max(64).required(), author: string().trim().max(100) })

export function addMakingRoutes(app: Express, { store, madeSources, madeFiles }: Service): void {
  app.get('/api/shots/:id/made-sources', async (request, response) => {
    const { id } = await store.find(shotId(request))
    response.json(await madeSources.list(id))
  })
  app.get('/api/shots/:id/made-files', async (request, response) => {
    response.json(await madeFiles.state((await store.find(shotId(request))).folder))
  })
  // Of sources that are in no shot any more; the others are never taken away here.
  app.delete('/api/shots/:id/made-files', async (request, response) => {
    response.json(await madeFiles.removeUnused((await store.find(shotId(request))).folder))
  })
  app.post('/api/shots/:id/made-sources', async (request, response) => {
    const row = await store.find(shotId(request))
    const { source, author } = makeBody.validateSync(request.body ?? {})
    await madeSources.make(row, store.documentOf(row), source, author)
    response.status(202).json(await madeSources.list(row.id))
  })
}
