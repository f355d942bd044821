/** Where elements go that are let go on the line of another. */

import { childrenOf, elementsInOrder, find, moveTo, parentOf, type Shot, type Together } from '../../../../core/shot'

/**
 * Let go on a nearer line they come right in front of it, on a farther one right behind it, in its group; never behind the
 * plate.
 *
 * @returns null when nothing moves
 */
export function dropOn(shot: Shot, ids: readonly string[], moved: string, over: string): Together | null {
  const target = find(shot.elements, over)
  if (!target || moved === over || ids.includes(over)) return null
  const order = elementsInOrder(shot).map(({ element }) => element.id)
  const parent = parentOf(shot, target)
  if (over !== shot.plate && order.indexOf(over) < order.indexOf(moved))
    return moveTo(shot, ids, { parent, behind: over })
  const brothers = childrenOf(shot, parent).filter(({ id }) => !ids.includes(id))
  const next = brothers[brothers.findIndex(({ id }) => id === over) + 1]
  return moveTo(shot, ids, { parent, behind: next?.id ?? null })
}
