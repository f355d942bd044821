/** Which frames of a shot's sources exist, each with a fingerprint of its file. */

import { stat } from 'node:fs/promises'
import { resolve } from 'node:path'
import { stillKey, type Catalog } from '../../core/plan/catalog'
import { isBelow, type Place } from './read-frame'
import { framePath, type Shot, type Source } from '../../core/shot'

/** Size and time of change tell one state of a file from another. */
async function fingerprintOf(path: string): Promise<string | null> {
  try {
    const { size, mtimeMs } = await stat(path)
    return `${size}-${Math.round(mtimeMs)}`
  } catch {
    return null
  }
}

/** What lies outside is as if it were not there. */
function fingerprintInside({ roots, folder }: Place, name: string): Promise<string | null> {
  const path = resolve(folder, name)
  return isBelow(roots, path) ? fingerprintOf(path) : Promise.resolve(null)
}

async function framesOf(place: Place, source: Source): Promise<Record<string, string>> {
  const { frames } = source
  const numbers =
    frames === null ? [null] : Array.from({ length: frames.last - frames.first + 1 }, (_, i) => frames.first + i)
  const found = await Promise.all(
    numbers.map(
      async (n) =>
        [n === null ? stillKey : String(n), await fingerprintInside(place, framePath(source.path, n))] as const,
    ),
  )
  return Object.fromEntries(found.filter((entry): entry is readonly [string, string] => entry[1] !== null))
}

export async function catalogOf(place: Place, shot: Shot): Promise<Catalog> {
  const entries = await Promise.all(
    shot.sources.map(async (source) => [source.id, await framesOf(place, source)] as const),
  )
  return Object.fromEntries(entries)
}
