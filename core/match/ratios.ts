/** Ratios of two readings: light in a shadow beside light out of it, and light beside that of another frame. */

import { freedomOfShadow, shadowRatio } from './shadow-ratio'
import { rgbOf, type Ratio, type Rgb, type SideReading } from './side-reading'
import { ninetyPercent } from './students-t'

/**
 * What is left of the plate's light where a shadow is laid on it: both are of the same pixels, so that their noise is the same and
 * mostly falls out.
 *
 * @param veil light that no shadow takes away
 * @returns null where there is no light beyond the veil
 */
export function madeShadow(shadowed: SideReading, lit: SideReading, veil: Rgb): Ratio | null {
  const beyond = rgbOf((c) => lit.light[c] - veil[c])
  // Less than four errors of light is none to divide by.
  if (beyond.some((one, c) => !(one > 4 * lit.error[c]))) return null
  const ratio = rgbOf((c) => (shadowed.light[c] - veil[c]) / beyond[c])
  return { ratio, error: rgbOf((c) => Math.abs(shadowed.error[c] - ratio[c] * lit.error[c]) / beyond[c]) }
}

/** What a shadow of the plate's own leaves: ground in it beside ground in the light, which may differ. @returns null likewise */
export function ownShadow(shadowed: SideReading, lit: SideReading, veil: Rgb): Ratio | null {
  const found = shadowRatio(lit, shadowed, { light: veil, error: [0, 0, 0] })
  if (!found) return null
  return {
    ratio: rgbOf((c) => found.ratio[c].value),
    error: rgbOf((c) => found.ratio[c].bar / ninetyPercent(freedomOfShadow)),
  }
}

/** Light over that of another frame, and the error as a share of it. @returns null where one of them has none */
export function changeOf(now: SideReading, before: SideReading): Ratio | null {
  if ([...now.light, ...before.light].some((one) => !(one > 0))) return null
  return {
    ratio: rgbOf((c) => now.light[c] / before.light[c]),
    error: rgbOf((c) => Math.hypot(now.error[c] / now.light[c], before.error[c] / before.light[c])),
  }
}

/** A shadow that takes away less is no place to tell its ratio by. */
const leastTaken = 0.05

/** Whether some ratio of the shadow would leave what the plate's own leaves, as far as both are told. */
export function couldAgree(own: Ratio, made: Ratio, present: Rgb): boolean {
  return own.ratio.every((leaves, c) => {
    const takes = (1 - made.ratio[c]) / (1 - present[c])
    return !Number.isFinite(takes) || leaves + 2 * Math.hypot(own.error[c], made.error[c]) >= 1 - takes
  })
}

/**
 * The ratio by which a shadow would leave what the plate's own leaves, where it leaves something else now: it takes away
 * `m (1 - ratio)`, m being how much of it falls there.
 *
 * @param present ratio that it has
 * @returns with the error; a channel in which next to nothing of the shadow falls there keeps its ratio (its error is 0): a lamp's
 * shadow may be of one colour alone. Null where none of it falls there
 */
export function ratioToAgree(own: Ratio, made: Ratio, present: Rgb): Ratio | null {
  const falls = rgbOf((c) => (1 - made.ratio[c]) / (1 - present[c]))
  const told = rgbOf((c) => Number(falls[c] > leastTaken))
  if (!told.some(Boolean)) return null
  return {
    ratio: rgbOf((c) => (told[c] ? Math.min(1, Math.max(0, 1 - (1 - own.ratio[c]) / falls[c])) : present[c])),
    error: rgbOf((c) => (told[c] ? Math.hypot(own.error[c], made.error[c]) / falls[c] : 0)),
  }
}
