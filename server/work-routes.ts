/** HTTP: long work, how it stands, calling it off, trying it again. */

import type { Express } from 'express'
import { object, string } from 'yup'
import type { Service } from './service'

const listQuery = object({ shot: string().max(64) })

export function addWorkRoutes(app: Express, { work, deliveries }: Service): void {
  app.get('/api/work', async (request, response) => {
    response.json(await work.list(listQuery.validateSync(request.query).shot))
  })
  app.get('/api/work/:work', async (request, response) => {
    response.json(await work.status(String(request.params.work)))
  })
  app.post('/api/work/:work/cancel', async (request, response) => {
    const { id } = await work.status(String(request.params.work))
    await work.withdraw(id)
    response.json(await work.status(id))
  })
  app.post('/api/work/:work/retry', async (request, response) => {
    const { id, kind } = await work.status(String(request.params.work))
    if (kind === 'delivery') await deliveries.refuseRemoved(id)
    await work.retry(id, 'retried')
    response.json(await work.status(id))
  })
}
