/** One line of the bench: a measured number beside its peer, or beside its limit. */

export interface Row {
  readonly name: string
  /** ours, in `unit` */
  readonly ours: number
  /** the peer's, measured in the same run; null where only the limit counts */
  readonly peer: number | null
  /** ours / peer, or ours / limit where there is no peer */
  readonly ratio: number
  /** what the ratio (with a peer) or ours (without) must stay within; null where none is set */
  readonly limit: number | null
  readonly unit: string
  readonly good: boolean
}

/** @param limit most that ours may be, as a multiple of the peer's */
export function besidePeer(name: string, ours: number, peer: number, limit: number, unit: string): Row {
  const ratio = ours / peer
  return { name, ours, peer, ratio, limit, unit, good: ratio <= limit }
}

/** Beside a peer, for knowing only. */
export function beside(name: string, ours: number, peer: number, unit: string): Row {
  return { name, ours, peer, ratio: ours / peer, limit: null, unit, good: true }
}

export function atMost(name: string, ours: number, limit: number, unit: string): Row {
  return { name, ours, peer: null, ratio: ours / limit, limit, unit, good: ours <= limit }
}

export function atLeast(name: string, ours: number, limit: number, unit: string): Row {
  return { name, ours, peer: null, ratio: ours / limit, limit, unit, good: ours >= limit }
}

/**
 * The best of some runs after one that warms up; ours and the peer take turns. The best, since other programs on the machine
 * can only make a run longer, and they hold up arithmetic more than copying.
 */
export async function inTurns(runs: number, ours: () => unknown, peer: () => unknown): Promise<[number, number]> {
  const times: [number[], number[]] = [[], []]
  for (let i = 0; i <= runs; i++) {
    for (const [k, work] of [ours, peer].entries()) {
      const start = performance.now()
      await work()
      if (i > 0) times[k].push(performance.now() - start)
    }
  }
  return [Math.min(...times[0]), Math.min(...times[1])]
}

export function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b)
  return sorted[sorted.length >> 1]
}
