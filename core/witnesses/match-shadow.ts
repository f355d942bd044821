/** How much light a shadow leaves: the ratio that comes nearest to the shadows of reference objects on the plate's own ground. */

import { dilate, intersect, pixelCount, type Window } from '../image/window'
import { doneByShadow, nearestShadow, type DoneByShadow, type Sure } from '../match'
import { alignedShift } from '../measure/aligned-shift'
import type { Step } from '../graph/steps'
import { applyEdit, onReferenceObject, type Element, type ReferenceObject } from '../shot'
import { isSet, setsOf } from './changes'
import { isByHand, type ShotBeingMatched } from './matching'
import { askedAhead, framesOf, namesOf, once } from './on-objects'

/** What no shadow can take away is the plate's veil, and that is what lifts the render's blacks. */
export function matchPlateVeil(
  matched: ShotBeingMatched,
  shadow: Element,
  veil: readonly Sure[],
  rests: readonly string[],
  surerBy?: string,
): void {
  if (isSet(matched.shot, shadow.id, 'plate veil')) return matched.leave(shadow, 'plate veil', isByHand)
  matched.find(shadow, 'plate veil', veil, rests, [], surerBy)
}

/** @param occlusion of the same render, whose strength is found with it; null where there is none */
export async function matchShadow(
  matched: ShotBeingMatched,
  element: Element,
  shadow: Element,
  occlusion: Element | null,
  objects: readonly ReferenceObject[],
): Promise<void> {
  if (isSet(matched.shot, shadow.id, 'shadow ratio')) return matched.leave(shadow, 'shadow ratio', isByHand)
  const free = occlusion && !isSet(matched.shot, occlusion.id, 'occlusion strength') ? occlusion : null
  if (occlusion && !free) matched.leave(occlusion, 'occlusion strength', isByHand)
  const frames: DoneByShadow[] = []
  for (const object of objects) {
    const own = framesOf(matched, object)
    // A camera that moved is seen at the ends.
    for (const frame of new Set([own[0], own[own.length - 1]])) {
      const why = await whyElsewhere(matched, element, object, frame)
      if (why !== null) return matched.leave(shadow, 'shadow ratio', why)
    }
    const darkening = { element, shadow, occlusion: free }
    for await (const one of askedAhead(own, (frame) => shadowOn(matched, darkening, object, frame)))
      if (one) frames.push(one)
  }
  const found = nearestShadow(frames)
  if (!found) return matched.leave(shadow, 'shadow ratio', 'what was shot throws no shadow that could tell it')
  // Between frames it is seen how sure it is.
  if (!Number.isFinite(found.ratio[0].bar))
    return matched.leave(shadow, 'shadow ratio', 'what was shot has one frame only, which does not tell how sure it is')
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

/** @returns null where nothing is there */
async function shadowOn(
  { shot, look, plan }: ShotBeingMatched,
  { element, shadow, occlusion }: Darkening,
  object: ReferenceObject,
  frame: number,
): Promise<DoneByShadow | null> {
  const corner = (ratio: number, strength: number) => {
    const sets = [setsOf({ kind: 'blend', element: shadow.id }, 'ratio', [ratio, ratio, ratio], shot)]
    if (occlusion) sets.push(setsOf({ kind: 'element', id: occlusion.id }, 'opacity', [strength], shot))
    const set = sets.reduce((before, edit) => applyEdit(before, edit).shot, shot)
    const seen = onReferenceObject(set, object.id, 'render alone')
    return seen && plan(seen, frame, 1)
  }
  const strengths = occlusion ? [0, 1] : [1]
  const planned = strengths.flatMap((strength) => [corner(0, strength), corner(1, strength)])
  const corners = planned.map((one) => one?.composite)
  const sky = occlusion && planned[planned.length - 1]?.elements.get(occlusion.id)
  const photographed = onReferenceObject(shot, object.id)
  const photo = photographed && plan(photographed, frame, 1)
  const [throws, covers] = [shadow, element].map(({ id }) => photo?.elements.get(id))
  if (!photo?.reference || !throws || !covers || corners.some((one) => !one)) return null
  const whole = { x: 0, y: 0, ...shot.frameSize }
  const window = intersect(await look.bounds(throws), whole)
  if (pixelCount(window) === 0) return null
  const pictures = [photo.reference, covers, ...(corners as Step[]), ...(sky ? [sky] : [])]
  const [wanted, cover, ...made] = await Promise.all(pictures.map((step) => look.light(step, window)))
  const hidden = nearCovered(cover, window)
  return doneByShadow({
    ratio: [made[0], made[1]],
    ...(occlusion ? { occluded: [made[2], made[3]] as const } : {}),
    ...(sky ? { sky: made[4] } : {}),
    ...{ wanted, window, object: object.id, counts: (i) => hidden[i] === 0 },
  })
}

/** @returns the end of a sentence where the photograph cannot be compared with the plate */
async function whyElsewhere(
  { shot, look, plan }: ShotBeingMatched,
  element: Element,
  object: ReferenceObject,
  frame: number,
): Promise<string | null> {
  const photographed = onReferenceObject(shot, object.id)
  const photo = photographed && plan(photographed, frame, 1)
  const own = plan(shot, frame, 1).reference
  const covers = photo?.elements.get(element.id)
  if (!photo?.reference || !own || !covers) return null
  const whole = { x: 0, y: 0, ...shot.frameSize }
  const lies = await shiftOf(look, own, photo.reference, besideOf(await look.bounds(covers), whole), whole)
  if (!lies) return `nothing beside ${object.name} tells whether the camera stood still`
  return Math.hypot(lies.x, lies.y) <= mostMoved
    ? null
    : `the plate of frame ${frame} is not where ${object.name} was shot from`
}

const searched = 6
/** In pixels. */
const leastPatch = 256

/** Between two pictures that should lie on each other. */
async function shiftOf(look: ShotBeingMatched['look'], one: Step, other: Step, patch: Window, whole: Window) {
  const inside = intersect(patch, dilate(whole, -searched, -searched))
  if (pixelCount(inside) < leastPatch) return null
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
  const width = Math.max(0, Math.min(body.width, Math.max(left, right) - gap))
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
