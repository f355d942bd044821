/** What a picture holds, told from its pixels: by this a file is known whatever it is called. */

import type { Planes } from '../image/planes'
import { contains } from '../image/window'
import { ascending, quantile, valuesOf } from '../measure/sample'

/**
 * - `picture`: light everywhere
 * - `cut-out`: light with coverage
 * - `light`: light on nothing, without coverage of its own
 * - `matte`: one value, from 0 to 1
 * - `depth`: one value, far beyond 1
 * - `map`: two values that lead across and down, as shares of the frame or as pixels
 */
export type Holds = 'picture' | 'cut-out' | 'light' | 'matte' | 'depth' | 'map'

/** Places that are looked at. */
const mostPlaces = 10_000
/** Values this near to each other are the same. */
const same = 1e-3
/** Of a depth, one value in a hundred lies beyond this. */
const beyondCoverage = 1.5
/** A matte in three channels is nothing or everything nearly everywhere; a grey photograph is not. */
const extremeShare = 0.6
/** Light on nothing: so much of the frame is exactly 0 that no camera made it. */
const emptyShare = 0.5
/** A map's values lie this well on a straight line across or down. */
const leadingLeast = 0.99

/** @param planes of one part, by the names of their channels; not numbers count as 0 */
export function whatItHolds(planes: Planes): Holds {
  const named = new Map(planes.planes.map((plane) => [plane.name, plane]))
  const colours = ['R', 'G', 'B'].filter((name) => named.has(name))
  if (colours.length === 3) {
    const places = placesOf(planes, [...colours, ...(named.has('A') ? ['A'] : [])])
    if (!named.has('A')) return holdsOfColours(places)
    const alpha = places.values[3]
    // What is opaque in a part of the frame only is cut out by its data window.
    if (alpha.every((a) => a > 1 - same))
      return contains(planes.dataWindow, planes.displayWindow) ? 'picture' : 'cut-out'
    return alpha.some((a) => a > same) ? 'cut-out' : 'light'
  }
  if (planes.planes.length === 2) return 'map'
  const [single] = planes.planes
  if (single.name === 'Z') return 'depth'
  const places = placesOf(planes, [single.name])
  return quantile(ascending(places.values[0]), 0.99) > beyondCoverage ? 'depth' : 'matte'
}

interface Places {
  /** of each place, from the middle of the picture, in pixels */
  readonly across: Float64Array
  readonly down: Float64Array
  /** of each channel, at each place */
  readonly values: readonly Float64Array[]
}

function placesOf({ dataWindow: { width, height }, planes }: Planes, names: readonly string[]): Places {
  const step = Math.max(1, Math.ceil(Math.sqrt((width * height) / mostPlaces)))
  const indices: number[] = []
  for (let y = 0; y < height; y += step) for (let x = 0; x < width; x += step) indices.push(y * width + x)
  return {
    across: Float64Array.from(indices, (i) => (i % width) - width / 2),
    down: Float64Array.from(indices, (i) => Math.floor(i / width) - height / 2),
    values: names.map((name) => {
      const plane = planes.find((one) => one.name === name)
      const value = plane ? valuesOf(plane) : () => 0
      return Float64Array.from(indices, (i) => value(i) || 0)
    }),
  }
}

function holdsOfColours({ across, down, values: [red, green, blue] }: Places): Holds {
  const count = red.length
  const grey = red.every((r, i) => Math.abs(r - green[i]) <= same && Math.abs(r - blue[i]) <= same)
  const extreme = red.reduce((sum, r) => sum + (r <= same || Math.abs(r - 1) <= same ? 1 : 0), 0)
  if (grey && extreme > extremeShare * count) return 'matte'
  const leads = (values: Float64Array, along: Float64Array) => Math.abs(correlation(values, along)) > leadingLeast
  if (leads(red, across) && leads(green, down) && !leads(red, down) && !leads(blue, across)) return 'map'
  const empty = red.reduce((sum, r, i) => sum + (r === 0 && green[i] === 0 && blue[i] === 0 ? 1 : 0), 0)
  return empty > emptyShare * count ? 'light' : 'picture'
}

function correlation(a: Float64Array, b: Float64Array): number {
  const mean = (values: Float64Array) => values.reduce((sum, value) => sum + value, 0) / values.length
  const [meanA, meanB] = [mean(a), mean(b)]
  let [ab, aa, bb] = [0, 0, 0]
  for (let i = 0; i < a.length; i++) {
    const [p, q] = [a[i] - meanA, b[i] - meanB]
    ab += p * q
    aa += p * p
    bb += q * q
  }
  return aa > 0 && bb > 0 ? ab / Math.sqrt(aa * bb) : 0
}
