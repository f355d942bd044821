/**
 * Gamma, gain and veil together: `reference = gain * adjusted ** (1 / gamma) + veil`, from pairs whose adjusted side was read at
 * several gammas. For each gamma the line is York's; the gamma is the one whose line leaves least.
 */

import { leastBetween } from '../algebra/golden-section'
import { solved } from '../algebra/solved'
import { lineThrough, type PairOfReadings } from './fit-line'
import { unlikenessOf, usualTau } from './unlikeness'

/** Rising; evenly apart as powers of each other, so that light goes smoothly from one to the next. */
export const triedGammas: readonly number[] = [0.4, 0.5, 0.63, 0.8, 1, 1.25, 1.6, 2, 2.5]

/** One pair; the adjusted side as it reads at each of the gammas that were tried. */
export interface PairAtGammas extends Omit<PairOfReadings, 'adjusted' | 'adjustedVariance'> {
  readonly adjusted: readonly number[]
  readonly adjustedVariance: readonly number[]
}

export interface FittedGamma {
  readonly gamma: number
  readonly gain: number
  readonly veil: number
  /** of the natural logarithm of gamma */
  readonly logGammaVariance: number
  readonly gainVariance: number
  readonly veilVariance: number
  /** how unlike the pairs' materials are, as a share of their light */
  readonly tau: number
  /** degrees of freedom of the errors, for Student's t */
  readonly freedom: number
  /** of each pair, in the order given: what is left of it, in standard deviations */
  readonly left: readonly number[]
}

const unknowns = 3
/** With three the curve goes through all of them, and none of them can contradict it. */
export const fewestForGamma = unknowns + 1

/**
 * @param pairs at least four
 * @returns null where they tell no gamma: it would lie beyond those that were tried
 * @throws RangeError where there are fewer
 */
export function fitGamma(pairs: readonly PairAtGammas[]): FittedGamma | null {
  if (pairs.length < fewestForGamma)
    throw new RangeError(`Gamma, gain and veil cannot be found from ${pairs.length} pairs.`)
  const first = leastFor(pairs, usualTau)
  const { tau, freedom } = unlikenessOf(
    pairs.length,
    unknowns,
    (share) => lineThrough(pairsAt(pairs, first), share).left,
  )
  const best = leastFor(pairs, tau)
  const [from, to] = [0, triedGammas.length - 1].map((i) => inverseOf(triedGammas[i]))
  if (Math.abs(best - from) < nearEnd || Math.abs(best - to) < nearEnd) return null
  const line = lineThrough(pairsAt(pairs, best), tau)
  const errors = errorsOf(pairs, best, tau, line.gain)
  if (!errors) return null
  return {
    ...{ gamma: 1 / best, gain: line.gain, veil: line.veil },
    // d ln(gamma) = -d(1 / gamma) * gamma.
    logGammaVariance: errors.inverse / best ** 2,
    ...{ gainVariance: errors.gain, veilVariance: errors.veil, tau, freedom, left: line.left },
  }
}

/** In 1 / gamma. */
const nearEnd = 1e-3
const precision = 2e-5
const inverseOf = (gamma: number) => 1 / gamma

/** @returns the 1 / gamma whose line leaves least */
function leastFor(pairs: readonly PairAtGammas[], tau: number): number {
  const cost = (inverse: number) => {
    const { left, gain } = lineThrough(pairsAt(pairs, inverse), tau)
    // Light that turns round is no match.
    return gain > 0 ? left.reduce((sum, one) => sum + one * one, 0) : Infinity
  }
  const costs = triedGammas.map((gamma) => cost(inverseOf(gamma)))
  const best = costs.indexOf(Math.min(...costs))
  const low = inverseOf(triedGammas[Math.min(triedGammas.length - 1, best + 1)])
  const high = inverseOf(triedGammas[Math.max(0, best - 1)])
  return leastBetween(cost, low, high, precision)
}

/** Pairs as they would read at a gamma between those that were tried. */
const pairsAt = (pairs: readonly PairAtGammas[], inverse: number): PairOfReadings[] =>
  pairs.map(({ adjusted, adjustedVariance, ...pair }) => ({
    ...pair,
    adjusted: between(adjusted, inverse),
    adjustedVariance: between(adjustedVariance, inverse),
  }))

/** Even light goes straight in its logarithm over 1 / gamma; what is not above zero goes straight by itself. */
function between(values: readonly number[], inverse: number): number {
  const found = triedGammas.findIndex((gamma) => inverseOf(gamma) <= inverse)
  const i = Math.min(triedGammas.length - 2, Math.max(0, (found < 0 ? triedGammas.length : found) - 1))
  const [from, to] = [inverseOf(triedGammas[i]), inverseOf(triedGammas[i + 1])]
  const share = (inverse - from) / (to - from)
  const [a, b] = [values[i], values[i + 1]]
  return a > 0 && b > 0 ? a * (b / a) ** share : a + share * (b - a)
}

const step = 1e-4

/** Variances of the three, by the equations that least squares has where it is best. */
function errorsOf(pairs: readonly PairAtGammas[], inverse: number, tau: number, gain: number) {
  const seen = pairsAt(pairs, inverse)
  const { weights, places } = lineThrough(seen, tau)
  const [before, after] = [inverse - step, inverse + step].map((one) => pairsAt(pairs, one))
  const normal = new Float64Array(unknowns * unknowns)
  seen.forEach((_, i) => {
    const turn = (after[i].adjusted - before[i].adjusted) / (2 * step)
    const row = [places[i], 1, gain * turn]
    for (let j = 0; j < unknowns; j++)
      for (let k = 0; k < unknowns; k++) normal[j * unknowns + k] += weights[i] * row[j] * row[k]
  })
  const variance = (k: number) =>
    solved(
      normal,
      [0, 1, 2].map((i) => (i === k ? 1 : 0)),
    )?.[k] ?? Infinity
  const [ofGain, ofVeil, ofInverse] = [0, 1, 2].map(variance)
  return [ofGain, ofVeil, ofInverse].every((one) => one > 0 && one < Infinity)
    ? { gain: ofGain, veil: ofVeil, inverse: ofInverse }
    : null
}
