/**
 * What of a picture's light is the figure's own where it is partly covered: foreground and background that go on evenly, from coarse
 * to fine (Germer, Uelwer, Conrad and Harmeling 2020, "Fast multi-level foreground estimation").
 */

import type { ColourPlanes } from './colour-lines'

const { abs, ceil, max, min, round } = Math

/** How much neighbours count anyway, and how much more where coverage changes. */
const evenly = 1e-5
const byChange = 0.1
const smallSide = 32
const roundsSmall = 10
const roundsLarge = 2

/**
 * @param coverage 0 to 1
 * @returns straight light of what is in front, one channel a plane; where nothing is covered it goes on from nearby
 */
export function ownLight({ width, height, planes }: ColourPlanes, coverage: Float32Array): Float32Array[] {
  const levels = ceil(Math.log2(max(width, height)))
  let size = { width: 1, height: 1 }
  const front: Float32Array[] = planes.map((plane) => Float32Array.of(meanOf(plane)))
  const back: Float32Array[] = front.map((plane) => plane.slice())
  for (let level = 0; level <= levels; level++) {
    const share = level / levels
    const next = { width: max(1, round(width ** share)), height: max(1, round(height ** share)) }
    const alpha = sampled(coverage, width, height, next)
    const rounds = max(next.width, next.height) <= smallSide ? roundsSmall : roundsLarge
    planes.forEach((plane, c) => {
      front[c] = sampled(front[c], size.width, size.height, next)
      back[c] = sampled(back[c], size.width, size.height, next)
      const light = sampled(plane, width, height, next)
      for (let n = 0; n < rounds; n++) evenOut(front[c], back[c], light, alpha, next)
    })
    size = next
  }
  return front
}

const meanOf = (plane: Float32Array) => plane.reduce((sum, value) => sum + value, 0) / plane.length

interface Size {
  readonly width: number
  readonly height: number
}

/** The pixel that lies there, larger or smaller. */
function sampled(plane: Float32Array, width: number, height: number, to: Size): Float32Array {
  if (width === to.width && height === to.height) return plane.slice()
  const out = new Float32Array(to.width * to.height)
  for (let y = 0, o = 0; y < to.height; y++) {
    const row = min(height - 1, ((y * height) / to.height) | 0) * width
    for (let x = 0; x < to.width; x++) out[o++] = plane[row + min(width - 1, ((x * width) / to.width) | 0)]
  }
  return out
}

/** One round of Gauss and Seidel: each pixel's two lights from the picture and from its four neighbours. */
function evenOut(
  front: Float32Array,
  back: Float32Array,
  light: Float32Array,
  coverage: Float32Array,
  { width, height }: Size,
): void {
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const a = coverage[i]
      const b = 1 - a
      let weight = 0
      let sf = a * light[i]
      let sb = b * light[i]
      for (let side = 0; side < 4; side++) {
        const at =
          side === 0
            ? x > 0
              ? i - 1
              : i
            : side === 1
              ? x < width - 1
                ? i + 1
                : i
              : side === 2
                ? y > 0
                  ? i - width
                  : i
                : y < height - 1
                  ? i + width
                  : i
        const w = evenly + byChange * abs(a - coverage[at])
        weight += w
        sf += w * front[at]
        sb += w * back[at]
      }
      const m00 = a * a + weight
      const m01 = a * b
      const m11 = b * b + weight
      const over = 1 / (m00 * m11 - m01 * m01)
      front[i] = max(0, (m11 * sf - m01 * sb) * over)
      back[i] = max(0, (m00 * sb - m01 * sf) * over)
    }
}
