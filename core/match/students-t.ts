/** How many standard errors an interval reaches to either side. */

/**
 * The 95 % point of Student's t: an interval of so many standard errors to either side holds the truth in 90 %.
 *
 * Hill's expansion (Comm. ACM 13, 1970, algorithm 396) in 1/n; within 0.002 from 5 degrees of freedom on.
 *
 * @param freedom degrees of freedom, at least 3
 */
export function ninetyPercent(freedom: number): number {
  const z = 1.6448536269514722
  const n = freedom
  const [z3, z5, z7] = [z ** 3, z ** 5, z ** 7]
  return (
    z +
    (z3 + z) / (4 * n) +
    (5 * z5 + 16 * z3 + 3 * z) / (96 * n * n) +
    (3 * z7 + 19 * z5 + 17 * z3 - 15 * z) / (384 * n ** 3)
  )
}

/**
 * What lies within three standard deviations of a Gaussian (99.73 %), in standard errors that are estimates themselves: the
 * first terms of the expansion of Fisher and Cornish (1960).
 */
export function threeErrors(freedom: number): number {
  const z = 3
  return z + (z ** 3 + z) / (4 * freedom) + (5 * z ** 5 + 16 * z ** 3 + 3 * z) / (96 * freedom * freedom)
}
