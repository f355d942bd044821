/** The lowest place of a function of one number that has one dip, by sections in the golden ratio (Kiefer 1953). */

const share = (Math.sqrt(5) - 1) / 2

/** @param within so near to it */
export function leastBetween(cost: (x: number) => number, from: number, to: number, within: number): number {
  let [low, high] = [from, to]
  let [a, b] = [high - share * (high - low), low + share * (high - low)]
  let [costA, costB] = [cost(a), cost(b)]
  while (high - low > within) {
    if (costA < costB) {
      ;[high, b, costB] = [b, a, costA]
      a = high - share * (high - low)
      costA = cost(a)
    } else {
      ;[low, a, costA] = [a, b, costB]
      b = low + share * (high - low)
      costB = cost(b)
    }
  }
  return (low + high) / 2
}
