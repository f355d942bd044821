/** Least squares of what is no straight line in its numbers, by the method of Levenberg (1944) and Marquardt (1963). */

import { solved } from './solved'

const rounds = 100
const { abs, max } = Math

/**
 * @param from where it begins @param of what is left at some numbers, to be made small
 * @returns the numbers that leave least, as far as it comes from where it began
 */
export function leastSquares(
  from: readonly number[],
  of: (at: readonly number[]) => Float64Array,
): { readonly at: readonly number[]; readonly left: Float64Array } {
  let [at, left] = [from, of(from)]
  let slopes = slopesAt(at, left, of)
  let damping = 1e-3
  for (let round = 0; round < rounds && damping < 1e12; round++) {
    const step = stepFrom(slopes, left, damping)
    const next = step && at.map((value, i) => value + step[i])
    const leftThere = next && of(next)
    if (next && leftThere && sumOf(leftThere) < sumOf(left)) {
      const done = sumOf(left) - sumOf(leftThere) < 1e-10 * sumOf(left)
      ;[at, left, damping] = [next, leftThere, max(1e-12, damping / 5)]
      if (done) break
      slopes = slopesAt(at, left, of)
    } else damping *= 5
  }
  return { at, left }
}

const sumOf = (left: Float64Array) => left.reduce((sum, one) => sum + one * one, 0)

/** By differences. @returns of each number, how what is left changes with it */
const slopesAt = (at: readonly number[], left: Float64Array, of: (at: readonly number[]) => Float64Array) =>
  at.map((value, i) => {
    const step = 1e-6 * max(1e-3, abs(value))
    const there = of(at.map((one, j) => (i === j ? one + step : one)))
    return there.map((one, r) => (one - left[r]) / step)
  })

function stepFrom(slopes: readonly Float64Array[], left: Float64Array, damping: number): Float64Array | null {
  const product = (a: Float64Array, b: Float64Array) => a.reduce((sum, one, r) => sum + one * b[r], 0)
  const normal = slopes.flatMap((one, i) =>
    slopes.map((other, j) => {
      const sum = product(one, other)
      if (i !== j) return sum
      // A number that says nothing here stays where it is.
      return sum === 0 ? 1 : sum * (1 + damping)
    }),
  )
  return solved(
    normal,
    slopes.map((one) => -product(one, left)),
    1e-300,
  )
}
