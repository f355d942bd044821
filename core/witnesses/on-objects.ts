/** Pictures of reference objects: as they are treated, and as they were photographed. */

import { intersect, pixelCount } from '../image/window'
import { darkLight, type SharpAndSeen } from '../match'
import type { Window } from '../image/window'
import {
  allOf,
  framesOfReferenceObject,
  onReferenceObject,
  type Element,
  type ReferenceObject,
  type Shot,
} from '../shot'
import type { ShotBeingMatched } from './matching'

export const once = { once: true } as const

export function framesOf({ shot }: ShotBeingMatched, { id }: ReferenceObject): number[] {
  const range = framesOfReferenceObject(shot, id)
  return range ? Array.from({ length: range.last - range.first + 1 }, (_, i) => range.first + i) : []
}

/**
 * What something in front hides of it counts as not covered.
 *
 * @returns null where one of them shows nothing
 */
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
  const alone = onReferenceObject(beforeSensor(shot), id, 'render alone')
  const { composite } = alone ? plan(alone, frame, 1) : planned
  const steps = [step, planned.reference, ...(composite ? [composite] : [])]
  const [sharp, seen, whole] = await Promise.all(steps.map((one) => look.light(one, window, once)))
  return { window, sharp: composite ? withoutHidden(sharp, whole) : sharp, seen }
}

/** A frame of a reference object. */
export interface SeenOnObject extends SharpAndSeen {
  readonly window: Window
  readonly object: string
  readonly frame: number
}

/** The next one is asked for while one is looked at: pictures are made by others. */
export async function* askedAhead<T, R>(items: readonly T[], ask: (item: T) => Promise<R>): AsyncGenerator<R> {
  let next = items.length > 0 ? ask(items[0]) : null
  for (let i = 1; next; i++) {
    const present: Promise<R> = next
    next = i < items.length ? ask(items[i]) : null
    // Where the present one fails nobody waits for the next.
    next?.catch(() => undefined)
    yield await present
  }
}

/** All frames of all objects, by turns: the first ones may be enough. */
export async function seenOnAll(
  matched: ShotBeingMatched,
  element: Element,
  objects: readonly ReferenceObject[],
): Promise<SeenOnObject[]> {
  const turns = objects.map((object) => framesOf(matched, object).map((frame) => ({ object, frame })))
  const longest = Math.max(...turns.map(({ length }) => length))
  const inTurn = Array.from({ length: longest }, (_, i) => turns.flatMap((own) => own[i] ?? [])).flat()
  const found: SeenOnObject[] = []
  const seen = askedAhead(inTurn, async ({ object, frame }) => {
    const one = await seenOn(matched, element, object, frame)
    return one && { ...one, object: object.id, frame }
  })
  for await (const one of seen) if (one) found.push(one)
  return found
}

/** The render once more, as it is treated by now; what was hidden is hidden. */
export async function renderedAgain(
  { shot, look, plan }: ShotBeingMatched,
  element: Element,
  { window, object, frame, sharp, seen }: SeenOnObject,
): Promise<SeenOnObject | null> {
  const on = onReferenceObject(shot, object)
  const step = on && plan(on, frame, 1).elements.get(element.id)
  if (!step) return null
  const now = (await look.light(step, window, once)).slice()
  for (let a = 3; a < now.length; a += 4) if (sharp[a] === 0) now[a] = 0
  return { window, object, frame, sharp: now, seen }
}

/** Of what nothing hides, the picture as a whole shows the same light, to so much of it. */
const same = 0.02

function withoutHidden(own: Float32Array, whole: Float32Array): Float32Array {
  const out = own.slice()
  for (let i = 0; i < own.length; i += 4)
    for (let c = i; c < i + 3; c++)
      if (Math.abs(whole[c] - own[c]) > same * (Math.abs(own[c]) + darkLight)) out[i + 3] = 0
  return out
}

/** Without what is done to the picture as a whole. */
function beforeSensor(shot: Shot): Shot {
  const uses = allOf(shot.uses).filter(({ owner }) => owner.kind !== 'sensor' && owner.kind !== 'finish')
  return { ...shot, uses: { byId: Object.fromEntries(uses.map((use) => [use.id, use])) } }
}

export const namesOf = (objects: readonly ReferenceObject[]): string[] => objects.map(({ name }) => name)
