/** Looks into folders of the media root: sequences and clips, each with what its first file says. */

import { readdir } from 'node:fs/promises'
import { basename, extname, join, relative } from 'node:path'
import type { MediaFolder, MediaKind, PictureHeader } from '../../core/check'
import { framePath } from '../../core/shot'
import { MissingFileError, withFile } from './file-source'
import { readPictureHeader } from './picture-files'
import { pathInside, OutsideMediaError } from './read-frame'
import { groupFiles } from './sequences'

const pictures = new Set(['.exr', '.dpx', '.png', '.tif', '.tiff', '.jpg', '.jpeg'])
const tables = new Set(['.cube', '.clf', '.cc', '.ccc', '.cdl'])
const movies = new Set(['.mp4', '.mov', '.webm', '.mkv', '.mxf', '.avi'])

export function kindOf(name: string): MediaKind {
  const extension = extname(name).toLowerCase()
  if (pictures.has(extension)) return 'picture'
  if (tables.has(extension)) return 'table'
  return movies.has(extension) ? 'movie' : 'other'
}

/** @returns the real path of a folder of the root; the root itself for an empty one */
export async function folderInside(root: string, folder: string): Promise<string> {
  return folder === '' ? root : pathInside({ root, folder: root }, folder)
}

/** @throws OutsideMediaError, MissingFileError */
export async function browse(root: string, folder: string): Promise<MediaFolder> {
  const path = await folderInside(root, folder)
  const entries = await readdir(path, { withFileTypes: true }).catch(() => {
    throw new MissingFileError(`${folder || 'The media root'} is not a folder that can be read. Choose another.`)
  })
  const visible = entries.filter((entry) => !entry.name.startsWith('.'))
  const names = visible.filter((entry) => !entry.isDirectory()).map(({ name }) => name)
  return {
    folder,
    folders: visible
      .filter((entry) => entry.isDirectory())
      .map(({ name }) => name)
      .sort(),
    entries: groupFiles(names)
      .map((group) => ({ ...group, kind: kindOf(group.pattern) }))
      .filter(({ kind }) => kind !== 'other'),
  }
}

/** What the first file of a sequence says. @param path relative to the root, perhaps with a run of # */
export async function headerOf(root: string, path: string, frame: number | null): Promise<PictureHeader> {
  const name = framePath(path, frame)
  return withFile(await pathInside({ root, folder: root }, name), basename(name), readPictureHeader)
}

/** @returns a path of the media root as a shot file in `folder` names it */
export function pathFromShot(root: string, folder: string, path: string): string {
  const from = relative(folder, join(root, path))
  if (from === '' || join(root, path) === folder)
    throw new OutsideMediaError(`${path} is a folder. Choose a file in it.`)
  return from
}
