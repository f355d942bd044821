/** Which numbers of a sequence there are, whatever its source's range says. */

import { readdir } from 'node:fs/promises'
import { basename, dirname, resolve } from 'node:path'
import { isBelow, type Place } from './read-frame'

/** @returns ascending; empty for a folder that is outside or not there */
export async function framesInFolder({ roots, folder }: Place, path: string): Promise<number[]> {
  const parent = resolve(folder, dirname(path))
  if (!roots.includes(parent) && !isBelow(roots, parent)) return []
  const names = await readdir(parent).catch(() => [] as string[])
  const pattern = basename(path)
  const run = /#+/.exec(pattern)
  if (!run) return []
  const [before, after] = [pattern.slice(0, run.index), pattern.slice(run.index + run[0].length)]
  return names
    .filter((name) => name.startsWith(before) && name.endsWith(after))
    .map((name) => name.slice(before.length, name.length - after.length))
    .filter((digits) => /^\d+$/.test(digits) && (digits.length === run[0].length || !digits.startsWith('0')))
    .map(Number)
    .sort((a, b) => a - b)
}
