/** Which frames of a shot's sources exist, each with a fingerprint of its file. */

import { readdir, stat } from 'node:fs/promises'
import { basename, dirname, join, resolve } from 'node:path'
import { stillKey, type Catalog } from '../../core/plan/catalog'
import { allOf, type FrameRange, type Shot, type Source } from '../../core/shot'
import { isBelow, type MediaPlace } from './read-frame'
import { numbersAmong } from './frames-in-folder'

/** Size and time of change tell one state of a file from another; null when there is none. */
export async function fingerprintOf(path: string): Promise<string | null> {
  try {
    const { size, mtimeMs } = await stat(path)
    return `${size}-${Math.round(mtimeMs)}`
  } catch {
    return null
  }
}

/** Names of the files of folders, each folder read once. */
export class Folders {
  private readonly known = new Map<string, Promise<readonly string[]>>()

  names(path: string): Promise<readonly string[]> {
    let found = this.known.get(path)
    if (!found) this.known.set(path, (found = readdir(path).catch(() => [])))
    return found
  }
}

/** What lies outside is as if it were not there. Only files that are there cost anything, whatever range is claimed. */
async function filesOf(
  { roots, folder }: MediaPlace,
  source: Source,
  folders: Folders,
): Promise<Record<string, string>> {
  const path = resolve(folder, source.path)
  if (!isBelow(roots, path)) return {}
  if (source.frames === null) {
    const fingerprint = await fingerprintOf(path)
    return fingerprint === null ? {} : { [stillKey]: fingerprint }
  }
  const range = source.frames
  const parent = dirname(path)
  const there = numbersAmong(await folders.names(parent), basename(path)).filter(({ number }) => isIn(range, number))
  const found = await Promise.all(
    there.map(async ({ number, name }) => [String(number), await fingerprintOf(join(parent, name))] as const),
  )
  return Object.fromEntries(found.filter((entry): entry is readonly [string, string] => entry[1] !== null))
}

const isIn = ({ first, last }: FrameRange, number: number) => number >= first && number <= last

/** @param only ids of the sources that are wanted; absent: all */
export async function catalogOf(place: MediaPlace, shot: Shot, only?: readonly string[]): Promise<Catalog> {
  const folders = new Folders()
  const wanted = allOf(shot.sources).filter(({ id }) => !only || only.includes(id))
  return Object.fromEntries(
    await Promise.all(wanted.map(async (source) => [source.id, await filesOf(place, source, folders)] as const)),
  )
}
