/** Which frames of a shot's sources exist, each with a fingerprint of its file. */

import { stat } from 'node:fs/promises'
import { resolve } from 'node:path'
import { absent } from '../../core/plan/plan'
import { isBelow, type Place } from './read-frame'
import { framePath, type Shot, type Source } from '../../core/shot'

/** By source id: frame number (`still` for a still) to fingerprint; frames that are not there are absent. */
export type Catalog = Readonly<Record<string, Readonly<Record<string, string>>>>

export const stillKey = 'still'

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

/** Fingerprints for `planFrame` from a catalog; a frame that is not there gets one of its own, and fails when it is read. */
export function fingerprintFrom(catalog: Catalog): (source: Source, frame: number | null) => string {
  return (source, frame) => catalog[source.id]?.[frame === null ? stillKey : String(frame)] ?? absent
}
