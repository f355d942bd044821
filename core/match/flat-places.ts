/** Flat places of a picture: what can be compared with another flat place by its light. */

import { overlap, type Window } from '../image/window'
import type { Rgb } from './side-reading'
import { summedArea, sumOver } from './summed-area'
import { darkLight } from './unlikeness'

export interface FlatPlace extends Window {
  /** straight light: the mean over the coverage */
  readonly light: Rgb
}

export interface FlatPlacesOptions {
  /** of a place, in pixels, at least 4 */
  readonly side: number
  /** it is flat and covered so far around it as well, so that a sway of the camera brings nothing else in */
  readonly margin: number
  /** standard deviation of the picture's noise in a pixel, of each channel */
  readonly noise: Rgb
  /** quarters of a place differ by less of their light */
  readonly shading: number
}

const covered = 0.999
/** By so many errors noise alone may set quarters apart. */
const byNoise = 4
/** Grain has a size: so many pixels beside each other say no more than one. */
const pixelsOfAGrain = 4

/**
 * Places on a grid of half their side. A place is flat where the means of its quarters, margin and all, agree.
 *
 * @param light premultiplied RGBA of the window
 */
export function flatPlaces(
  light: Float32Array,
  { x: left, y: top, width, height }: Window,
  { side, margin, noise, shading }: FlatPlacesOptions,
): FlatPlace[] {
  const tables = [0, 1, 2, 3].map((channel) => summedArea(light, channel, width, height))
  const whole = side + 2 * margin
  const quarter = whole >> 1
  const quarters = [
    [0, 0],
    [whole - quarter, 0],
    [0, whole - quarter],
    [whole - quarter, whole - quarter],
  ] as const
  const found: FlatPlace[] = []
  for (let y = 0; y + whole <= height; y += side >> 1)
    for (let x = 0; x + whole <= width; x += side >> 1) {
      const around = { x, y, width: whole, height: whole }
      const coverage = sumOver(tables[3], width, around) / (whole * whole)
      if (coverage < covered) continue
      const flat = [0, 1, 2].every((c) => {
        const means = quarters.map(
          ([dx, dy]) =>
            sumOver(tables[c], width, { x: x + dx, y: y + dy, width: quarter, height: quarter }) / (quarter * quarter),
        )
        const [least, most] = [Math.min(...means), Math.max(...means)]
        const error = (noise[c] * Math.sqrt(pixelsOfAGrain)) / quarter
        return most - least <= byNoise * error + shading * (Math.max(0, (least + most) / 2) + darkLight)
      })
      if (!flat) continue
      const inner = { x: x + margin, y: y + margin, width: side, height: side }
      const cover = sumOver(tables[3], width, inner)
      found.push({
        ...{ x: left + inner.x, y: top + inner.y, width: side, height: side },
        light: [0, 1, 2].map((c) => sumOver(tables[c], width, inner) / cover) as unknown as Rgb,
      })
    }
  return found
}

const sum = ([r, g, b]: Rgb) => r + g + b

/** The darkest that do not overlap. Those with nothing in them at all are no places of the picture. */
export function darkestOf(places: readonly FlatPlace[], most: number): FlatPlace[] {
  return chosen(
    [...places].sort((a, b) => sum(a.light) - sum(b.light)),
    most,
  )
}

export interface LikePlaces {
  readonly reference: FlatPlace
  readonly adjusted: FlatPlace
  /** distance in the logarithm of light */
  readonly apart: number
}

/** Pairs whose light is most alike; no place is in two of them. */
export function likest(
  references: readonly FlatPlace[],
  adjusted: readonly FlatPlace[],
  { least, most }: { readonly least: number; readonly most: number },
): LikePlaces[] {
  const lit = (places: readonly FlatPlace[]) =>
    places.filter(({ light }) => sum(light) >= least).map((place) => ({ place, at: place.light.map(logOf) }))
  const [plate, element] = [lit(references), lit(adjusted)]
  const pairs = element.map(({ place, at }): LikePlaces | null => {
    let nearest = Infinity
    let best: FlatPlace | null = null
    for (const one of plate) {
      const r = one.at[0] - at[0]
      const g = one.at[1] - at[1]
      const b = one.at[2] - at[2]
      const squares = r * r + g * g + b * b
      if (squares >= nearest) continue
      nearest = squares
      best = one.place
    }
    return best && { reference: best, adjusted: place, apart: Math.sqrt(nearest) }
  })
  const sorted = pairs.flatMap((one) => one ?? []).sort((a, b) => a.apart - b.apart)
  const kept: LikePlaces[] = []
  for (const pair of sorted) {
    if (kept.length === most) break
    const free = kept.every((one) => !overlap(one.reference, pair.reference) && !overlap(one.adjusted, pair.adjusted))
    if (free) kept.push(pair)
  }
  return kept
}

const logOf = (light: number) => Math.log(Math.max(0, light) + darkLight)

function chosen(places: readonly FlatPlace[], most: number): FlatPlace[] {
  const kept: FlatPlace[] = []
  for (const place of places) {
    if (kept.length === most) break
    if (!kept.some((one) => overlap(one, place))) kept.push(place)
  }
  return kept
}
