/** The scale while something is dragged: as small as it takes to follow the hand, and larger again as soon as that does. */

import type { Scale } from '../../../../core/graph/steps'

/** A picture that takes longer does not follow the hand: twelve a second. */
const mostMs = 1000 / 12
/** One at twice the size has four times the pixels; with some room between, so that it does not go to and fro. */
const littleMs = mostMs / 6

/**
 * @param chosen the scale at rest
 * @param made the scale at which a picture was made, and how long that took
 * @returns null: the chosen one
 */
export function scaleWhileDragging(chosen: Scale, made: Scale, tookMs: number): Scale | null {
  const next: Scale =
    tookMs > mostMs && made < 4 ? (made === 1 ? 2 : 4) : tookMs < littleMs ? (made === 4 ? 2 : 1) : made
  return next > chosen ? next : null
}
