/** Other versions of a source's files, found by name beside them. */

import { readdir } from 'node:fs/promises'
import { resolve } from 'node:path'
import { versionIn, type FrameRange } from '../../core/shot'
import { framesInFolder } from './frames-in-folder'
import { isBelow, type MediaPlace } from './read-frame'

export interface FoundVersion {
  readonly number: number
  /** as the source's own path is written */
  readonly path: string
  readonly frames: FrameRange | null
  readonly count: number
}

/** @param path of a source, with a run of # for frame numbers @returns in order; the present one too, if its files are there */
export async function versionsBeside(place: MediaPlace, path: string): Promise<FoundVersion[]> {
  const version = versionIn(path)
  if (!version) return []
  const steps = path.split('/')
  // The first step that has the version: what lies above it is the same for all.
  const next = version.with(version.number + 1).split('/')
  const at = steps.findIndex((step, i) => step !== next[i])
  const above = steps.slice(0, at).join('/')
  const names = await readdir(resolve(place.folder, above)).catch(() => [] as string[])
  const numbers = new Set<number>()
  const here = versionIn(steps[at])
  for (const name of names) {
    // A file of a sequence has digits where the pattern has #.
    const number = here?.numberOf(at === steps.length - 1 ? asPattern(name, steps[at]) : name)
    if (number !== null && number !== undefined) numbers.add(number)
  }
  const found: FoundVersion[] = []
  for (const number of [...numbers].sort((a, b) => a - b)) {
    const its = version.with(number)
    if (!isBelow(place.roots, resolve(place.folder, its))) continue
    const frames = await framesInFolder(place, its)
    if (its.includes('#') && frames.length === 0) continue
    const range = its.includes('#') ? { first: frames[0], last: frames[frames.length - 1] } : null
    found.push({ number, path: its, frames: range, count: range ? frames.length : 1 })
  }
  return found
}

/** `bell_v004.1001.exr` as `bell_v004.####.exr`, where the pattern is `bell_v003.####.exr`. */
function asPattern(name: string, pattern: string): string {
  const run = /#+/.exec(pattern)
  if (!run) return name
  const after = pattern.slice(run.index + run[0].length)
  if (!name.endsWith(after)) return name
  const stem = name.slice(0, name.length - after.length)
  return `${stem.replace(/\d+$/, '')}${run[0]}${after}`
}
