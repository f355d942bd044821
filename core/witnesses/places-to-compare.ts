/** Places of the plate near an element, and of the element itself, that may be worth comparing: dark ones, lit ones, edges, texture, shadows. */

import { cutWindow } from '../image/cut'
import { dilate, intersect, pixelCount, type Window } from '../image/window'
import {
  darkestOf,
  deepestPlaces,
  flatPlaces,
  likest,
  shadowPlaces,
  strongEdges,
  type FlatPlace,
  type Rgb,
} from '../match'
import { noiseLevel } from '../measure/noise-level'
import type { Element, Shot } from '../shot'
import { spreadPoints } from '../track/spread-points'
import type { Look } from './look'
import type { PlanOf } from './parts'

export const suggestedPurposes = ['black', 'mid', 'sharpness', 'registration', 'shadow'] as const
export type SuggestedPurpose = (typeof suggestedPurposes)[number]

const ofShadows: readonly SuggestedPurpose[] = ['shadow']
const ofOthers: readonly SuggestedPurpose[] = ['black', 'mid', 'sharpness', 'registration']

/** A shadow has no light of its own to compare. */
export const purposesFor = ({ blend }: Element): readonly SuggestedPurpose[] =>
  blend.kind === 'shadow' ? ofShadows : ofOthers

/** A region, and of a shadow the same ground in the light. */
export interface Place extends Window {
  readonly lit?: Window
}

/** Places of both sides, not yet paired. */
export interface Places {
  readonly reference: readonly Place[]
  readonly adjusted: readonly Place[]
}

/** So many of each purpose and side. */
const most: Readonly<Record<SuggestedPurpose, number>> = { black: 6, mid: 16, sharpness: 8, registration: 4, shadow: 4 }
/** The plate's places are flat. The element has no noise and is followed, so that its mean may be one of shading. */
const shading = { plate: 0.06, element: 0.5 }
/** Lit is so many times as light as the plate's darkest place. */
const litOverDark = 2
/** Towards its brightest light a camera holds light back: an edge of it looks sharper than it is. */
const heldBack = 0.5
const once = { once: true } as const

const nowhere: Places = { reference: [], adjusted: [] }

/** @returns null where the element shows nothing on the frame, or there is no plate */
export async function placesToCompare(
  shot: Shot,
  look: Look,
  plan: PlanOf,
  element: Element,
  frame: number,
  purposes: readonly SuggestedPurpose[],
): Promise<Readonly<Record<SuggestedPurpose, Places>> | null> {
  const planned = plan(shot, frame, 1)
  const step = planned.elements.get(element.id)
  if (!step || !planned.reference) return null
  const whole: Window = { x: 0, y: 0, ...shot.frameSize }
  const body = intersect(await look.bounds(step), whole)
  if (pixelCount(body) === 0) return null
  // Like depth is likeliest near by.
  const shadow = element.blend.kind === 'shadow'
  // And the ground is where a shadow may fall.
  const near = shadow ? body : intersect(dilate(body, body.width, body.height), whole)
  const [plate, own] = await Promise.all([look.light(planned.reference, near, once), look.light(step, body, once)])
  const pixels = (of1280: number, least: number) => Math.max(least, Math.round((of1280 * shot.frameSize.width) / 1280))
  const flats = {
    plate: flatPlaces(plate, near, {
      ...{ side: pixels(16, 8), margin: pixels(6, 2), noise: noiseOf(plate, near), shading: shading.plate },
    }).filter(({ light }) => light.every((value) => value > 0)),
    element: flatPlaces(own, body, {
      ...{ side: pixels(8, 4), margin: pixels(3, 1), noise: noiseOf(own, body), shading: shading.element },
    }),
  }
  const of = (purpose: SuggestedPurpose, find: () => Places) => (purposes.includes(purpose) ? find() : nowhere)
  return {
    black: of('black', () => ({
      reference: darkestOf(flats.plate, most.black),
      adjusted: darkestOf(flats.element, most.black),
    })),
    mid: of('mid', () => {
      const [darkest] = darkestOf(flats.plate, 1)
      const like = likest(flats.plate, flats.element, {
        least: darkest ? litOverDark * sum(darkest) : 0,
        most: most.mid,
      })
      return { reference: like.map(({ reference }) => reference), adjusted: like.map(({ adjusted }) => adjusted) }
    }),
    sharpness: of('sharpness', () => {
      const edges = { side: pixels(16, 12), most: most.sharpness }
      return {
        reference: strongEdges(plate, near, { ...edges, of: 'light', below: heldBackFrom(plate) }),
        adjusted: strongEdges(own, body, { ...edges, of: 'coverage' }),
      }
    }),
    registration: of('registration', () => {
      const side = pixels(24, 16)
      return { reference: textureIn(plate, near, side), adjusted: textureIn(own, body, side) }
    }),
    shadow: of('shadow', () => ({
      reference: shadowPlaces(flats.plate, most.shadow),
      adjusted: deepestPlaces(own, body, { side: pixels(16, 8), most: most.shadow }),
    })),
  }
}

/** Regions about points that can be followed well. */
function textureIn(light: Float32Array, { x, y, width, height }: Window, side: number): Window[] {
  const half = side >> 1
  if (width <= side || height <= side) return []
  const brightness = (i: number) => light[4 * i] + light[4 * i + 1] + light[4 * i + 2]
  const plane = { values: Float64Array.from({ length: width * height }, (_, i) => brightness(i)), width, height }
  return spreadPoints(plane, most.registration, half, half).map((at) => ({
    ...{ x: x + at.x - half, y: y + at.y - half },
    ...{ width: side, height: side },
  }))
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
