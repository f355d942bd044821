/** The lowest point of a parabola through measured costs. */

export interface LeastOfParabola {
  readonly at: number
  readonly value: number
  /** second derivative, above 0 */
  readonly bend: number
}

/** By least squares. @param xs at least three @returns null where it bends the other way */
export function leastOfParabola(xs: readonly number[], costs: ArrayLike<number>): LeastOfParabola | null {
  const n = xs.length
  const mean = xs.reduce((sum, x) => sum + x, 0) / n
  // About their mean, and with orthogonal polynomials, the three unknowns do not mix.
  const u = xs.map((x) => x - mean)
  const sum = (of: (i: number) => number) => u.reduce((total, _, i) => total + of(i), 0)
  const second = sum((i) => u[i] ** 2)
  const skew = sum((i) => u[i] ** 3) / second
  const q = u.map((x) => x * x - skew * x - second / n)
  const curved = sum((i) => q[i] * costs[i]) / sum((i) => q[i] ** 2)
  const slope = sum((i) => u[i] * costs[i]) / second - curved * skew
  const level = sum((i) => costs[i]) / n - (curved * second) / n
  const size = Math.max(...Array.from(costs, Math.abs))
  if (!(curved * second > 1e-12 * size)) return null
  const at = -slope / (2 * curved)
  return { at: mean + at, value: level - (slope * slope) / (4 * curved), bend: 2 * curved }
}
