/** HTTP: camera files, and cameras that planes tell. */

import type { Express } from 'express'
import { number, object, string } from 'yup'
import { find } from '../core/shot'
import { planeCamera } from './camera/plane-camera'
import { solvedScene } from './camera/solved-scene'
import { MissingFileError } from './media/file-source'
import type { Service } from './service'
import { shotId } from './shot-id'

const sourceQuery = object({ source: string().required() })
const planeQuery = object({ region: string().max(64).required(), focal: number().positive() })

export function addCameraRoutes(app: Express, { store, configuration: { media } }: Service): void {
  /** How the cameras of a camera file stand on the shot's frames, with points and planes of their scene. */
  app.get('/api/shots/:id/camera', async (request, response) => {
    const row = await store.find(shotId(request))
    const shot = store.documentOf(row)
    const { source: id } = sourceQuery.validateSync(request.query)
    const source = find(shot.sources, id)
    if (!source) throw new MissingFileError(`${shot.name} has no source "${id}". Reload the shot.`)
    response.json(await solvedScene(media.place(row.folder), shot, source))
  })
  /** The camera that a plane tells, as a file. */
  app.get('/api/shots/:id/plane-camera', async (request, response) => {
    const row = await store.find(shotId(request))
    const { region, focal } = planeQuery.validateSync(request.query)
    response.json(await planeCamera(store.documentOf(row), region, focal))
  })
}
