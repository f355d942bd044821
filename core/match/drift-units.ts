/** The drift of a witness in other units than light: in stops, and as a difference of colours. */

import { differenceOf, labOf, matrixBetween, primaries, transform, workingSpaces, type WorkingSpace } from '../colour'
import type { Rgb, SideReading } from './side-reading'

export interface DriftUnits {
  /** log2 of the element's light over the plate's, of each channel; NaN where one of them has none */
  readonly stops: Rgb
  /** dE2000 through one fixed view: sRGB's primaries and white, whatever the picture is seen through */
  readonly difference: number
}

/** @param space in which both sides were read */
export function driftUnits(reference: SideReading, adjusted: SideReading, space: WorkingSpace): DriftUnits {
  const stops = [0, 1, 2].map((c) => {
    const [plate, element] = [reference.light[c], adjusted.light[c]]
    return plate > 0 && element > 0 ? Math.log2(element / plate) : NaN
  }) as unknown as Rgb
  const toView = matrixBetween(primaries[workingSpaces[space]], primaries.rec709)
  const [plate, element] = [reference, adjusted].map(({ light }) => labOf(...transform(toView, light)))
  return { stops, difference: differenceOf(plate, element) }
}
