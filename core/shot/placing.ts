/** Which element moves with which. */

import { find, parentOf } from './find'
import type { Arrangement, Element } from './types'

/** What an element moves with: what it says, else the group it is in. @returns null where it moves by itself */
export function movesWith(shot: Arrangement, element: Element): string | null {
  const said = element.placing?.with
  if (said !== undefined && find(shot.elements, said)) return said
  return parentOf(shot, element)
}

/** Whether an element comes back to itself by way of what it moves with. */
export function movesWithItself(shot: Arrangement, id: string): boolean {
  const seen = new Set<string>()
  for (let at: string | null = id; at !== null && !seen.has(at);) {
    seen.add(at)
    const element: Element | undefined = find(shot.elements, at)
    at = element ? movesWith(shot, element) : null
    if (at === id) return true
  }
  return false
}
