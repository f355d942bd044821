/**
 * A straight line through pairs of readings with errors on both sides: `reference = gain * adjusted + veil`.
 *
 * York, Evensen, Martinez and De Basabe Delgado, "Unified equations for the slope, intercept, and standard errors of the best
 * straight line", Am. J. Phys. 72 (2004), for errors that do not depend on each other. To the noise of a reading comes what makes
 * materials unlike: a pair's light is off by a share of itself, `(tau (I + 0.01))^2`. Frames of a pair share that, so a pair is one
 * point, however many frames it was read on.
 */

import { darkLight, unlikenessOf } from './unlikeness'

/** One pair, its frames taken together. */
export interface PairOfReadings {
  /** scene-linear light of the adjusted side before veil and gain, and of the reference */
  readonly adjusted: number
  readonly reference: number
  /** variances of these means by noise alone */
  readonly adjustedVariance: number
  readonly referenceVariance: number
  /** how unlike both sides may be beside what is usual: the same object on both sides is much more alike; absent: 1 */
  readonly unlike?: number
}

export interface FittedLine {
  readonly gain: number
  readonly veil: number
  readonly gainVariance: number
  readonly veilVariance: number
  readonly covariance: number
  /** how unlike the pairs' materials are, as a share of their light */
  readonly tau: number
  /** degrees of freedom of the errors, for Student's t */
  readonly freedom: number
  /** of each pair, in the order given: what the line leaves, in standard deviations of that pair */
  readonly left: readonly number[]
}

const mostRounds = 60
const converged = 1e-10

/** What is known of a line beforehand: a gain or a veil that is not to be found. */
export interface Known {
  readonly gain?: number
  readonly veil?: number
}

/**
 * @param pairs at least two, or one where the gain or the veil is known
 * @throws RangeError where there are fewer
 */
export function fitLine(pairs: readonly PairOfReadings[], known: Known = {}): FittedLine {
  const unknowns = (known.gain === undefined ? 1 : 0) + (known.veil === undefined ? 1 : 0)
  if (unknowns === 0 || pairs.length < unknowns)
    throw new RangeError(`A line of ${unknowns} unknowns cannot be laid through ${pairs.length} pairs.`)
  const { tau, freedom } = unlikenessOf(pairs.length, unknowns, (share) => through(pairs, share, known).left)
  return { ...through(pairs, tau, known), tau, freedom }
}

type Line = Omit<FittedLine, 'tau' | 'freedom'>

interface FreeLine extends Line {
  /** one over the variance of each pair along the reference */
  readonly weights: Numbers
  /** where on the line each pair comes from, in light of the adjusted side */
  readonly places: Numbers
}

/** A line of which nothing is known beforehand, through pairs that are unlike by a share that is known. */
export const lineThrough = (pairs: readonly PairOfReadings[], tau: number): FreeLine => {
  const { xs, ys, xVariances, yVariances } = columnsOf(pairs, tau)
  return york(xs, ys, xVariances, yVariances)
}

const columnsOf = (pairs: readonly PairOfReadings[], tau: number) => ({
  xs: pairs.map(({ adjusted }) => adjusted),
  ys: pairs.map(({ reference }) => reference),
  xVariances: pairs.map(({ adjustedVariance }) => Math.max(adjustedVariance, 1e-16)),
  yVariances: pairs.map(
    ({ reference, referenceVariance, unlike = 1 }) =>
      referenceVariance + (tau * unlike * (Math.max(0, reference) + darkLight)) ** 2,
  ),
})

function through(pairs: readonly PairOfReadings[], tau: number, known: Known): Line {
  const { xs, ys, xVariances, yVariances } = columnsOf(pairs, tau)
  if (known.gain !== undefined) return shifted(xs, ys, xVariances, yVariances, known.gain)
  if (known.veil !== undefined) return scaled(xs, ys, xVariances, yVariances, known.veil)
  return york(xs, ys, xVariances, yVariances)
}

type Numbers = readonly number[]

function york(xs: Numbers, ys: Numbers, xVariances: Numbers, yVariances: Numbers): FreeLine {
  let gain = ordinarySlope(xs, ys, yVariances)
  let weights: Numbers = []
  let [meanX, meanY] = [0, 0]
  let betas: Numbers = []
  for (let round = 0; round < mostRounds; round++) {
    const slope = gain
    weights = xs.map((_, i) => 1 / (yVariances[i] + slope * slope * xVariances[i]))
    ;[meanX, meanY] = [weightedMean(xs, weights), weightedMean(ys, weights)]
    betas = xs.map((x, i) => weights[i] * (yVariances[i] * (x - meanX) + slope * xVariances[i] * (ys[i] - meanY)))
    const next =
      sumOf(xs, (i) => weights[i] * betas[i] * (ys[i] - meanY)) /
      sumOf(xs, (i) => weights[i] * betas[i] * (xs[i] - meanX))
    if (!Number.isFinite(next)) break
    const done = Math.abs(next - gain) <= converged * Math.max(1, Math.abs(gain))
    gain = next
    if (done) break
  }
  const veil = meanY - gain * meanX
  // Places on the line that the points come from, as well as can be told.
  const places = betas.map((beta) => meanX + beta)
  const middle = weightedMean(places, weights)
  const gainVariance = 1 / sumOf(places, (i) => weights[i] * (places[i] - middle) ** 2)
  const veilVariance = 1 / sumOf(weights, (i) => weights[i]) + middle * middle * gainVariance
  return {
    ...{ gain, veil, gainVariance, veilVariance, covariance: -middle * gainVariance, weights, places },
    left: xs.map((x, i) => (ys[i] - gain * x - veil) * Math.sqrt(weights[i])),
  }
}

/** With a gain that is known: the veil alone. */
function shifted(xs: Numbers, ys: Numbers, xVariances: Numbers, yVariances: Numbers, gain: number): Line {
  const weights = xs.map((_, i) => 1 / (yVariances[i] + gain * gain * xVariances[i]))
  const rest = ys.map((y, i) => y - gain * xs[i])
  const veil = weightedMean(rest, weights)
  return {
    ...{ gain, veil, gainVariance: 0, veilVariance: 1 / sumOf(weights, (i) => weights[i]), covariance: 0 },
    left: rest.map((one, i) => (one - veil) * Math.sqrt(weights[i])),
  }
}

/** With a veil that is known: the gain alone, through that point. */
function scaled(xs: Numbers, ys: Numbers, xVariances: Numbers, yVariances: Numbers, veil: number): Line {
  let gain = sumOf(xs, (i) => (xs[i] * (ys[i] - veil)) / yVariances[i]) / sumOf(xs, (i) => xs[i] ** 2 / yVariances[i])
  let weights: Numbers = []
  for (let round = 0; round < mostRounds; round++) {
    const slope = gain
    weights = xs.map((_, i) => 1 / (yVariances[i] + slope * slope * xVariances[i]))
    // Where on the line the point comes from, as in York's equations.
    const places = xs.map((x, i) => weights[i] * (yVariances[i] * x + slope * xVariances[i] * (ys[i] - veil)))
    const next =
      sumOf(xs, (i) => weights[i] * places[i] * (ys[i] - veil)) / sumOf(xs, (i) => weights[i] * places[i] * xs[i])
    if (!Number.isFinite(next)) break
    const done = Math.abs(next - gain) <= converged * Math.max(1, Math.abs(gain))
    gain = next
    if (done) break
  }
  return {
    ...{ gain, veil, veilVariance: 0, covariance: 0, gainVariance: 1 / sumOf(xs, (i) => weights[i] * xs[i] ** 2) },
    left: xs.map((x, i) => (ys[i] - gain * x - veil) * Math.sqrt(weights[i])),
  }
}

/** To begin with: as if only the reference had errors. */
function ordinarySlope(xs: Numbers, ys: Numbers, yVariances: Numbers): number {
  const weights = yVariances.map((variance) => 1 / variance)
  const [meanX, meanY] = [weightedMean(xs, weights), weightedMean(ys, weights)]
  const across = sumOf(xs, (i) => weights[i] * (xs[i] - meanX) ** 2)
  return across > 0 ? sumOf(xs, (i) => weights[i] * (xs[i] - meanX) * (ys[i] - meanY)) / across : 1
}

const sumOf = (of: Numbers, term: (i: number) => number): number => of.reduce((sum, _, i) => sum + term(i), 0)
const weightedMean = (values: Numbers, weights: Numbers): number =>
  sumOf(values, (i) => weights[i] * values[i]) / sumOf(weights, (i) => weights[i])
