/**
 * How a picture of unknown encoding is most likely encoded: every candidate decodes it, and what comes out is judged beside a
 * source that is trusted, by a patch that is known to be grey, and by what light on a set is like.
 */

import { decoder, encodingNames, type EncodingName } from '../colour'
import { ascending, quantile, type PixelSample } from './sample'

export interface Candidate {
  readonly encoding: EncodingName
  /** the smaller the more plausible; stops, roughly */
  readonly cost: number
  /** how far its brightnesses are from the trusted source's, in stops; null without one */
  readonly besideTrusted: number | null
  /** how far the patch is from 0.18, in stops; null without one */
  readonly greyOff: number | null
  /** how far its middle, its range and its black are from what light on a set is like, in stops */
  readonly unusual: number
  /** scene-linear, 1st, 50th and 99th percentile of brightness */
  readonly black: number
  readonly middle: number
  readonly white: number
}

export interface Evidence {
  /** of a source whose claims are trusted, decoded: scene-linear */
  readonly trusted?: PixelSample
  /** code values of a patch that was mid grey in front of the camera */
  readonly grey?: readonly [number, number, number]
}

/** Light below this is noise and veil: brightnesses are compared as if it were added. */
const floor = 0.004
/** Quantiles that are compared: the outermost are dust and lamps. */
const shares = Array.from({ length: 33 }, (_, i) => 0.02 + (0.96 * i) / 32)
/** What is unusual counts so much beside what is measured. */
const priorWeight = 0.05

const stops = (light: number) => Math.log2(Math.max(0, light) + floor)

function brightnesses({ red, green, blue, count }: PixelSample, light: (code: number) => number): Float64Array {
  const sums = new Float64Array(count)
  for (let i = 0; i < count; i++) sums[i] = (light(red[i]) + 2 * light(green[i]) + light(blue[i])) / 4
  return ascending(sums.filter(Number.isFinite))
}

/** @returns the root of the mean square of the differences of the quantiles, in stops */
function distance(a: Float64Array, b: Float64Array): number {
  const sum = shares.reduce((total, share) => total + (stops(quantile(a, share)) - stops(quantile(b, share))) ** 2, 0)
  return Math.sqrt(sum / shares.length)
}

const beyond = (value: number, least: number, most: number) => Math.max(0, least - value, value - most)

/**
 * Pictures of sets: their middle lies within two and a half stops of 0.1, from their dark tenth to their bright tenth it is
 * two to nine stops, black is near nothing, and hardly anything is below it.
 */
function unusualness(sorted: Float64Array): number {
  const middle = stops(quantile(sorted, 0.5))
  const range = stops(quantile(sorted, 0.95)) - stops(quantile(sorted, 0.05))
  const black = quantile(sorted, 0.01)
  const below = sorted.findIndex((v) => v > -0.005) / Math.max(1, sorted.length)
  return (
    beyond(middle, stops(0.1) - 2.5, stops(0.1) + 1.5) +
    beyond(range, 3, 8) +
    8 * beyond(black, -0.01, 0.06) +
    (below > 0 ? 4 * below : 0) +
    0.15 * Math.abs(middle - stops(0.1))
  )
}

/** @returns every encoding, the most plausible first */
export function rankEncodings(sample: PixelSample, { trusted, grey }: Evidence = {}): Candidate[] {
  const reference = trusted && brightnesses(trusted, (light) => light)
  return encodingNames
    .map((encoding): Candidate => {
      const light = decoder(encoding)
      const sorted = brightnesses(sample, light)
      const unusual = unusualness(sorted)
      const besideTrusted = reference ? distance(sorted, reference) : null
      const patch = grey && (light(grey[0]) + 2 * light(grey[1]) + light(grey[2])) / 4
      const greyOff = patch === undefined ? null : Math.abs(stops(patch) - stops(0.18))
      const measured = [besideTrusted, greyOff].filter((value) => value !== null)
      const cost = measured.length === 0 ? unusual : Math.hypot(...measured) + priorWeight * unusual
      return {
        encoding,
        cost: Number.isFinite(cost) ? cost : Infinity,
        besideTrusted,
        greyOff,
        unusual,
        black: quantile(sorted, 0.01),
        middle: quantile(sorted, 0.5),
        white: quantile(sorted, 0.99),
      }
    })
    .sort((a, b) => a.cost - b.cost)
}
