/**
 * What is measured of a small window of light: moments, percentiles, histogram, autocorrelation, gradients by octave.
 *
 * Of premultiplied scene-linear RGBA, each channel for itself, alpha as the fourth. What is no number is counted and left
 * out. Sums are of doubles, in the order of the rows, so that they are the same wherever they are made.
 */

import { pixelCount, type Window } from '../image/window'
import { noiseLevel } from './noise-level'
import { quantile } from './sample'

/** Red, green, blue, alpha. */
export type PerChannel<T> = readonly [T, T, T, T]

export interface Moments {
  /** pixels that are numbers, and that are none */
  readonly count: number
  readonly notNumbers: number
  readonly mean: number
  /** unbiased; 0 of fewer than two pixels */
  readonly variance: number
  /** standard error of the variance, for any distribution: sqrt((m4 - s^4 (n - 3) / (n - 1)) / n) (Kenney and Keeping 1951, 7.8) */
  readonly varianceError: number
}

export interface Histogram {
  /** pixels in each bin; what lies outside is counted at its end */
  readonly bins: readonly number[]
  readonly below: number
  readonly above: number
}

/** What is wanted of a window, besides its moments. */
export interface Wanted {
  /** shares, 0 to 1 */
  readonly percentiles?: readonly number[]
  readonly histogram?: { readonly bins: number; readonly least: number; readonly most: number }
  readonly autocorrelation?: boolean
  readonly gradients?: boolean
  readonly noise?: boolean
}

export interface WindowReading {
  readonly window: Window
  readonly moments: PerChannel<Moments>
  /** between two values their mean by distance; NaN where nothing is a number */
  readonly percentiles?: PerChannel<readonly number[]>
  readonly histogram?: PerChannel<Histogram>
  /** of lag (x, y) at `[y][x + 4]`, x from -4 to 4, y from 0 to 4; 1 at (0, 0), 0 where nothing varies */
  readonly autocorrelation?: PerChannel<readonly (readonly number[])[]>
  /** mean of the squared differences of neighbours across and down, of the picture and of its halves, quarters, ... */
  readonly gradients?: PerChannel<readonly number[]>
  /** standard deviation of the noise, whatever shading and edges there are (`noiseLevel`) */
  readonly noise?: PerChannel<number>
}

export const mostLag = 4
const mostOctaves = 5
/** An octave of fewer pixels a side says nothing. */
const leastSide = 4

/** @param light RGBA of the window, row by row */
export function measureWindow(light: Float32Array, window: Window, wanted: Wanted = {}): WindowReading {
  const planes = [0, 1, 2, 3].map((channel) => planeOf(light, channel, pixelCount(window)))
  const each = <T>(measure: (plane: Float64Array, channel: number) => T) =>
    planes.map(measure) as unknown as PerChannel<T>
  const moments = each(momentsOf)
  const { percentiles, histogram, autocorrelation, gradients, noise } = wanted
  return {
    window,
    moments,
    ...(percentiles ? { percentiles: each((plane) => percentilesOf(plane, percentiles)) } : {}),
    ...(histogram ? { histogram: each((plane) => histogramOf(plane, histogram)) } : {}),
    ...(autocorrelation
      ? { autocorrelation: each((plane, c) => autocorrelationOf(plane, window, moments[c].mean)) }
      : {}),
    ...(gradients ? { gradients: each((plane) => gradientsOf(plane, window)) } : {}),
    ...(noise ? { noise: each((plane) => noiseLevel(plane, window)) } : {}),
  }
}

function planeOf(light: Float32Array, channel: number, count: number): Float64Array {
  const plane = new Float64Array(count)
  for (let i = 0, at = channel; i < count; i++, at += 4) plane[i] = light[at]
  return plane
}

function momentsOf(plane: Float64Array): Moments {
  let [count, sum] = [0, 0]
  for (const value of plane)
    if (Number.isFinite(value)) {
      sum += value
      count++
    }
  const mean = count > 0 ? sum / count : NaN
  let [second, fourth] = [0, 0]
  for (const value of plane)
    if (Number.isFinite(value)) {
      const square = (value - mean) * (value - mean)
      second += square
      fourth += square * square
    }
  const variance = count > 1 ? second / (count - 1) : 0
  const spread = count > 1 ? fourth / count - (variance * variance * (count - 3)) / (count - 1) : 0
  const varianceError = count > 1 ? Math.sqrt(Math.max(0, spread) / count) : Infinity
  return { count, notNumbers: plane.length - count, mean, variance, varianceError }
}

function percentilesOf(plane: Float64Array, shares: readonly number[]): number[] {
  const sorted = plane.filter((value) => Number.isFinite(value)).sort()
  return shares.map((share) => quantile(sorted, share))
}

function histogramOf(plane: Float64Array, { bins: count, least, most }: NonNullable<Wanted['histogram']>): Histogram {
  const bins = Array<number>(count).fill(0)
  let [below, above] = [0, 0]
  for (const value of plane) {
    if (!Number.isFinite(value)) continue
    const bin = Math.floor(((value - least) / (most - least)) * count)
    if (value < least) below++
    else if (value > most) above++
    // The last bin holds its upper end.
    else bins[Math.min(count - 1, bin)]++
  }
  return { bins, below, above }
}

function autocorrelationOf(plane: Float64Array, { width, height }: Window, mean: number): number[][] {
  const covariance = (dx: number, dy: number) => {
    let [sum, pairs] = [0, 0]
    for (let y = 0; y + dy < height; y++)
      for (let x = Math.max(0, -dx); x < Math.min(width, width - dx); x++) {
        const product = (plane[y * width + x] - mean) * (plane[(y + dy) * width + x + dx] - mean)
        if (!Number.isFinite(product)) continue
        sum += product
        pairs++
      }
    return pairs > 0 ? sum / pairs : 0
  }
  const own = covariance(0, 0)
  return Array.from({ length: mostLag + 1 }, (_, dy) =>
    Array.from({ length: 2 * mostLag + 1 }, (_unused, i) => (own > 0 ? covariance(i - mostLag, dy) / own : 0)),
  )
}

function gradientsOf(plane: Float64Array, { width, height }: Window): number[] {
  const octaves: number[] = []
  let [present, across, down] = [plane, width, height]
  while (octaves.length < mostOctaves && across >= leastSide && down >= leastSide) {
    octaves.push(meanSquaredDifference(present, across, down))
    present = halved(present, across, down)
    across >>= 1
    down >>= 1
  }
  return octaves
}

function meanSquaredDifference(plane: Float64Array, width: number, height: number): number {
  let [sum, count] = [0, 0]
  for (let y = 0; y + 1 < height; y++)
    for (let x = 0; x + 1 < width; x++) {
      const at = y * width + x
      const right = plane[at + 1] - plane[at]
      const below = plane[at + width] - plane[at]
      const square = right * right + below * below
      if (!Number.isFinite(square)) continue
      sum += square
      count++
    }
  return count > 0 ? sum / count : 0
}

/** Means of two by two; a last odd row or column is left out. */
function halved(plane: Float64Array, width: number, height: number): Float64Array {
  const [across, down] = [width >> 1, height >> 1]
  const out = new Float64Array(across * down)
  for (let y = 0, o = 0; y < down; y++)
    for (let x = 0; x < across; x++, o++) {
      const at = 2 * y * width + 2 * x
      out[o] = (plane[at] + plane[at + 1] + plane[at + width] + plane[at + width + 1]) / 4
    }
  return out
}
