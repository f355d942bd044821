/** Pairs that no veil and gain can satisfy together: said, both shown, never averaged away. */

import { pairOf, type PairRead } from './pair'
import { rgbOf, type Rgb } from './side-reading'
import { darkLight, usualTau } from './unlikeness'

export interface Contradiction {
  readonly names: readonly [string, string]
  /** what each would ask for alone: veil where both are for black, else gain */
  readonly asks: 'veil' | 'gain'
  readonly alone: readonly [Rgb, Rgb]
}

/** No light makes the same thing so many times as light. */
const mostGain = 8
/** Where there are more, how unlike they are is told by their scatter, and bars are as wide as that. */
export const mostThatContradict = 5
/** Of this many standard deviations, what is unlike of materials counted in. */
const surely = 3.5

/**
 * @param pairs of one element
 * @param present veil and gain as they are set
 * @returns where two pairs contradict each other, and neither of them more others than the other does: a pair that contradicts several is
 * outvoted, and is named as not fitting
 */
export function contradictionsOf(
  pairs: readonly PairRead[],
  present: { readonly veil: Rgb; readonly gain: Rgb },
): readonly Contradiction[] {
  if (pairs.length > mostThatContradict) return []
  const found = pairs.flatMap((a, i) => pairs.slice(i + 1).flatMap((b) => (contradict(a, b) ? [[a, b] as const] : [])))
  const often = (one: PairRead) => found.filter((both) => both.includes(one)).length
  return found.flatMap(([a, b]) => {
    if (often(a) !== often(b)) return []
    const dark = a.purpose === 'black' && b.purpose === 'black'
    const alone = (pair: PairRead) => (dark ? veilAlone(pair, present.gain) : gainAlone(pair, present.veil))
    return [{ names: [a.name, b.name], asks: dark ? 'veil' : 'gain', alone: [alone(a), alone(b)] } as const]
  })
}

/** In a channel no gain between 0 and the most leads from the element's light to the plate's in both. */
function contradict(one: PairRead, other: PairRead): boolean {
  return [0, 1, 2].some((c) => {
    const [a, b] = [pairOf(one, c), pairOf(other, c)]
    const across = b.adjusted - a.adjusted
    const up = b.reference - a.reference
    const gain = across === 0 ? 0 : Math.min(mostGain, Math.max(0, up / across))
    const apart = (light: number, unlike = 1) => (unlike * usualTau * (Math.max(0, light) + darkLight)) ** 2
    const variance =
      a.referenceVariance +
      b.referenceVariance +
      gain * gain * (a.adjustedVariance + b.adjustedVariance) +
      apart(a.reference, a.unlike) +
      apart(b.reference, b.unlike)
    return Math.abs(up - gain * across) > surely * Math.sqrt(variance)
  })
}

const veilAlone = ({ reference, adjusted }: PairRead, gain: Rgb) =>
  rgbOf((c) => reference.light[c] - gain[c] * adjusted.light[c])
const gainAlone = ({ reference, adjusted }: PairRead, veil: Rgb) =>
  rgbOf((c) => (reference.light[c] - veil[c]) / adjusted.light[c])
