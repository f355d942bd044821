/** Balls and charts that were shot for reference: photographs and a render that are called alike. */

import { roleOf, type FoundClip } from './clip'
import { elementName, stemOf } from './names'

/** A photographed object, and its render, by their paths. */
export interface FoundObject {
  readonly name: string
  readonly photographed: string
  readonly rendered: string
}

const photographWords = /^(plate|photo|photographed|scan|raw|bg)$/
const renderWords = /^(cg|render|rendered)$/
const referenceWords = /^(balls?|spheres?|charts?|colou?rchart|grey|gray|chrome|ref|reference)$/
const wordsIn = (path: string): string[] =>
  stemOf(path)
    .toLowerCase()
    .split(/[._-]+/)
const folderOf = (path: string): string => path.split('/').slice(0, -1).join('/')

/** What both are called, besides what each of them is. @returns null where nothing says that it is one of the two */
function calledAs(path: string, own: RegExp): string | null {
  const words = wordsIn(path)
  const rest = words.filter((word) => !own.test(word))
  return rest.length < words.length ? [folderOf(path), ...rest].join(' ') : null
}

/** Its name says that it was made to compare with. */
export const isCalledReference = (path: string): boolean =>
  calledAs(path, renderWords) !== null || wordsIn(path).some((word) => referenceWords.test(word))

/** Only beside a plate and a render that are called otherwise: a shot's own two may be called alike as well. */
export function objectsAmong(found: readonly FoundClip[], shot: string): FoundObject[] {
  const photographs = found.filter((clip) => ['picture', 'still'].includes(roleOf(clip)))
  const renders = found.filter((clip) => roleOf(clip) === 'render')
  const pairs = photographs.flatMap(({ path: photographed }) => {
    const called = calledAs(photographed, photographWords)
    const render = called === null ? undefined : renders.find(({ path }) => calledAs(path, renderWords) === called)
    if (!render) return []
    const words = wordsIn(photographed).filter((word) => !photographWords.test(word))
    return [{ name: elementName(words.join('-'), shot), photographed, rendered: render.path }]
  })
  const paired = new Set(pairs.flatMap(({ photographed, rendered }) => [photographed, rendered]))
  const others = (clips: readonly FoundClip[]) => clips.some(({ path }) => !paired.has(path))
  return others(photographs) && others(renders) ? pairs : []
}
