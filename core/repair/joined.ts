/**
 * One pixel of many frames: what most of them agree on. A median fails where something stands before a place half of the time;
 * the densest cluster does not, since what passes looks different from frame to frame.
 */

import { deviationAt, type NoiseByLight } from './noise-over-frames'

/** Pixels of a window of every frame, RGBA, with one pixel more on every side. */
export interface Samples {
  /** of the window without the pixels around it */
  readonly width: number
  readonly height: number
  readonly light: readonly Float32Array[]
  /** 1 where something that is not the plate covers a frame; null where nothing is known of it */
  readonly covered: readonly (Float32Array | null)[]
}

export interface Joined {
  /** RGBA; alpha is 0 where no frame shows the place */
  readonly light: Float32Array
  /** how many frames each pixel is the mean of */
  readonly count: Uint16Array
}

/** Squared distance of three channels, in deviations, that one of a thousand pairs exceeds (chi squared). */
const farOff = 16.27
/** A pixel's neighbourhood, of which the mean is compared: noise falls to a third. */
const around = 9
const coveredFrom = 0.02
/** Frames that are tried as the middle of a cluster: one that counts holds some of them. */
const mostCentres = 16
const { abs, floor, max, sqrt } = Math

/** @param noise of each channel */
export function joined({ width, height, light, covered }: Samples, noise: readonly NoiseByLight[]): Joined {
  const n = light.length
  const stride = width + 2
  const out = new Float32Array(width * height * 4)
  const count = new Uint16Array(width * height)
  const smooth = [0, 1, 2].map(() => new Float32Array(n))
  const there = new Int32Array(n)
  const inverse = new Float64Array(3)
  const mean = new Float64Array(3)
  for (let y = 0, o = 0; y < height; y++)
    for (let x = 0; x < width; x++, o++) {
      const middle = ((y + 1) * stride + x + 1) * 4
      let known = 0
      for (let f = 0; f < n; f++) {
        const matte = covered[f]
        const one = light[f]
        if (matte && matte[middle] > coveredFrom) continue
        if (!(one[middle + 3] > 0)) continue
        for (let c = 0; c < 3; c++) {
          let sum = 0
          for (let dy = -1; dy <= 1; dy++) {
            const row = middle + dy * stride * 4 + c
            sum += one[row - 4] + one[row] + one[row + 4]
          }
          smooth[c][known] = sum / around
        }
        there[known++] = f
      }
      if (known === 0) continue
      for (let c = 0; c < 3; c++) {
        mean[c] = 0
        for (let f = 0; f < known; f++) mean[c] += smooth[c][f] / known
        // At least a thousandth of the light: pictures without noise are no law of nature.
        const deviation = max(deviationAt(noise[c], mean[c]), 1e-3 * abs(mean[c]), 1e-6)
        inverse[c] = around / (deviation * deviation)
      }
      const members = agreeing(smooth, there, known, inverse, mean)
      for (let c = 0; c < 3; c++) {
        let sum = 0
        for (let m = 0; m < members; m++) sum += light[there[m]][middle + c]
        out[o * 4 + c] = sum / members
      }
      out[o * 4 + 3] = 1
      count[o] = members
    }
  return { light: out, count }
}

/**
 * Puts the frames that agree first.
 *
 * @param mean of all of them @returns how many agree
 */
function agreeing(
  smooth: readonly Float32Array[],
  there: Int32Array,
  known: number,
  inverse: Float64Array,
  mean: Float64Array,
): number {
  const [r, g, b] = smooth
  const apart = (f: number, cr: number, cg: number, cb: number) => {
    const [dr, dg, db] = [r[f] - cr, g[f] - cg, b[f] - cb]
    return dr * dr * inverse[0] + dg * dg * inverse[1] + db * db * inverse[2]
  }
  // Mostly nothing passes there: all agree with their mean.
  let farthest = 0
  for (let f = 0; f < known; f++) farthest = max(farthest, apart(f, mean[0], mean[1], mean[2]))
  if (farthest <= farOff) return known
  // The frame that most others lie close to; of several the one to which they lie closest.
  let best = -1
  let centre = 0
  const every = max(1, floor(known / mostCentres))
  for (let f = 0; f < known; f += every) {
    let density = 0
    for (let other = 0; other < known; other++) {
      const d = apart(other, r[f], g[f], b[f]) / 2
      if (d < farOff) density += 1 + 0.01 * (1 - d / farOff)
    }
    if (density > best) [best, centre] = [density, f]
  }
  let [cr, cg, cb] = [r[centre], g[centre], b[centre]]
  let members = 0
  for (let round = 0; round < 3; round++) {
    let [sr, sg, sb] = [0, 0, 0]
    members = 0
    // The first centre is one noisy frame itself.
    const within = round === 0 ? 2 * farOff : farOff * (1 + 1 / max(1, known))
    for (let f = 0; f < known; f++)
      if (apart(f, cr, cg, cb) < within) {
        ;[sr, sg, sb] = [sr + r[f], sg + g[f], sb + b[f]]
        members++
      }
    if (members === 0) break
    ;[cr, cg, cb] = [sr / members, sg / members, sb / members]
  }
  const within = farOff * (1 + 1 / sqrt(max(1, members)))
  let first = 0
  for (let f = 0; f < known; f++)
    if (apart(f, cr, cg, cb) < within) {
      const frame = there[f]
      there[f] = there[first]
      there[first++] = frame
      for (const one of smooth) {
        const value = one[f]
        one[f] = one[first - 1]
        one[first - 1] = value
      }
    }
  if (first > 0) return first
  // Nothing agrees with anything: the frame that comes nearest.
  const frame = there[centre]
  there[centre] = there[0]
  there[0] = frame
  return 1
}
