/** HTTP: objects that a source's files name by ids. */

import { readFile } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import type { Express } from 'express'
import { number, object, string } from 'yup'
import { find, framePath, mostFrameNumber } from '../core/shot'
import { MissingFileError, withFile } from './media/file-source'
import { objectsInFile, type HowObjects } from './media/objects-in-file'
import { pixelInFile } from './media/pixel-in-file'
import { pathInside } from './media/read-frame'
import { shotId } from './shot-id'
import type { Service } from './service'

const objectsQuery = object({
  source: string().max(64).required(),
  frame: number().integer().min(-mostFrameNumber).max(mostFrameNumber).required(),
  // A pixel of the frame: what lies there is told too.
  x: number().integer().min(-65_535).max(65_535),
  y: number().integer().min(-65_535).max(65_535),
})

export function addObjectRoutes(app: Express, { store, configuration }: Service): void {
  app.get('/api/shots/:id/objects', async (request, response) => {
    const row = await store.find(shotId(request))
    const { source: id, frame, x, y } = objectsQuery.validateSync(request.query)
    const shot = store.documentOf(row)
    const source = find(shot.sources, id)
    if (!source) throw new MissingFileError(`${row.name} has no source "${id}". Reload the shot.`)
    const { first, last } = source.frames ?? { first: 0, last: 0 }
    const number = source.frames ? Math.min(last, Math.max(first, frame - (source.offset ?? 0))) : null
    const relative = framePath(source.path, number)
    const place = configuration.media.place(row.folder)
    const path = await pathInside(place, relative)
    const how: HowObjects = {
      manifestBeside: async (name) => {
        const beside = join(dirname(relative), name)
        return readFile(await pathInside(place, beside, beside), 'utf8')
      },
      ...(x === undefined || y === undefined ? {} : { at: pixelInFile(shot, source, [x, y]) }),
    }
    response.json(await withFile(path, relative, (file) => objectsInFile(file, how)))
  })
}
