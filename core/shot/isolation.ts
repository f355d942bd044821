/**
 * Groups are isolated (made by themselves, then blended as one picture) when a treatment of theirs is on or their opacity is
 * not constantly 1; else they pass through. What darkens what is behind it has nothing behind it there.
 */

import { isConstantly } from '../motion/curve'
import { blends } from '../set/blends'
import { allOf, find, parentOf, rootInput, usesOf } from './find'
import type { Arrangement, Element } from './types'

export function isGroup(element: Element): boolean {
  return rootInput(element)?.kind === 'group'
}

export function isIsolated(shot: Arrangement, group: Element): boolean {
  return (
    usesOf(shot, { kind: 'element', id: group.id }).some(({ on }) => on) ||
    group.blend.kind !== 'over' ||
    !(group.parameters.opacity ?? [1]).every((curve) => isConstantly(curve, 1))
  )
}

/** @returns why a group cannot be isolated, as a sentence; null when all is well */
export function isolationFault(shot: Arrangement): string | null {
  for (const element of allOf(shot.elements)) {
    const { darkens } = blends[element.blend.kind]
    if (!darkens || isGroup(element)) continue
    for (let parent = parentOf(shot, element); parent !== null;) {
      const group = find(shot.elements, parent)
      if (!group) break
      if (isIsolated(shot, group))
        return `${element.name} darkens what is behind it, and in ${group.name} nothing is: a group with a treatment, a blend or an opacity of its own is made by itself. Move ${element.name} out of ${group.name} first.`
      parent = parentOf(shot, group)
    }
  }
  return null
}
