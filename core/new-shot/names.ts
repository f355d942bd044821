/** Names for a new shot and what is in it, from those of its files. */

import { wordsOf } from './pass-names'

/** `media/quay-010/plate/quay-010_plate_v002.####.exr` gives `quay-010_plate_v002`. */
export function stemOf(path: string): string {
  const file = path.split('/').at(-1) ?? path
  return file.replace(/\.[A-Za-z0-9]+$/, '').replace(/[._-]?#+$/, '')
}

/** The folder that all of them lie in; empty for the root. */
export function commonFolder(paths: readonly string[]): string {
  const [first = [], ...others] = paths.map((path) => path.split('/').slice(0, -1))
  let depth = 0
  while (depth < first.length && others.every((other) => other[depth] === first[depth])) depth++
  return first.slice(0, depth).join('/')
}

/** Folders that say what lies in them, and not of which shot it is. */
const general = /^(plates?|scans?|bg|cg|renders?|images?|frames|footage|media|imported|exr|dpx|v\d+)$/i
/** What a plate's file is called besides its shot. */
const plateWords = /([._-](plate|scan|bg|raw|src|pl\d+|v\d+))+$/i

/** @returns lower-case letters, digits and dashes, as names of shots are; `shot` where nothing is left */
export function shotName(text: string): string {
  const name = text
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 60)
  return name || 'shot'
}

/** The name of the folder that holds everything, unless it says nothing; else of the plate's file. */
export function proposedName(folder: string, plate: string | null): string {
  const own = folder
    .split('/')
    .filter((part) => part !== '' && !general.test(part))
    .at(-1)
  return shotName(own ?? (plate === null ? '' : stemOf(plate).replace(plateWords, '')))
}

/** `quay-010_bell_v003` of the shot quay-010 gives `Bell`. */
export function elementName(path: string, shot: string): string {
  const stem = stemOf(path).replace(/[._-]v\d+$/i, '')
  const plain = stem.toLowerCase().startsWith(shot) && stem.length > shot.length ? stem.slice(shot.length) : stem
  const words = wordsOf(plain)
  return words === '' ? stem : words[0].toUpperCase() + words.slice(1)
}
