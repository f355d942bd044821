/**
 * How a Gaussian of any width is made of weighted sums along one axis.
 *
 * Narrow ones are one symmetric filter. Wide ones are reduced by a power of two, filtered there, and enlarged again, so that
 * the cost for each pixel stays nearly the same. Each of the three parts is a Gaussian itself; their variances add up.
 * Places of reduced pixels are fixed in the frame, so tiles know nothing of each other.
 */

import { exp2 } from './power'

export interface AxisFilter {
  /** 1, or a power of two by which the axis is reduced first */
  readonly step: number
  /** symmetric, the middle weight first; at the reduced scale */
  readonly weights: readonly number[]
  /** `reduceBlocks * step` weights; reduced pixel k starts at pixel `(k - 3) step` */
  readonly reduce: readonly number[]
  /** `step` runs of `enlargeTaps` weights: run j serves the pixels `q step + j`, from reduced pixels `q - 3` on */
  readonly enlarge: readonly number[]
}

export const reduceBlocks = 7
export const enlargeTaps = 7
/** reduced pixels on either side of its own block that a pixel can see, both when reducing and when enlarging */
export const reach = 3

/** Sigma of reducing and of enlarging, in reduced pixels: narrower would show the grid, wider would be cut off. */
const partSigma = 0.8
/** Below this many reduced pixels of sigma the parts no longer add up to the whole. */
const leastReducedSigma = 2
const leastSigma = 0.1

/**
 * @param sigma in pixels: the square root of the kernel's second moment, however it is made; below 0.1 nothing is done
 * @returns weights that sum to 1. Variances of blurs that follow each other add up, and nothing jumps while sigma changes.
 */
export function gaussianAxis(sigma: number): AxisFilter {
  let filter = known.get(sigma)
  if (filter) return filter
  if (known.size >= mostKnown) known.clear()
  known.set(sigma, (filter = filterOf(sigma)))
  return filter
}

/** The same few are asked for again and again, on every frame, and a narrow one takes a millisecond to find. */
const known = new Map<number, AxisFilter>()
const mostKnown = 512

function filterOf(sigma: number): AxisFilter {
  let step = 1
  while (sigma / (step * 2) >= leastReducedSigma) step *= 2
  if (step === 1) return { step, weights: narrowWeights(sigma), reduce: [], enlarge: [] }
  const middle = (step - 1) / 2
  const reduce = normalized(
    Array.from({ length: reduceBlocks * step }, (_, t) => bell((t - reach * step - middle) / step, partSigma)),
  )
  const runs = Array.from({ length: step }, (_, j) =>
    normalized(Array.from({ length: enlargeTaps }, (_, k) => bell(k - reach - (j - middle) / step, partSigma))),
  )
  // What both parts really spread, cut off as they are.
  const reducing = sumOf(reduce, (t) => ((t - reach * step - middle) / step) ** 2)
  const enlarging =
    runs.reduce((sum, run, j) => sum + sumOf(run, (k) => (k - reach - (j - middle) / step) ** 2), 0) / step
  const variance = (sigma * sigma) / (step * step) - reducing - enlarging
  return { step, weights: sampledWeights(Math.sqrt(variance)), reduce, enlarge: runs.flat() }
}

function sumOf(weights: readonly number[], factor: (index: number) => number): number {
  return weights.reduce((sum, w, i) => sum + w * factor(i), 0)
}

/** How many pixels of the input, on either side, one pixel of the result can see. */
export function axisReach({ step, weights }: AxisFilter): number {
  const radius = weights.length - 1
  return step === 1 ? radius : (radius + 2 * reach + 2) * step
}

function bell(x: number, sigma: number): number {
  return exponential(-(x * x) / (2 * sigma * sigma))
}

/** e^x, with the same bits in every engine. */
function exponential(x: number): number {
  return exp2(x * Math.LOG2E)
}

function normalized(weights: readonly number[]): number[] {
  const sum = weights.reduce((a, b) => a + b, 0)
  return weights.map((w) => w / sum)
}

/** Of a symmetric filter, the middle weight and one side; so that both sides and the middle sum to 1. */
function oneSide(side: readonly number[]): number[] {
  const sum = side.reduce((total, w, k) => total + (k === 0 ? w : 2 * w), 0)
  return side.map((w) => w / sum)
}

function sampledWeights(sigma: number): number[] {
  return oneSide(Array.from({ length: Math.ceil(4.5 * sigma) + 1 }, (_, k) => bell(k, sigma)))
}

/** From here on a Gaussian integrated over pixels has the second moment that it should have, to 1e-7. */
const wideEnough = 1

function narrowWeights(sigma: number): number[] {
  if (!(sigma >= leastSigma)) return [1]
  // Integrating over a pixel adds its own variance, 1/12.
  return sigma >= wideEnough ? integratedWeights(Math.sqrt(sigma * sigma - 1 / 12), 4.5) : matchedWeights(sigma)
}

/** A Gaussian integrated over each pixel. @param reach how many sigmas far */
function integratedWeights(sigma: number, reachSigmas: number): number[] {
  const radius = Math.ceil(reachSigmas * sigma)
  const edges = Array.from({ length: radius + 2 }, (_, k) => erf((k - 0.5) / (Math.SQRT2 * sigma)))
  return oneSide(Array.from({ length: radius + 1 }, (_, k) => edges[k + 1] - edges[k]))
}

/** The integrated Gaussian whose second moment is sigma squared, found by halving. */
function matchedWeights(sigma: number): number[] {
  const wanted = sigma * sigma
  const moment = (side: readonly number[]) => side.reduce((sum, w, k) => sum + 2 * w * k * k, 0)
  const taps = (s: number) => {
    const edges = [-0.5, 0.5, 1.5, 2.5, 3.5, 4.5, 5.5].map((x) => erf(x / (Math.SQRT2 * s)))
    return oneSide([0, 1, 2, 3, 4, 5].map((k) => edges[k + 1] - edges[k]))
  }
  let low = 0.05
  let high = wideEnough
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2
    if (moment(taps(middle)) < wanted) low = middle
    else high = middle
  }
  const found = taps(high)
  const last = found.findLastIndex((w) => w > 1e-9)
  return oneSide(found.slice(0, last + 1))
}

/** The error function to 1e-15, by its series below 3 and by a continued fraction above. */
export function erf(x: number): number {
  const z = Math.abs(x)
  if (z > 6) return Math.sign(x)
  let value: number
  if (z < 3) {
    let term = z
    let sum = z
    for (let n = 1; Math.abs(term) > 1e-17 * sum; n++) {
      term *= (-z * z) / n
      sum += term / (2 * n + 1)
    }
    value = (2 / Math.sqrt(Math.PI)) * sum
  } else {
    let fraction = 0
    for (let n = 60; n >= 1; n--) fraction = n / 2 / (z + fraction)
    value = 1 - exponential(-z * z) / (Math.sqrt(Math.PI) * (z + fraction))
  }
  return x < 0 ? -value : value
}
