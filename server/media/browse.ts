/** Looks into folders of media: sequences and clips, each with what its first file says. */

import { readdir } from 'node:fs/promises'
import { basename, relative } from 'node:path'
import { type MediaFolder, type PictureHeader } from '../../core/check'
import { framePath, mediaKind } from '../../core/shot'
import { MissingFileError, withFile } from './file-source'
import type { MediaRoots } from './media-roots'
import { readPictureHeader } from './picture-files'
import { OutsideMediaError } from './read-frame'
import { groupFiles } from './sequences'

/** A root itself lies in no root. */
async function folderInside(media: MediaRoots, folder: string): Promise<string> {
  const path = media.absolute(folder)
  return media.place().roots.includes(path) ? path : media.pathOf(folder)
}

/**
 * @param folder as the browser names it; empty for the store, which the other roots stand in as folders
 * @throws OutsideMediaError, MissingFileError
 */
export async function browse(media: MediaRoots, folder: string): Promise<MediaFolder> {
  const path = await folderInside(media, folder)
  const entries = await readdir(path, { withFileTypes: true }).catch(() => {
    throw new MissingFileError(`${folder || 'The folder of media'} is not a folder that can be read. Choose another.`)
  })
  const visible = entries.filter((entry) => !entry.name.startsWith('.'))
  const names = visible.filter((entry) => !entry.isDirectory()).map(({ name }) => name)
  return {
    folder,
    folders: [
      ...visible.filter((entry) => entry.isDirectory()).map(({ name }) => name),
      ...(folder === '' ? media.names : []),
    ].sort(),
    entries: groupFiles(names)
      .map((group) => ({ ...group, kind: mediaKind(group.pattern) }))
      .filter(({ kind }) => kind !== 'other'),
  }
}

/** What the first file of a sequence says. @param path as the browser names it, perhaps with a run of # */
export async function headerOf(media: MediaRoots, path: string, frame: number | null): Promise<PictureHeader> {
  const name = framePath(path, frame)
  return withFile(await media.pathOf(name), basename(name), readPictureHeader)
}

/** @returns a path that the browser names as a shot file in `folder` names it */
export function pathFromShot(media: MediaRoots, folder: string, path: string): string {
  const from = relative(folder, media.absolute(path))
  if (from === '') throw new OutsideMediaError(`${path} is a folder. Choose a file in it.`)
  return from
}
