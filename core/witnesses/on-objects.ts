/** Pictures of reference objects: as they are treated, and as they were photographed. */

import { intersect, pixelCount } from '../image/window'
import type { SharpAndSeen } from '../match'
import type { Window } from '../image/window'
import { framesOfReferenceObject, onReferenceObject, type Element, type ReferenceObject } from '../shot'
import type { ShotBeingMatched } from './matching'

export const once = { once: true } as const

export function framesOf({ shot }: ShotBeingMatched, { id }: ReferenceObject): number[] {
  const range = framesOfReferenceObject(shot, id)
  return range ? Array.from({ length: range.last - range.first + 1 }, (_, i) => range.first + i) : []
}

/** @returns null where one of them shows nothing */
export async function seenOn(
  { shot, look, plan }: ShotBeingMatched,
  element: Element,
  { id }: ReferenceObject,
  frame: number,
): Promise<(SharpAndSeen & { readonly window: Window }) | null> {
  const on = onReferenceObject(shot, id)
  const planned = on && plan(on, frame, 1)
  const step = planned?.elements.get(element.id)
  if (!planned?.reference || !step) return null
  const window = intersect(await look.bounds(step), { x: 0, y: 0, ...shot.frameSize })
  if (pixelCount(window) === 0) return null
  const [sharp, seen] = await Promise.all([look.light(step, window, once), look.light(planned.reference, window, once)])
  return { window, sharp, seen }
}

export const namesOf = (objects: readonly ReferenceObject[]): string[] => objects.map(({ name }) => name)
