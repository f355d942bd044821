/** HTTP: objects that a source's files name by ids. */

import type { Express } from 'express'
import { number, object, string } from 'yup'
import { find, framePath, mostFrameNumber } from '../core/shot'
import { MissingFileError, withFile } from './media/file-source'
import { objectsInFile } from './media/objects-in-file'
import { pathInside } from './media/read-frame'
import { shotId } from './shot-id'
import type { Service } from './service'

const objectsQuery = object({
  source: string().max(64).required(),
  frame: number().integer().min(-mostFrameNumber).max(mostFrameNumber).required(),
})

export function addObjectRoutes(app: Express, { store, configuration }: Service): void {
  app.get('/api/shots/:id/objects', async (request, response) => {
    const row = await store.find(shotId(request))
    const { source: id, frame } = objectsQuery.validateSync(request.query)
    const source = find(store.documentOf(row).sources, id)
    if (!source) throw new MissingFileError(`${row.name} has no source "${id}". Reload the shot.`)
    const { first, last } = source.frames ?? { first: 0, last: 0 }
    const number = source.frames ? Math.min(last, Math.max(first, frame - (source.offset ?? 0))) : null
    const relative = framePath(source.path, number)
    const path = await pathInside(configuration.media.place(row.folder), relative)
    response.json(await withFile(path, relative, objectsInFile))
  })
}
