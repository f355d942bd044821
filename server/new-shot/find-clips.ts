/** Looks at files that a new shot may be made of: each clip's header, and one of its frames. */

import { readdir, stat } from 'node:fs/promises'
import { basename, join } from 'node:path'
import { type FileGroup } from '../../core/check'
import { framePath, mediaKind } from '../../core/shot'
import { tellingPart, whatItHolds, type FoundClip } from '../../core/new-shot'
import { MissingFileError, withFile } from '../media/file-source'
import { firstFileAt } from '../media/first-file'
import { numbersAmong } from '../media/frames-in-folder'
import type { MediaRoots } from '../media/media-roots'
import { readPicture, readPictureHeader } from '../media/picture-files'
import { groupFiles } from '../media/sequences'

/** There are more files than a shot is made of; says how many. */
export class TooManyClipsError extends Error {
  override readonly name = 'TooManyClipsError'
}

const mostClips = 200
const mostFiles = 100_000
const deepest = 6

/**
 * @param paths of folders, sequences and files, as the browser names them
 * @throws MissingFileError, OutsideMediaError, TooManyClipsError
 */
export async function findClips(media: MediaRoots, paths: readonly string[]): Promise<FoundClip[]> {
  const groups = new Map<string, FileGroup>()
  const take = (folder: string, names: readonly string[]) => {
    for (const group of groupFiles(names)) {
      if (mediaKind(group.pattern) === 'other') continue
      const path = folder === '' ? group.pattern : `${folder}/${group.pattern}`
      groups.set(path, { ...group, pattern: path })
    }
    if (groups.size > mostClips)
      throw new TooManyClipsError(
        `There are more than ${mostClips} sequences and files in it. Choose the folder of one shot, or single sequences.`,
      )
  }
  for (const path of paths) await gather(media, path, take)
  const clips: FoundClip[] = []
  for (const group of groups.values()) clips.push(await lookAt(media, group))
  return clips
}

async function gather(
  media: MediaRoots,
  path: string,
  take: (folder: string, names: readonly string[]) => void,
): Promise<void> {
  const slash = path.lastIndexOf('/')
  const folder = slash < 0 ? '' : path.slice(0, slash)
  if (path.includes('#')) {
    const names = await readdir(media.absolute(folder)).catch(() => [] as string[])
    const own = numbersAmong(names, basename(path))
    if (own.length === 0) throw new MissingFileError(`There is no sequence ${path}. Reload the folder.`)
    return take(
      folder,
      own.map(({ name }) => name),
    )
  }
  const absolute = path === '' ? media.store : media.absolute(path)
  const root = media.place().roots.includes(absolute)
  const real = root ? absolute : await media.pathOf(path)
  if (!(await stat(real)).isDirectory()) return take(folder, [basename(path)])
  await walk(real, path, 0, { files: 0 }, take)
}

/** Folders below count too; hidden ones do not. Links are not followed. */
async function walk(
  real: string,
  named: string,
  depth: number,
  seen: { files: number },
  take: (folder: string, names: readonly string[]) => void,
): Promise<void> {
  const entries = (await readdir(real, { withFileTypes: true })).filter(({ name }) => !name.startsWith('.'))
  const files = entries.filter((entry) => entry.isFile()).map(({ name }) => name)
  seen.files += files.length
  if (seen.files > mostFiles)
    throw new TooManyClipsError(`There are more than ${mostFiles} files in it. Choose the folder of one shot.`)
  take(named, files)
  if (depth === deepest) return
  for (const entry of entries)
    if (entry.isDirectory())
      await walk(join(real, entry.name), named === '' ? entry.name : `${named}/${entry.name}`, depth + 1, seen, take)
}

async function lookAt(media: MediaRoots, group: FileGroup): Promise<FoundClip> {
  const first = framePath(group.pattern, group.frames?.first ?? null)
  const firstFile = await firstFileAt(await media.pathOf(first).catch(() => ''))
  return { ...(await lookInto(media, group)), firstFile }
}

async function lookInto(media: MediaRoots, { pattern: path, frames, count }: FileGroup): Promise<FoundClip> {
  const nothing = { path, frames, count, header: null, holds: null, firstFile: null, problem: null }
  if (mediaKind(path) !== 'picture') return nothing
  const middle = frames && Math.floor((frames.first + frames.last) / 2)
  try {
    // The middle one may be missing, or still be written.
    return await lookAtFrame(media, nothing, middle).catch(() => lookAtFrame(media, nothing, frames && frames.first))
  } catch (error) {
    return { ...nothing, problem: error instanceof Error ? error.message : String(error) }
  }
}

async function lookAtFrame(media: MediaRoots, nothing: FoundClip, frame: number | null): Promise<FoundClip> {
  const name = framePath(nothing.path, frame)
  return withFile(await media.pathOf(name), basename(name), async (file) => {
    const header = await readPictureHeader(file)
    const planes = await readPicture(file, tellingPart(header), tellingChannels)
    return { ...nothing, header, holds: whatItHolds(planes) }
  })
}

/** Colours with coverage, or the two of a map, or the one there is. */
function tellingChannels(available: readonly string[]): readonly string[] {
  const colours = ['R', 'G', 'B', 'A'].filter((name) => available.includes(name))
  if (colours.includes('R') && colours.includes('G')) return colours
  return available.slice(0, available.length === 2 ? 2 : 1)
}
