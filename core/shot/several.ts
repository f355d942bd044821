/** One thing done to several elements, as one edit. */

import { keyframesOf, valueAt } from '../motion/curve'
import { find } from './find'
import { movable } from './arranging'
import type { Change, SingleChange, Together } from './edits'
import { ownedBy } from './parameters'
import type { Element, Owner, Shot } from './types'

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

/**
 * A change of a number of one chosen element, made on all that are chosen: a number of an element or its blend is the same on
 * all, what is placed is moved by as much, and keyframes come and go together.
 *
 * @returns the change itself where it is of nothing that several can share
 */
export function onAll(shot: Shot, chosen: readonly string[], edit: Change): Change {
  if (!('at' in edit)) return edit
  const { owner, parameter } = edit.at
  const own = owner.kind === 'element' ? owner.id : 'element' in owner && owner.kind !== 'input' ? owner.element : null
  if (own === null || chosen.length < 2 || !chosen.includes(own)) return edit
  const as = (id: string): Owner =>
    owner.kind === 'element' ? { kind: 'element', id } : ({ ...owner, element: id } as Owner)
  const valueOf = (of: Owner, frame: number) => {
    const curve = ownedBy(shot, of)?.parameters[parameter]?.[0]
    return curve === undefined ? null : valueAt(curve, frame)
  }
  const changes = chosenOf(shot, chosen).flatMap(({ id }): SingleChange[] => {
    const of = as(id)
    if (ownedBy(shot, of)?.parameters[parameter] === undefined) return []
    const at = { ...edit.at, owner: of }
    if (owner.kind !== 'placing' || edit.kind !== 'set-parameter' || id === own)
      return [{ ...edit, at } as SingleChange]
    const [from, was] = [valueOf(of, edit.frame), valueOf(owner, edit.frame)]
    return from === null || was === null
      ? []
      : [{ ...edit, at: { ...edit.at, owner: of }, value: from + edit.value - was }]
  })
  return { kind: 'together', changes }
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
