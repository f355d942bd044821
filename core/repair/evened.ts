/** What a frame's light must be changed by to be that of another frame: lamps flicker, mist thickens. */

/** `gain * light + veil` of a channel */
export interface Evening {
  readonly gain: number
  readonly veil: number
}

export const unchanged: Evening = { gain: 1, veil: 0 }

const { abs, max } = Math
const rounds = 12
/** More pixels tell no more. */
const mostPlaces = 6000
/** Tukey's biweight leaves out what is so many deviations off. */
const farOff = 4.685

/**
 * A line through pairs of the same pixels, most of which show the same thing in both frames (Deming's, reweighted by Tukey's
 * biweight).
 *
 * @param from light of the frame that is changed, low-passed @param to light of the frame that it should be like
 */
export function evening(from: Float32Array, to: Float32Array): Evening {
  const every = max(1, Math.floor(from.length / mostPlaces))
  const places: number[] = []
  for (let i = 0; i < from.length; i += every) if (Number.isFinite(from[i]) && Number.isFinite(to[i])) places.push(i)
  if (places.length < 16) return unchanged
  const x = Float64Array.from(places, (i) => from[i])
  const y = Float64Array.from(places, (i) => to[i])
  // From the ratio of medians on: a figure before less than half of the frame does not mislead it.
  let gain = medianIn(y.slice()) / (medianIn(x.slice()) || 1)
  if (!(gain > 0.2 && gain < 5)) gain = 1
  let veil = 0
  const off = new Float64Array(x.length)
  for (let round = 0; round < rounds; round++) {
    for (let i = 0; i < off.length; i++) off[i] = abs(y[i] - gain * x[i] - veil)
    const scale = max(1e-6, 1.4826 * medianIn(off))
    let [w, wx, wy, wxx, wxy, wyy] = [0, 0, 0, 0, 0, 0]
    for (let i = 0; i < x.length; i++) {
      const u = (y[i] - gain * x[i] - veil) / (farOff * scale)
      if (abs(u) >= 1) continue
      const weight = (1 - u * u) ** 2
      w += weight
      wx += weight * x[i]
      wy += weight * y[i]
      wxx += weight * x[i] * x[i]
      wxy += weight * x[i] * y[i]
      wyy += weight * y[i] * y[i]
    }
    const [sxx, sxy, syy] = [wxx - (wx * wx) / w, wxy - (wx * wy) / w, wyy - (wy * wy) / w]
    // On an even picture gain and veil cannot be told apart.
    if (!(w > 0) || !(sxy > 1e-12 * w)) return { gain: w > 0 && wx > 0 ? wy / wx : 1, veil: 0 }
    // Both frames are noisy alike (Deming 1943): leaving that out would draw the gain towards 0.
    gain = (syy - sxx + Math.sqrt((syy - sxx) ** 2 + 4 * sxy * sxy)) / (2 * sxy)
    veil = (wy - gain * wx) / w
  }
  return Number.isFinite(gain) && gain > 0 ? { gain, veil } : unchanged
}

/** @param values put in order */
const medianIn = (values: Float64Array): number => values.sort()[values.length >> 1]
