/** The shot as it would be with a reference object in the place of what it stands for. */

import { find, plateSource } from './find'
import { shotFramesOf } from './source-files'
import type { FrameRange, ReferenceObject, Shot, Source } from './types'

/** What of a reference object is seen: all of it, or its render in front of the shot's own plate. */
export type SeenOf = 'photograph and render' | 'render alone'

const seen = new WeakMap<Shot, Map<string, Shot | null>>()

/**
 * Photographs for the plate, its render for the other's: everything else is as it is, so that the object is treated as the
 * element is.
 *
 * @returns the same one for the same shot; null where the object, or one of its sources, is gone
 */
export function onReferenceObject(shot: Shot, id: string, of: SeenOf = 'photograph and render'): Shot | null {
  let known = seen.get(shot)
  if (!known) seen.set(shot, (known = new Map()))
  const name = `${of} ${id}`
  let made = known.get(name)
  if (made === undefined) known.set(name, (made = swapped(shot, find(shot.referenceObjects, id), of)))
  return made
}

function swapped(shot: Shot, object: ReferenceObject | undefined, of: SeenOf): Shot | null {
  const plate = plateSource(shot)
  const [photographed, rendered] = object
    ? [object.photographed, object.rendered].map((id) => find(shot.sources, id))
    : []
  if (!object || !plate || !photographed || !rendered || !find(shot.sources, object.insteadOf)) return null
  // They keep their ids, by which their files are known.
  const behind = of === 'render alone' ? plate : shown(photographed)
  const byId = { ...shot.sources.byId, [plate.id]: behind, [object.insteadOf]: shown(rendered) }
  return { ...shot, sources: { byId } }
}

function shown({ forComparing: _, ...source }: Source): Source {
  return source
}

/** Frames that it was photographed and rendered on. @returns null where there are none, or it is gone */
export function framesOfReferenceObject(shot: Shot, id: string): FrameRange | null {
  const object = find(shot.referenceObjects, id)
  const sources = object ? [object.photographed, object.rendered].map((one) => find(shot.sources, one)) : []
  let { first, last } = shot.frames
  if (sources.length === 0) return null
  for (const source of sources) {
    if (!source) return null
    const own = shotFramesOf(source)
    if (own) [first, last] = [Math.max(first, own.first), Math.min(last, own.last)]
  }
  return first <= last ? { first, last } : null
}
