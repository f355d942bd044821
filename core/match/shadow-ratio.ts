/** What light a shadow leaves, from the same ground in the light and in its shadow. */

import type { Sure } from './propose'
import type { Rgb, SideReading } from './side-reading'
import { ninetyPercent } from './students-t'
import { darkLight, usualTau } from './unlikeness'
import { unlikeOfSame } from './pair'

export interface ShadowRatio {
  readonly ratio: readonly [Sure, Sure, Sure]
}

const channels = [0, 1, 2] as const
/** As many as stand behind how unlike ground is. */
export const freedomOfShadow = 20

/**
 * `(shadowed - veil) / (lit - veil)`, with the interval of Fieller (1954): both are noisy, and the veil is in both of them.
 *
 * @param veil light that the shadow cannot take away, with the standard error of it
 * @returns half the length of the 90 % interval as its bar; null where the light is not told from the veil, so that any ratio may be
 */
export function shadowRatio(
  lit: SideReading,
  shadowed: SideReading,
  veil: { readonly light: Rgb; readonly error: Rgb },
): ShadowRatio | null {
  const each = channels.map((c) => {
    const apart = (light: number) => (unlikeOfSame * usualTau * (Math.max(0, light) + darkLight)) ** 2
    const common = veil.error[c] ** 2
    const top = shadowed.light[c] - veil.light[c]
    const below = lit.light[c] - veil.light[c]
    const [topVariance, belowVariance] = [shadowed, lit].map(
      ({ light, error }) => error[c] ** 2 + apart(light[c]) + common,
    )
    const reach = ninetyPercent(freedomOfShadow) ** 2
    const a = below * below - reach * belowVariance
    if (!(below > 0) || !(a > 0)) return null
    const b = top * below - reach * common
    const root = b * b - a * (top * top - reach * topVariance)
    if (!(root >= 0)) return null
    const half = Math.sqrt(root) / a
    const value = top / below
    // The interval lies about another middle than the ratio: its farther end counts.
    return { value, bar: half + Math.abs(b / a - value) }
  })
  const [r, g, b] = each
  return r && g && b ? { ratio: [r, g, b] } : null
}
