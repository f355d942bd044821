/** Places of the plate near an element, and of the element itself, that may be worth comparing: dark ones, lit ones, edges. */

import { cutWindow } from '../image/cut'
import { dilate, intersect, pixelCount, type Window } from '../image/window'
import { darkestOf, flatPlaces, likest, strongEdges, type FlatPlace, type Rgb } from '../match'
import { noiseLevel } from '../measure/noise-level'
import type { Element, Shot } from '../shot'
import type { Look } from './look'
import type { PlanOf } from './parts'

export const suggestedPurposes = ['black', 'mid', 'sharpness'] as const
export type SuggestedPurpose = (typeof suggestedPurposes)[number]

/** Places of both sides, not yet paired. */
export interface Places {
  readonly reference: readonly Window[]
  readonly adjusted: readonly Window[]
}

/** So many of each purpose and side. */
const most: Readonly<Record<SuggestedPurpose, number>> = { black: 6, mid: 16, sharpness: 8 }
/** The plate's places are flat. The element has no noise and is followed, so that its mean may be one of shading. */
const shading = { plate: 0.06, element: 0.5 }
/** Lit is so many times as light as the plate's darkest place. */
const litOverDark = 2
/** Towards its brightest light a camera holds light back: an edge of it looks sharper than it is. */
const heldBack = 0.5
const once = { once: true } as const

/** @returns null where the element shows nothing on the frame, or there is no plate */
export async function placesToCompare(
  shot: Shot,
  look: Look,
  plan: PlanOf,
  element: Element,
  frame: number,
): Promise<Readonly<Record<SuggestedPurpose, Places>> | null> {
  const planned = plan(shot, frame, 1)
  const step = planned.elements.get(element.id)
  if (!step || !planned.plate) return null
  const whole: Window = { x: 0, y: 0, ...shot.frameSize }
  const body = intersect(await look.bounds(step), whole)
  if (pixelCount(body) === 0) return null
  // Like depth is likeliest near by.
  const near = intersect(dilate(body, body.width, body.height), whole)
  const [plate, own] = await Promise.all([look.light(planned.plate, near, once), look.light(step, body, once)])
  const pixels = (of1280: number, least: number) => Math.max(least, Math.round((of1280 * shot.frameSize.width) / 1280))
  const flats = {
    plate: flatPlaces(plate, near, {
      ...{ side: pixels(16, 8), margin: pixels(6, 2), noise: noiseOf(plate, near), shading: shading.plate },
    }).filter(({ light }) => light.every((value) => value > 0)),
    element: flatPlaces(own, body, {
      ...{ side: pixels(8, 4), margin: pixels(3, 1), noise: noiseOf(own, body), shading: shading.element },
    }),
  }
  const dark = {
    plate: darkestOf(flats.plate, most.black),
    element: darkestOf(flats.element, most.black),
  }
  const least = litOverDark * (dark.plate.length > 0 ? sum(dark.plate[0]) : 0)
  const like = likest(flats.plate, flats.element, { least, most: most.mid })
  const edges = { side: pixels(16, 12), most: most.sharpness }
  return {
    black: { reference: dark.plate, adjusted: dark.element },
    mid: { reference: like.map(({ reference }) => reference), adjusted: like.map(({ adjusted }) => adjusted) },
    sharpness: {
      reference: strongEdges(plate, near, { ...edges, of: 'light', below: heldBackFrom(plate) }),
      adjusted: strongEdges(own, body, { ...edges, of: 'coverage' }),
    },
  }
}

const sum = ({ light }: FlatPlace) => light[0] + light[1] + light[2]

/** @returns the light, of the three channels together, from which on an edge is not to be trusted */
function heldBackFrom(light: Float32Array): number {
  let most = 0
  for (let i = 0; i < light.length; i += 4) most = Math.max(most, light[i] + light[i + 1] + light[i + 2])
  return heldBack * most
}

/** In a part of the picture that is large enough to tell it. */
function noiseOf(light: Float32Array, window: Window): Rgb {
  const [across, down] = [Math.min(enoughForNoise, window.width), Math.min(enoughForNoise, window.height)]
  const part = {
    ...{ x: window.x + ((window.width - across) >> 1), y: window.y + ((window.height - down) >> 1) },
    ...{ width: across, height: down },
  }
  const inside = cutWindow(light, window, part)
  const plane = (c: number) => Float64Array.from({ length: across * down }, (_, i) => inside[4 * i + c])
  return [0, 1, 2].map((c) => noiseLevel(plane(c), part)) as unknown as Rgb
}

const enoughForNoise = 256
