/** Whites by their temperature, and light brought from one white to another. */

import type { Rgb } from '../kernels/colour-program'
import {
  adaptation,
  invert,
  multiply,
  primaries,
  transform,
  xyzFromRgb,
  type Chromaticity,
  type Matrix,
  type PrimariesName,
} from './primaries'

export const loci = ['daylight', 'planckian'] as const
export type Locus = (typeof loci)[number]

/** Daylight has no colour below. */
export const leastDaylight = 4000

/**
 * The chromaticity of a white.
 *
 * Daylight: CIE 15:2004, 3.1 (with c2 as it was when the locus was drawn, D65 is at 6504 K). Planckian: Krystek (1985), within
 * 1e-4 of Planck's law in u and v from 1,000 to 15,000 K.
 *
 * @param kelvin 1,000 to 25,000; daylight below 4,000 is taken from the Planckian locus
 */
export function whiteOf(kelvin: number, locus: Locus): Chromaticity {
  if (locus === 'daylight' && kelvin >= leastDaylight) {
    const t = 1000 / kelvin
    const x =
      kelvin <= 7000
        ? 0.244063 + t * (0.09911 + t * (2.9678 - t * 4.607))
        : 0.23704 + t * (0.24748 + t * (1.9018 - t * 2.0064))
    return [x, -3 * x * x + 2.87 * x - 0.275]
  }
  const t = kelvin
  const u = (0.860117757 + 1.54118254e-4 * t + 1.28641212e-7 * t * t) / (1 + 8.42420235e-4 * t + 7.08145163e-7 * t * t)
  const v = (0.317398726 + 4.22806245e-5 * t + 4.20481691e-8 * t * t) / (1 - 2.89741816e-5 * t + 1.61456053e-7 * t * t)
  const over = 2 * u - 8 * v + 4
  return [(3 * u) / over, (2 * v) / over]
}

/** The white that a colour of light has. @returns null where it has none: black, or beyond what is visible */
export function chromaticityOf(light: Rgb, working: PrimariesName): Chromaticity | null {
  const [x, y, z] = transform(xyzFromRgb(primaries[working]), light)
  const sum = x + y + z
  return sum > 0 && y > 0 && x >= 0 && z >= 0 ? [x / sum, y / sum] : null
}

/** Light of a working space, from one white to another by Bradford's adaptation. */
export function whiteMatrix(from: Chromaticity, to: Chromaticity, working: PrimariesName): Matrix {
  const xyz = xyzFromRgb(primaries[working])
  return multiply(invert(xyz), multiply(adaptation(from, to), xyz))
}
