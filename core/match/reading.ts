/** What a witness reads on one frame: both sides' light, how sure that is, and whether they agree. */

import { pixelCount } from '../image/window'
import type { EdgeSpread } from '../measure/edge-spread'
import { threeErrors } from './students-t'
import type { WindowReading } from '../measure/window-statistics'

/**
 * What a pair is compared for: the darkest light, light between, the brightest; the ratios of the channels alone; or how soft
 * an edge is that lies in each region.
 */
export const witnessPurposes = ['black', 'mid', 'white', 'colour', 'sharpness'] as const
export type WitnessPurpose = (typeof witnessPurposes)[number]

export type Rgb = readonly [number, number, number]

/** One side of a witness on a frame. */
export interface SideReading {
  /** scene-linear; of an element straight: its light over its coverage */
  readonly light: Rgb
  /** standard error of that mean by noise */
  readonly error: Rgb
  /** mean alpha */
  readonly coverage: number
  /** of how many degrees of freedom the error is an estimate: small regions tell their own noise badly; absent: many */
  readonly freedom?: number
  /** of the edge in it, where it was read for sharpness and there is one */
  readonly edge?: EdgeSpread | null
}

/** Grain has a size: so many pixels beside each other say no more than one. */
const pixelsOfAGrain = 4
/** The noise is a median, which is worth so many of its values. */
const efficiencyOfMedian = 0.37
/** Below this a side does not cover its region: what is read is not its light alone. */
export const leastCoverage = 0.98

/**
 * @param reading of premultiplied light, with its noise
 * @returns null where nothing in it is a number, or it has no coverage at all
 */
export function readSide({ window, moments, noise }: WindowReading): SideReading | null {
  const coverage = moments[3].mean
  if (!noise || moments.slice(0, 3).some(({ count }) => count === 0) || !(coverage > 0)) return null
  const independent = Math.max(1, pixelCount(window) / pixelsOfAGrain)
  return {
    light: [0, 1, 2].map((c) => moments[c].mean / coverage) as unknown as Rgb,
    error: noise.slice(0, 3).map((sigma) => sigma / Math.sqrt(independent) / coverage) as unknown as Rgb,
    coverage,
    freedom: Math.max(1, efficiencyOfMedian * (window.width - 2) * (window.height - 2)),
  }
}

export type Verdict = 'agrees' | 'drifts' | 'not judged'

export interface Judged {
  readonly verdict: Verdict
  /**
   * Adjusted less reference; of a witness for colour the channels' ratios to the middle one, as shares; of one for sharpness
   * sigma in pixels, the same three times.
   */
  readonly drift: Rgb
  readonly error: Rgb
  readonly tolerance: Rgb
  /** why it is not judged */
  readonly why?: string
}

const usualBlack = 0.002
const usualShare = 0.05
const usualRatio = 0.02
/** A camera's blur is no Gaussian: the same softness gives edges of unlike contrast sigmas that differ by about a tenth. */
const usualSigma = 0.25
/** Edges of things are not quite straight, whatever the noise. */
const leastEdgeError = 0.03

/** What was read of both sides; `why` says what kept it from being read. */
export interface Read {
  readonly reference: SideReading | null
  readonly adjusted: SideReading | null
  readonly why?: string
}

/** It drifts where it is surely beyond the tolerance, agrees where it is surely within, else it is not judged. */
export function judged(
  { purpose, tolerance }: { readonly purpose: WitnessPurpose; readonly tolerance?: number },
  { reference, adjusted, why: kept }: Read,
): Judged {
  const nothing = { drift: [NaN, NaN, NaN], error: [NaN, NaN, NaN], tolerance: [NaN, NaN, NaN] } as const
  const not = (why: string): Judged => ({ ...nothing, verdict: 'not judged', why })
  if (kept !== undefined) return not(kept)
  if (!reference) return not('nothing of the plate is there')
  if (!adjusted) return not('the element is not there')
  if (reference.coverage < leastCoverage) return not('the plate does not reach all of its region')
  if (purpose !== 'sharpness' && adjusted.coverage < leastCoverage) return not('the element does not cover its region')
  const of =
    purpose === 'sharpness'
      ? ofEdges(reference, adjusted)
      : purpose === 'colour'
        ? ofColour(reference, adjusted)
        : ofLight(reference, adjusted)
  if (!of)
    return not(
      purpose === 'sharpness' ? 'one of its regions holds no single edge' : 'there is no light to compare colours of',
    )
  const usual: Rgb =
    purpose === 'sharpness'
      ? [usualSigma, usualSigma, usualSigma]
      : purpose === 'colour'
        ? [usualRatio, usualRatio, usualRatio]
        : (reference.light.map((light) => Math.max(usualBlack, usualShare * Math.abs(light))) as unknown as Rgb)
  const limits: Rgb = tolerance === undefined ? usual : [tolerance, tolerance, tolerance]
  // The noisier side's error counts, and how well that is known.
  const noisier = Math.max(...reference.error) >= Math.max(...adjusted.error) ? reference : adjusted
  const wider = purpose === 'sharpness' ? 1 : threeErrors(noisier.freedom ?? Infinity) / 3
  const surely = (test: (drift: number, error: number, limit: number) => boolean) =>
    of.drift.map((drift, c) => test(Math.abs(drift), wider * of.error[c], limits[c]))
  const beyond = surely((drift, error, limit) => drift - 3 * error > limit).some(Boolean)
  const within = surely((drift, error, limit) => drift + 2 * error < limit).every(Boolean)
  const verdict = beyond ? 'drifts' : within ? 'agrees' : 'not judged'
  const why =
    verdict === 'not judged'
      ? {
          why:
            purpose === 'sharpness'
              ? 'the edge there is too faint for its noise: choose a stronger one'
              : 'the plate is too noisy there: choose a larger region',
        }
      : {}
  return { ...of, tolerance: limits, verdict, ...why }
}

function ofEdges({ edge: plate }: SideReading, { edge: element }: SideReading) {
  if (!plate || !element) return null
  const [drift, error] = [element.sigma - plate.sigma, Math.hypot(element.error, plate.error, leastEdgeError)]
  return { drift: [drift, drift, drift] as const, error: [error, error, error] as const }
}

function ofLight(reference: SideReading, adjusted: SideReading) {
  const both = (c: number) => Math.hypot(reference.error[c], adjusted.error[c])
  return {
    drift: [0, 1, 2].map((c) => adjusted.light[c] - reference.light[c]) as unknown as Rgb,
    error: [both(0), both(1), both(2)] as const,
  }
}

/** Red to green and blue to green beside the plate's, as shares; green itself is the measure. */
function ofColour(reference: SideReading, adjusted: SideReading) {
  if ([...reference.light, ...adjusted.light].some((light) => light <= 0)) return null
  const ratio = (c: number) => adjusted.light[c] / adjusted.light[1] / (reference.light[c] / reference.light[1]) - 1
  const share = ({ light, error }: SideReading, c: number) => Math.hypot(error[c] / light[c], error[1] / light[1])
  const error = (c: number) => (c === 1 ? 0 : Math.hypot(share(reference, c), share(adjusted, c)))
  return { drift: [ratio(0), 0, ratio(2)] as const, error: [error(0), 0, error(2)] as const }
}
