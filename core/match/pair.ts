/** A pair as it is read, and as it is fitted. */

import type { PairOfReadings } from './fit-line'
import type { WitnessPurpose } from './purposes'
import type { SideReading } from './side-reading'

/** A witness's two sides, the adjusted one as it is without veil and gain. */
export interface PairRead {
  readonly name: string
  readonly purpose: WitnessPurpose
  readonly reference: SideReading
  readonly adjusted: SideReading
  /** as `PairOfReadings` has it */
  readonly unlike?: number
}

/** The same object, photographed and rendered, is unlike by so much of what two materials that look alike are. */
export const unlikeOfSame = 0.2

/** How unlike both sides of a witness may be: on a reference object they are the same thing. */
export const unlikeOf = ({ on }: { readonly on?: string }): number => (on === undefined ? 1 : unlikeOfSame)

export const pairOf = ({ adjusted, reference, unlike }: PairRead, c: number): PairOfReadings => ({
  unlike,
  adjusted: adjusted.light[c],
  reference: reference.light[c],
  adjustedVariance: adjusted.error[c] ** 2,
  referenceVariance: reference.error[c] ** 2,
})
