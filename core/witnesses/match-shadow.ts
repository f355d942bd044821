/** How much light a shadow leaves: the ratio that comes nearest to the shadows of reference objects on the plate's own ground. */

import { dilate, intersect, pixelCount, type Window } from '../image/window'
import { nearestShadow, type ShadowCorners, type Sure } from '../match'
import { alignedShift } from '../measure/aligned-shift'
import type { Step } from '../graph/steps'
import { blends } from '../set/blends'
import { elementDescription } from '../set/owners'
import { applyEdit, onReferenceObject, parametersFor, type Element, type ReferenceObject } from '../shot'
import { setsOf } from './changes'
import { isByHand, isSet, type ShotBeingMatched } from './matching'
import { framesOf, namesOf, once } from './on-objects'

/** What no shadow can take away is the plate's veil, and that is what lifts the render's blacks. */
export function matchPlateVeil(
  matched: ShotBeingMatched,
  shadow: Element,
  veil: readonly Sure[],
  objects: readonly ReferenceObject[],
): void {
  if (isSet(shadow.blend.parameters, parametersFor(blends[shadow.blend.kind]), ['veil']))
    return matched.leave(shadow, 'plate veil', isByHand)
  matched.find(shadow, 'plate veil', veil, namesOf(objects))
}

/** @param occlusion of the same render, whose strength is found with it; null where there is none */
export async function matchShadow(
  matched: ShotBeingMatched,
  element: Element,
  shadow: Element,
  occlusion: Element | null,
  objects: readonly ReferenceObject[],
): Promise<void> {
  if (isSet(shadow.blend.parameters, parametersFor(blends.shadow), ['ratio']))
    return matched.leave(shadow, 'shadow ratio', isByHand)
  const free =
    occlusion && !isSet(occlusion.parameters, parametersFor(elementDescription), ['opacity']) ? occlusion : null
  if (occlusion && !free) matched.leave(occlusion, 'occlusion strength', isByHand)
  const frames: ShadowCorners[] = []
  for (const object of objects)
    for (const frame of framesOf(matched, object)) {
      const one = await shadowOn(matched, { element, shadow, occlusion: free }, object, frame)
      if (typeof one === 'string') return matched.leave(shadow, 'shadow ratio', one)
      if (one) frames.push(one)
    }
  const found = nearestShadow(frames)
  if (!found) return matched.leave(shadow, 'shadow ratio', 'what was shot throws no shadow that could tell it')
  const held = ({ value, bar }: Sure): Sure => ({ value: Math.min(1, Math.max(0, value)), bar })
  matched.find(shadow, 'shadow ratio', found.ratio.map(held), namesOf(objects))
  if (free && found.occlusion) matched.find(free, 'occlusion strength', [held(found.occlusion)], namesOf(objects))
}

/** So far from the object nothing of it is in the way of its shadow. */
const margin = 4
/** The camera may have moved so much between the photograph and the plate, in pixels. */
const mostMoved = 0.5

interface Darkening {
  readonly element: Element
  readonly shadow: Element
  readonly occlusion: Element | null
}

/** @returns the end of a sentence where the photograph cannot be compared with the plate; null where nothing is there */
async function shadowOn(
  { shot, look, plan }: ShotBeingMatched,
  { element, shadow, occlusion }: Darkening,
  object: ReferenceObject,
  frame: number,
): Promise<ShadowCorners | string | null> {
  const corner = (ratio: number, strength: number) => {
    const sets = [setsOf({ kind: 'blend', element: shadow.id }, 'ratio', [ratio, ratio, ratio], shot)]
    if (occlusion) sets.push(setsOf({ kind: 'element', id: occlusion.id }, 'opacity', [strength], shot))
    const set = sets.reduce((before, edit) => applyEdit(before, edit).shot, shot)
    const seen = onReferenceObject(set, object.id, 'render alone')
    return seen && plan(seen, frame, 1).composite
  }
  const strengths = occlusion ? [0, 1] : [1]
  const corners = strengths.flatMap((strength) => [corner(0, strength), corner(1, strength)])
  const photographed = onReferenceObject(shot, object.id)
  const photo = photographed && plan(photographed, frame, 1)
  const own = plan(shot, frame, 1)
  const [throws, covers] = [shadow, element].map(({ id }) => photo?.elements.get(id))
  if (!photo?.plate || !own.plate || !throws || !covers || corners.some((one) => !one)) return null
  const whole = { x: 0, y: 0, ...shot.frameSize }
  const [reach, body] = await Promise.all([look.bounds(throws), look.bounds(covers)])
  const window = intersect(reach, whole)
  if (pixelCount(window) === 0) return null
  const lies = await shiftOf(look, own.plate, photo.plate, besideOf(body, whole), whole)
  if (!lies || Math.hypot(lies.x, lies.y) > mostMoved)
    return `the plate of frame ${frame} is not where ${object.name} was shot from`
  const pictures = [...(corners as Step[]), photo.plate, covers]
  const made = await Promise.all(pictures.map((step) => look.light(step, window, once)))
  const [wanted, cover] = made.slice(-2)
  const hidden = nearCovered(cover, window)
  return {
    ratio: [made[0], made[1]],
    ...(occlusion ? { occluded: [made[2], made[3]] as const } : {}),
    ...{ wanted, object: object.id, counts: (i) => hidden[i] === 0 },
  }
}

const searched = 6

/** Between two pictures that should lie on each other. */
async function shiftOf(look: ShotBeingMatched['look'], one: Step, other: Step, patch: Window, whole: Window) {
  const inside = intersect(patch, dilate(whole, -searched, -searched))
  const [a, b] = await Promise.all([
    look.light(one, inside, once),
    look.light(other, dilate(inside, searched, searched), once),
  ])
  return alignedShift(a, inside, b, searched)
}

/** As large as the object, on the side that has more room. */
function besideOf(body: Window, whole: Window): Window {
  const gap = Math.max(margin, body.width >> 2)
  const [left, right] = [body.x - whole.x, whole.x + whole.width - body.x - body.width]
  const width = Math.min(body.width, Math.max(left, right) - gap)
  const x = left > right ? body.x - gap - width : body.x + body.width + gap
  return intersect({ x, y: body.y, width, height: body.height }, whole)
}

/** @returns 1 where something of it is within the margin */
function nearCovered(light: Float32Array, { width, height }: Window): Uint8Array {
  const near = new Uint8Array(width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      if (!(light[(y * width + x) * 4 + 3] > 1e-4)) continue
      const [top, bottom] = [Math.max(0, y - margin), Math.min(height - 1, y + margin)]
      const [from, to] = [Math.max(0, x - margin), Math.min(width - 1, x + margin)]
      for (let row = top; row <= bottom; row++) near.fill(1, row * width + from, row * width + to + 1)
    }
  return near
}
