/** HTTP: demo shots that are not made yet. */

import type { Express } from 'express'
import { boolean, object } from 'yup'
import type { Service } from './service'

const makeBody = object({ small: boolean().default(false) })

export function addDemoShotRoutes(app: Express, { demoShots }: Service): void {
  app.get('/api/demo-shots', (_request, response) => {
    response.json(demoShots.offered())
  })
  app.post('/api/demo-shots/:name', async (request, response) => {
    const { small } = makeBody.validateSync(request.body ?? {})
    response.status(202).json(await demoShots.make(String(request.params.name), small))
  })
}
