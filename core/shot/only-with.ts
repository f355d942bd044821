/** The shot with one element over the plate and nothing else: for what that element alone does to the plate. */

import { allOf, find } from './find'
import type { Element, Shot } from './types'

type LeftOut = readonly ('sensor' | 'finish')[]

const everythingAfter: LeftOut = ['sensor', 'finish']
const seen = new WeakMap<Shot, Map<string, Shot | null>>()

/**
 * Groups that it stands in, or that it is made of, stay.
 *
 * @param leftOut what acts on the whole and is left out
 * @returns the same one for the same shot; null where the element is gone, or is the plate itself
 */
export function onlyWith(shot: Shot, element: string, leftOut: LeftOut = everythingAfter): Shot | null {
  let known = seen.get(shot)
  if (!known) seen.set(shot, (known = new Map()))
  const name = [element, ...leftOut].join()
  let made = known.get(name)
  if (made === undefined) known.set(name, (made = reduced(shot, element, leftOut)))
  return made
}

function reduced(shot: Shot, element: string, leftOut: LeftOut): Shot | null {
  if (element === shot.plate || !find(shot.elements, element)) return null
  const above = linesAbove(shot, element)
  const stays = (one: Element) => one.id === shot.plate || above.has(one.id) || linesAbove(shot, one.id).has(element)
  const elements = allOf(shot.elements).map((one): Element => (stays(one) ? one : { ...one, visible: false }))
  const uses = allOf(shot.uses).filter(({ owner }) => !leftOut.some((kind) => owner.kind === kind))
  return {
    ...shot,
    elements: { byId: Object.fromEntries(elements.map((one) => [one.id, one])) },
    uses: { byId: Object.fromEntries(uses.map((one) => [one.id, one])) },
  }
}

/** The element and the groups that it stands in. */
function linesAbove(shot: Shot, element: string): ReadonlySet<string> {
  const found = new Set<string>()
  for (let id: string | null = element; id !== null && !found.has(id); id = find(shot.elements, id)?.parent ?? null)
    found.add(id)
  return found
}
