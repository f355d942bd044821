/** One thing done to several elements, as one edit. */

import { keyframesOf } from '../motion/curve'
import { find } from './find'
import { movable } from './arranging'
import type { SingleChange, Together } from './edits'
import type { Element, Shot } from './types'

const isKeyedAt = ({ parameters }: Element, frame: number) =>
  (parameters.opacity ?? []).some((curve) => keyframesOf(curve).some((one) => one.frame === frame))

/** Those of the chosen that can have an opacity: not the plate. */
const chosenOf = (shot: Shot, ids: readonly string[]) =>
  ids.flatMap((id) => {
    const element = find(shot.elements, id)
    return element && id !== shot.plate ? [element] : []
  })

/** Whether every one of them has a keyframe of its opacity on the frame. */
export function allKeyed(shot: Shot, ids: readonly string[], frame: number): boolean {
  const chosen = chosenOf(shot, ids)
  return chosen.length > 0 && chosen.every((element) => isKeyedAt(element, frame))
}

/** A keyframe of every opacity where not all have one, as it is now; else none. @returns null when only the plate is chosen */
export function keyAll(shot: Shot, ids: readonly string[], frame: number): Together | null {
  const chosen = chosenOf(shot, ids)
  if (chosen.length === 0) return null
  const remove = allKeyed(shot, ids, frame)
  const changes = chosen
    .filter((element) => remove || !isKeyedAt(element, frame))
    .map(({ id }): SingleChange => ({
      kind: remove ? 'remove-keyframe' : 'add-keyframe',
      at: { owner: { kind: 'element', id }, parameter: 'opacity', channel: null },
      frame,
    }))
  return {
    kind: 'together',
    changes,
    label: `${remove ? 'Remove keyframes' : 'Keyframes'} of opacity on frame ${frame}`,
  }
}

/** One more word to find each of them by. @returns null when there is no word, or all have it */
export function tagAll(shot: Shot, ids: readonly string[], text: string): Together | null {
  const tag = text.trim()
  const without = movable(shot, ids).filter(({ tags = [] }) => !tags.includes(tag))
  if (tag === '' || without.length === 0) return null
  return {
    kind: 'together',
    changes: without.map(({ id, tags = [] }): SingleChange => ({
      kind: 'describe-element',
      element: id,
      changes: { tags: [...tags, tag] },
    })),
    label: `Tag ${tag} on ${without.length === 1 ? without[0].name : `${without.length} elements`}`,
  }
}
