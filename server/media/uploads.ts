/** Files that are dragged in: sent in pieces, taken up again where they were cut (tus protocol), then laid into the media root. */

import { mkdir } from 'node:fs/promises'
import type { IncomingMessage, ServerResponse } from 'node:http'
import { join } from 'node:path'
import { FileStore } from '@tus/file-store'
import { Server } from '@tus/server'
import { mediaKind } from '../../core/shot'
import { layUnderFreeName } from './free-name'
import { safeName } from './safe-name'

export const importedFolder = 'imported'
export const uploadsPath = '/api/uploads'
/** A file larger than this is not a picture nor a shot's movie. */
const largestUpload = 64 * 2 ** 30

export interface Uploads {
  handle(request: IncomingMessage, response: ServerResponse): Promise<void>
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
          body: `${name} is no picture, movie, table or camera. EXR, DPX, PNG, TIFF, JPEG, MP4, MOV, WebM, .cube, CLF, CDL and glTF can be imported.`,
        }
      return {}
    },
    onUploadFinish: async (_request, upload) => {
      const name = safeName(upload.metadata?.filename ?? '')
      const batch = safeName(upload.metadata?.batch ?? 'files')
      const folder = join(root, importedFolder, batch)
      await mkdir(folder, { recursive: true })
      const free = await layUnderFreeName(join(waiting, upload.id), folder, name)
      const laid = `${importedFolder}/${batch}/${free}`
      return { headers: { 'Enkrasis-Path': encodeURIComponent(laid) } }
    },
  })
  return {
    handle(request, response) {
      // The library allows every origin; ours answers only its own page.
      const setHeader = response.setHeader.bind(response)
      response.setHeader = (name, value) => (/^access-control-/i.test(name) ? response : setHeader(name, value))
      return server.handle(request, response)
    },
  }
}
