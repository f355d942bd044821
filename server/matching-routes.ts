/** HTTP: matching a shot by what was shot for reference. */

import type { Express } from 'express'
import { object, string } from 'yup'
import { shotId } from './shot-id'
import type { Service } from './service'

const matchBody = object({ author: string().trim().max(100), gainFrom: string().trim().max(100) })

export function addMatchingRoutes(app: Express, { store, matchings }: Service): void {
  app.get('/api/shots/:id/matching', async (request, response) => {
    const { id } = await store.find(shotId(request))
    response.json(await matchings.of(id))
  })
  app.post('/api/shots/:id/matching', async (request, response) => {
    const row = await store.find(shotId(request))
    const { author, gainFrom } = matchBody.validateSync(request.body ?? {})
    const other = gainFrom === undefined ? undefined : await store.find(gainFrom)
    await matchings.match(row, store.documentOf(row), { author, gainFrom: other })
    response.status(202).json(await matchings.of(row.id))
  })
}
