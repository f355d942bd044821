/**
 * What is left of a motion when it is made steady: held still, or kept where it is slow. A motion here leads from where things
 * are on one frame to where they are at a time.
 */

import type { Matrix3 } from '../graph/steps'
import { identity } from '../graph/steps'
import { inverseOf, multiplied, throughMatrix } from './mapping'

export interface Steadying {
  /** where things of the resting frame are at a time; the same size of pixels throughout */
  at(time: number): Matrix3
  readonly frames: { readonly first: number; readonly last: number }
  /** about which it turns and grows */
  readonly middle: readonly [x: number, y: number]
  /** motions slower than so many frames are kept; 0: none, it is held still */
  readonly smoothing: number
  /** how much of the motion is taken away, 0 to 1 */
  readonly amount: number
}

/** Across, down, angle, and logarithm of the size: what is averaged over frames. */
type Moved = readonly [number, number, number, number]

const { atan2, cos, exp, log, max, min, sin, sqrt } = Math

/**
 * From the steady picture's pixels to those of the picture as it came.
 *
 * Smoothed by a Gaussian whose variance is that of a mean over so many frames; beyond the first and last frame the motion goes on turned
 * about its end, so that the ends stay where they are.
 */
export function steadied({ at, frames, middle, smoothing, amount }: Steadying, time: number): Matrix3 {
  if (amount === 0) return identity
  if (smoothing === 0 && amount === 1) return at(time)
  const here = movedAbout(at(time), middle)
  const kept =
    smoothing === 0 ? [0, 0, 0, 0] : smoothed((when) => movedAbout(at(when), middle), frames, smoothing, time)
  const [dx, dy, turn, size] = here.map((one, i) => amount * (one - kept[i]))
  return similarityAbout(middle, [dx, dy, turn, size])
}

function similarityAbout([x, y]: Steadying['middle'], [dx, dy, turn, size]: readonly number[]): Matrix3 {
  const [c, s] = [exp(size) * cos(turn), exp(size) * sin(turn)]
  return [c, -s, x + dx - c * x + s * y, s, c, y + dy - s * x - c * y, 0, 0, 1]
}

/**
 * The motion without what is quicker than so many frames: what the similarity nearest to it becomes when it is averaged, and the rest of
 * it as it is. On the first and last frame nothing changes.
 */
export function evened({ at, frames, middle, smoothing }: Omit<Steadying, 'amount'>, time: number): Matrix3 {
  const here = at(time)
  const kept = smoothed((when) => movedAbout(at(when), middle), frames, smoothing, time)
  const back = inverseOf(similarityAbout(middle, movedAbout(here, middle)))
  return back ? multiplied(similarityAbout(middle, kept), multiplied(back, here)) : here
}

/** The similarity nearest to a motion about a place. */
function movedAbout(motion: Matrix3, [x, y]: Steadying['middle']): Moved {
  const here = throughMatrix(motion, x, y) ?? [x, y]
  const step = 1
  const [right, below] = [throughMatrix(motion, x + step, y) ?? here, throughMatrix(motion, x, y + step) ?? here]
  const along = (right[0] - here[0] + below[1] - here[1]) / 2
  const across = (right[1] - here[1] - (below[0] - here[0])) / 2
  return [here[0] - x, here[1] - y, atan2(across, along), log(max(1e-6, sqrt(along * along + across * across)))]
}

function smoothed(of: (time: number) => Moved, { first, last }: Steadying['frames'], frames: number, time: number) {
  const sigma = frames / sqrt(12)
  const reach = Math.ceil(3 * sigma)
  // Turned about its end: as far on the other side as it was on this one.
  const known = (when: number): Moved => {
    if (when >= first && when <= last) return of(when)
    const end = when < first ? first : last
    const inside = of(min(last, max(first, 2 * end - when)))
    return of(end).map((one, i) => 2 * one - inside[i]) as unknown as Moved
  }
  const sum = [0, 0, 0, 0]
  let weights = 0
  for (let k = -reach; k <= reach; k++) {
    const weight = exp(-(k * k) / (2 * sigma * sigma))
    weights += weight
    known(time + k).forEach((one, i) => (sum[i] += weight * one))
  }
  return sum.map((one) => one / weights)
}
