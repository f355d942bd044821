/** Which frames of a shot's sources exist, each with a fingerprint of its file. */

import { find, plateSource, type Shot, type Source } from '../shot'

/** By source id: frame number (`still` for a still) to fingerprint; frames that are not there are absent. */
export type Catalog = Readonly<Record<string, Readonly<Record<string, string>>>>

export const stillKey = 'still'

/** What a fingerprint says of a file that is not there. */
export const absent = 'absent'

/** What planning asks of the files. */
export interface Files {
  /**
   * Tells one state of a source's file from another; it goes into the content key, so a changed file is read again. A file
   * that is not there has `absent`, and fails when it is read.
   */
  fingerprint(source: Source, number: number | null): string
  /** the last file there is before a number */
  before(source: Source, number: number): number | undefined
}

const noFiles: Readonly<Record<string, string>> = {}
const numbersOf = new WeakMap<object, readonly number[]>()

/** Numbers of the files there are, in order; catalogs are never changed in place. */
function numbers(files: Readonly<Record<string, string>>): readonly number[] {
  let found = numbersOf.get(files)
  if (!found) {
    found = Object.keys(files)
      .filter((name) => name !== stillKey)
      .map(Number)
      .sort((a, b) => a - b)
    numbersOf.set(files, found)
  }
  return found
}

export function filesIn(catalog: Catalog): Files {
  const of = ({ id }: Source) => (Object.hasOwn(catalog, id) ? catalog[id] : noFiles)
  return {
    fingerprint(source, number) {
      const files = of(source)
      const name = number === null ? stillKey : String(number)
      return Object.hasOwn(files, name) ? files[name] : absent
    },
    before(source, number) {
      const all = numbers(of(source))
      let [low, high] = [0, all.length]
      while (low < high) {
        const middle = (low + high) >> 1
        if (all[middle] < number) low = middle + 1
        else high = middle
      }
      return low > 0 ? all[low - 1] : undefined
    },
  }
}

/** The first frame of the shot whose plate is there; the shot's first when none is. */
export function firstFrameThere(shot: Shot, catalog: Catalog): number {
  const source = plateSource(shot)
  const { first, last } = shot.frames
  if (!source?.frames || !find(shot.sources, source.id)) return first
  const files = Object.hasOwn(catalog, source.id) ? catalog[source.id] : noFiles
  const there = numbers(files).find((number) => {
    const frame = number + (source.offset ?? 0)
    return frame >= first && frame <= last
  })
  return there === undefined ? first : there + (source.offset ?? 0)
}

/** @returns the one before where nothing in it has changed, so that what is remembered of it stays */
export function sameIfEqual(before: Catalog, now: Catalog): Catalog {
  const ids = Object.keys(now)
  let equal = ids.length === Object.keys(before).length
  const merged: Record<string, Readonly<Record<string, string>>> = {}
  for (const id of ids) {
    const old = Object.hasOwn(before, id) ? before[id] : undefined
    const names = Object.keys(now[id])
    const same =
      old !== undefined &&
      names.length === Object.keys(old).length &&
      names.every((name) => old[name] === now[id][name])
    merged[id] = same ? old : now[id]
    equal &&= same
  }
  return equal ? before : merged
}
