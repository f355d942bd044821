/** Places by which a shadow's density can be compared: shadows of the plate's own, and where an element takes most of the light. */

import { overlap, type Window } from '../image/window'
import type { FlatPlace } from './flat-places'
import { summedArea, sumOver } from './summed-area'

export interface ShadowPlace extends Window {
  /** flat ground beside it, in the light */
  readonly lit: Window
}

/** Of the light of the ground beside it: less is another material, more is hardly a shadow. */
const [leastLeft, mostLeft] = [0.2, 0.85]
/** Channels may be darker by unlike amounts, since lamps have colours: so far apart in the logarithm. */
const mostUneven = 0.3
/** Sides of a place between the middles of both. */
const farthest = 8
/** How much the light that is left counts beside unevenness: ground of one colour varies by itself, but seldom by a half. */
const weightOfLeft = 0.3

/**
 * Flat ground that is darker than flat ground beside it, by about as much in all channels: the darkest and most even first, none in two
 * of them. Dark ground of one colour looks the same, so that somebody has to look.
 *
 * @param places all of one size, on a grid of half of that
 */
export function shadowPlaces(places: readonly FlatPlace[], most: number): ShadowPlace[] {
  const apart = withoutOverlap(places)
  const found: { readonly dark: FlatPlace; readonly lit: FlatPlace; readonly unlikely: number }[] = []
  const far = farthest * (places.length > 0 ? places[0].width : 0)
  for (const [i, dark] of apart.entries()) {
    let first = i
    while (first > 0 && dark.y - apart[first - 1].y <= far) first--
    for (let j = first; j < apart.length && apart[j].y - dark.y <= far; j++) {
      const lit = apart[j]
      if (j === i || Math.abs(lit.x - dark.x) > far) continue
      const unlikely = unlikelyAs(dark, lit)
      if (unlikely < Infinity) found.push({ dark, lit, unlikely })
    }
  }
  found.sort((a, b) => a.unlikely - b.unlikely)
  const kept: ShadowPlace[] = []
  for (const { dark, lit } of found) {
    if (kept.length === most) break
    if (kept.some((one) => overlap(one, dark) || overlap(one.lit, lit))) continue
    kept.push({ ...windowOf(dark), lit: windowOf(lit) })
  }
  return kept
}

/** Those on every second line each way, from the top on: what lies between them tells nothing more. */
function withoutOverlap(places: readonly FlatPlace[]): FlatPlace[] {
  if (places.length === 0) return []
  const { x: left, y: top, width, height } = places[0]
  return places.filter(({ x, y }) => (x - left) % width === 0 && (y - top) % height === 0).sort((a, b) => a.y - b.y)
}

/** @returns the less the likelier it is a shadow of that ground; infinite where it is none */
function unlikelyAs(dark: FlatPlace, lit: FlatPlace): number {
  let [sum, least, most] = [0, Infinity, -Infinity]
  for (let c = 0; c < 3; c++) {
    const ratio = dark.light[c] / lit.light[c]
    if (!(ratio >= leastLeft && ratio <= mostLeft)) return Infinity
    const log = Math.log(ratio)
    sum += log
    least = Math.min(least, log)
    most = Math.max(most, log)
  }
  const uneven = Math.max(most - sum / 3, sum / 3 - least)
  return uneven <= mostUneven ? uneven + weightOfLeft * Math.exp(sum / 3) : Infinity
}

const windowOf = ({ x, y, width, height }: Window): Window => ({ x, y, width, height })

/** A place of which less is covered tells little. */
const leastShare = 0.5

/**
 * Where a picture covers most: places that do not overlap, on a grid of half their side, of which each covers at least half as much as the
 * first.
 *
 * @param light RGBA of the window
 */
export function deepestPlaces(
  light: Float32Array,
  { x: left, y: top, width, height }: Window,
  { side, most }: { readonly side: number; readonly most: number },
): Window[] {
  const table = summedArea(light, 3, width, height)
  const places: { readonly place: Window; readonly covers: number }[] = []
  for (let y = 0; y + side <= height; y += side >> 1)
    for (let x = 0; x + side <= width; x += side >> 1) {
      const covers = sumOver(table, width, { x, y, width: side, height: side })
      if (covers > 0) places.push({ place: { x: left + x, y: top + y, width: side, height: side }, covers })
    }
  places.sort((a, b) => b.covers - a.covers)
  const kept: Window[] = []
  for (const { place, covers } of places) {
    if (kept.length === most || covers < leastShare * places[0].covers) break
    if (!kept.some((one) => overlap(one, place))) kept.push(place)
  }
  return kept
}
