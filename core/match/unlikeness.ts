/** How unlike the materials of pairs are, from how their readings scatter about what was fitted to them. */

/** Materials that look alike differ by so much of their light; counts like this many pairs beyond what the fit needs. */
export const usualTau = 0.05
const weightOfUsual = 20
/** Light added before a share is taken of it: in the dark, likeness is no matter of shares. */
export const darkLight = 0.01

export interface Unlikeness {
  /** as a share of the light */
  readonly tau: number
  /** degrees of freedom of the errors, for Student's t */
  readonly freedom: number
}

/**
 * The pairs' own scatter against what is usual, as if that had been seen in so many pairs before.
 *
 * @param left of each pair, in standard deviations of it, what a fit with that share leaves
 */
export function unlikenessOf(pairs: number, unknowns: number, left: (share: number) => readonly number[]): Unlikeness {
  const freedom = weightOfUsual + pairs - unknowns
  const surplus = (share: number) =>
    left(share).reduce((sum, one) => sum + one * one, 0) + weightOfUsual * (usualTau / share) ** 2 - freedom
  let [low, high] = [usualTau / 8, usualTau]
  while (surplus(high) > 0 && high < 8) high *= 2
  let tau = usualTau
  // To a few millionths.
  for (let i = 0; i < 20; i++) {
    tau = Math.sqrt(low * high)
    if (surplus(tau) > 0) low = tau
    else high = tau
  }
  return { tau, freedom }
}
