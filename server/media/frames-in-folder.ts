/** Which numbers of a sequence there are, whatever its source's range says. */

import { readdir } from 'node:fs/promises'
import { basename, dirname, resolve } from 'node:path'
import { isBelow, type MediaPlace } from './read-frame'

/**
 * @param namesOf reads a folder; another one may remember what it read
 * @returns ascending; empty for a folder that is outside or not there
 */
export async function framesInFolder(
  { roots, folder }: MediaPlace,
  path: string,
  namesOf: (path: string) => Promise<readonly string[]> = (parent) => readdir(parent).catch(() => []),
): Promise<number[]> {
  const parent = resolve(folder, dirname(path))
  if (!roots.includes(parent) && !isBelow(roots, parent)) return []
  return numbersAmong(await namesOf(parent), basename(path))
    .map(({ number }) => number)
    .sort((a, b) => a - b)
}

/** @param pattern a file name with a run of # @returns the names that fit it, with their numbers */
export function numbersAmong(
  names: readonly string[],
  pattern: string,
): { readonly number: number; readonly name: string }[] {
  const run = /#+/.exec(pattern)
  if (!run) return []
  const [before, after] = [pattern.slice(0, run.index), pattern.slice(run.index + run[0].length)]
  return names.flatMap((name) => {
    if (!name.startsWith(before) || !name.endsWith(after) || name.length < before.length + after.length) return []
    const digits = name.slice(before.length, name.length - after.length)
    const fits = /^-?\d{1,9}$/.test(digits) && (digits.length === run[0].length || !/^-?0\d/.test(digits))
    return fits ? [{ number: Number(digits), name }] : []
  })
}
