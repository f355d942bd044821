/** Sources whose files are not where the shot looks for them, and files of the same names elsewhere in the media. */

import { readdir } from 'node:fs/promises'
import { basename, join, relative, resolve } from 'node:path'
import {
  allOf,
  framePath,
  type FirstFile,
  type FoundFiles,
  type FrameRange,
  type MissingSource,
  type Shot,
  type Source,
} from '../../core/shot'
import { catalogOf } from './catalog'
import { firstFileAt } from './first-file'
import { numbersAmong } from './frames-in-folder'
import type { MediaPlace } from './read-frame'

/** So many folders are looked into, and no more. */
const mostFolders = 5000

/** @returns sources of which no file is there, by name */
export async function missingSources(place: MediaPlace, shot: Shot): Promise<MissingSource[]> {
  const catalog = await catalogOf(place, shot)
  const missing = allOf(shot.sources).filter(({ id }) => Object.keys(catalog[id] ?? {}).length === 0)
  if (missing.length === 0) return []
  const found = new Map(missing.map(({ id }) => [id, [] as FoundFiles[]]))
  for await (const { folder, names } of foldersBelow(place.roots))
    for (const source of missing) {
      const files = await filesIn(place, source, folder, names)
      if (files) found.get(source.id)?.push(files)
    }
  const likely = ({ same }: FoundFiles) => (same === true ? 0 : same === null ? 1 : 2)
  return missing
    .map(({ id, name, path }) => ({
      ...{ source: id, name, path },
      found: (found.get(id) ?? []).sort((a, b) => likely(a) - likely(b) || (a.path < b.path ? -1 : 1)),
    }))
    .sort((a, b) => (a.name < b.name ? -1 : 1))
}

/** Hidden folders and links are left out. */
async function* foldersBelow(roots: readonly string[]): AsyncGenerator<{ folder: string; names: readonly string[] }> {
  const waiting = [...roots]
  for (let count = 0; waiting.length > 0 && count < mostFolders; count++) {
    const folder = waiting.shift() as string
    const entries = await readdir(folder, { withFileTypes: true }).catch(() => [])
    const shown = entries.filter(({ name }) => !name.startsWith('.'))
    yield { folder, names: shown.filter((entry) => entry.isFile()).map(({ name }) => name) }
    waiting.push(...shown.filter((entry) => entry.isDirectory()).map(({ name }) => join(folder, name)))
  }
}

async function filesIn(
  place: MediaPlace,
  source: Source,
  folder: string,
  names: readonly string[],
): Promise<FoundFiles | null> {
  const pattern = basename(source.path)
  const numbers = pattern.includes('#') ? numbersAmong(names, pattern).map(({ number }) => number) : []
  if (pattern.includes('#') ? numbers.length === 0 : !names.includes(pattern)) return null
  const frames = pattern.includes('#') ? { first: Math.min(...numbers), last: Math.max(...numbers) } : null
  const path = relative(place.folder, join(folder, pattern))
  const at = (number: number | null) => firstFileAt(resolve(place.folder, framePath(path, number)))
  // Noted was the first file of the range; a sequence that begins elsewhere has another.
  const wanted = source.frames?.first ?? null
  const noted = wanted === null || numbers.includes(wanted) ? await at(wanted) : null
  const same = source.firstFile && noted ? isSame(source.firstFile, noted) : null
  return {
    path,
    frames,
    firstFile: noted ?? (await at(frames?.first ?? null)),
    same,
    sentence: sentenceOf(source, frames, same),
  }
}

const isSame = (a: FirstFile, b: FirstFile) => a.size === b.size && a.hash === b.hash

function sentenceOf({ name, frames: before }: Source, frames: FrameRange | null, same: boolean | null): string | null {
  if (same === false)
    return `These have the name of the files of ${name}, but other content${before ? `: frame ${before.first} is not the one that was there` : ''}. Use them only if that is what you want.`
  if (before && frames && (frames.first !== before.first || frames.last !== before.last))
    return `These are frames ${frames.first} to ${frames.last}; ${name} had ${before.first} to ${before.last}. Its range stays, and what is missing is said on its frames.`
  return same === null
    ? `Whether these are the same files as before cannot be told: what ${name} held was not noted.`
    : null
}
