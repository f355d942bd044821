/** What a witness reads on one frame, and whether its sides agree. */

import { purposes, type WitnessPurpose } from './purposes'
import { leastCoverage, type Rgb, type SideReading } from './side-reading'
import { threeErrors } from './students-t'

export type Verdict = 'agrees' | 'drifts' | 'not judged'

export interface Judged {
  readonly verdict: Verdict
  /**
   * Adjusted less reference, in the unit and parts of its purpose.
   */
  readonly drift: Rgb
  readonly error: Rgb
  readonly tolerance: Rgb
  /** so many frames tell the reference side together; absent: this one alone */
  readonly over?: number
  /** why it is not judged */
  readonly why?: string
}

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
  const { covered, compare, usual, nothing: bare, tooNoisy } = purposes[purpose]
  if (covered && adjusted.coverage < leastCoverage) return not('the element does not cover its region')
  const of = compare(reference, adjusted)
  if (!of) return not(bare)
  const limits: Rgb = tolerance === undefined ? usual(reference) : [tolerance, tolerance, tolerance]
  // The noisier side's error counts, and how well that is known.
  const noisier = Math.max(...reference.error) >= Math.max(...adjusted.error) ? reference : adjusted
  const wider = purposes[purpose].unit === 'pixels' ? 1 : threeErrors(noisier.freedom ?? Infinity) / 3
  const surely = (test: (drift: number, error: number, limit: number) => boolean) =>
    of.drift.map((drift, c) => test(Math.abs(drift), wider * of.error[c], limits[c]))
  const beyond = surely((drift, error, limit) => drift - 3 * error > limit).some(Boolean)
  const within = surely((drift, error, limit) => drift + 2 * error < limit).every(Boolean)
  const verdict = beyond ? 'drifts' : within ? 'agrees' : 'not judged'
  const over = reference.over === undefined ? {} : { over: reference.over }
  return { ...of, tolerance: limits, verdict, ...over, ...(verdict === 'not judged' ? { why: tooNoisy } : {}) }
}
