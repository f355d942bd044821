/** HTTP: what the witnesses of a shot read on every frame. */

import type { Express } from 'express'
import { object, string } from 'yup'
import { shotId } from './shot-id'
import type { Service } from './service'

const readBody = object({ author: string().trim().max(100) })

export function addReadingsRoutes(app: Express, { store, readings }: Service): void {
  app.get('/api/shots/:id/readings', async (request, response) => {
    const { id } = await store.find(shotId(request))
    response.json(await readings.of(id))
  })
  app.post('/api/shots/:id/readings', async (request, response) => {
    const row = await store.find(shotId(request))
    await readings.read(row, store.documentOf(row), readBody.validateSync(request.body ?? {}).author)
    response.status(202).json(await readings.of(row.id))
  })
}
