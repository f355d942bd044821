/** What is read of one side of a witness on a frame. */

import { pixelCount } from '../image/window'
import type { EdgeSpread } from '../measure/edge-spread'
import type { GrainLevel } from '../measure/grain-level'
import type { WindowReading } from '../measure/window-statistics'

export type Rgb = readonly [number, number, number]

export const rgbOf = (of: (channel: number) => number): Rgb => [of(0), of(1), of(2)]

export interface Ratio {
  readonly ratio: Rgb
  /** standard error */
  readonly error: Rgb
}

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
  /** so many frames tell it together; absent: this one alone */
  readonly over?: number
  /** of the edge in it, where it was read for sharpness and there is one */
  readonly edge?: EdgeSpread | null
  /** what is left of the light in a shadow, where it was read for that */
  readonly shadow?: Ratio | null
  /** how far what is in it lies from where it was on the frame that it was drawn on, in pixels, where it was read for that */
  readonly moved?: { readonly x: number; readonly y: number; readonly error: number } | null
  /** how strong its grain is, where it was read for that and can be told */
  readonly grain?: GrainLevel | null
  /** its light beside that of the frame before, where it was read for that */
  readonly change?: Ratio | null
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
