/** What a frame's light must be changed by to be that of another frame: lamps flicker, mist thickens. */

import { medianOf } from '../match/median'

/** `gain * light + veil` of a channel */
export interface Evening {
  readonly gain: number
  readonly veil: number
}

export const unchanged: Evening = { gain: 1, veil: 0 }

const { abs, max } = Math
const rounds = 12
/** Tukey's biweight leaves out what is so many deviations off. */
const farOff = 4.685

/**
 * A line through pairs of the same pixels, most of which show the same thing in both frames (iteratively reweighted least
 * squares with Tukey's biweight).
 *
 * @param from light of the frame that is changed, low-passed @param to light of the frame that it should be like
 */
export function evening(from: Float32Array, to: Float32Array): Evening {
  const finite = (i: number) => Number.isFinite(from[i]) && Number.isFinite(to[i])
  const places = Array.from({ length: from.length }, (_, i) => i).filter(finite)
  if (places.length < 16) return unchanged
  // From the ratio of medians on: a figure before the half of the frame does not mislead it.
  let gain = medianOf(places.map((i) => to[i])) / (medianOf(places.map((i) => from[i])) || 1)
  if (!(gain > 0.2 && gain < 5)) gain = 1
  let veil = 0
  for (let round = 0; round < rounds; round++) {
    const off = places.map((i) => to[i] - gain * from[i] - veil)
    const scale = max(1e-6, 1.4826 * medianOf(off.map(abs)))
    let [w, x, y, xx, xy] = [0, 0, 0, 0, 0]
    places.forEach((i, at) => {
      const u = off[at] / (farOff * scale)
      if (abs(u) >= 1) return
      const weight = (1 - u * u) ** 2
      ;[w, x, y] = [w + weight, x + weight * from[i], y + weight * to[i]]
      ;[xx, xy] = [xx + weight * from[i] * from[i], xy + weight * from[i] * to[i]]
    })
    const spread = xx - (x * x) / w
    // On an even picture gain and veil cannot be told apart.
    if (!(w > 0) || spread < 1e-12 * w) return { gain: w > 0 && x > 0 ? y / x : 1, veil: 0 }
    gain = (xy - (x * y) / w) / spread
    veil = (y - gain * x) / w
  }
  return Number.isFinite(gain) && gain > 0 ? { gain, veil } : unchanged
}
