/** Files that are dragged in: sent in pieces, taken up again where they were cut (tus protocol), then laid into the media root. */

import { access, mkdir, rename } from 'node:fs/promises'
import type { IncomingMessage, ServerResponse } from 'node:http'
import { basename, extname, join } from 'node:path'
import { FileStore } from '@tus/file-store'
import { Server } from '@tus/server'
import { mediaKind } from '../../core/check'
import { safeName } from './safe-name'

export const broughtFolder = 'brought'
export const uploadsPath = '/api/uploads'
/** A file larger than this is not a picture nor a shot's movie. */
const largestUpload = 64 * 2 ** 30

export interface Uploads {
  handle(request: IncomingMessage, response: ServerResponse): Promise<void>
}

async function freePath(folder: string, name: string): Promise<string> {
  for (let n = 1; ; n++) {
    const path = join(folder, n === 1 ? name : `${basename(name, extname(name))}-${n}${extname(name)}`)
    const taken = await access(path).then(
      () => true,
      () => false,
    )
    if (!taken) return path
  }
}

export async function uploadsInto(root: string, waiting: string): Promise<Uploads> {
  await mkdir(waiting, { recursive: true })
  const server = new Server({
    path: uploadsPath,
    datastore: new FileStore({ directory: waiting }),
    maxSize: largestUpload,
    relativeLocation: true,
    onUploadCreate: async (_request, upload) => {
      const name = safeName(upload.metadata?.filename ?? '')
      if (mediaKind(name) === 'other')
        throw {
          status_code: 422,
          body: `${name} is no picture, movie, table or camera. EXR, DPX, PNG, TIFF, JPEG, MP4, MOV, WebM, .cube, CLF, CDL and glTF can be brought in.`,
        }
      return {}
    },
    onUploadFinish: async (_request, upload) => {
      const name = safeName(upload.metadata?.filename ?? '')
      const batch = safeName(upload.metadata?.batch ?? 'files')
      const folder = join(root, broughtFolder, batch)
      await mkdir(folder, { recursive: true })
      const path = await freePath(folder, name)
      await rename(join(waiting, upload.id), path)
      const brought = `${broughtFolder}/${batch}/${basename(path)}`
      return { headers: { 'Enkrasis-Path': encodeURIComponent(brought) } }
    },
  })
  return { handle: (request, response) => server.handle(request, response) }
}
