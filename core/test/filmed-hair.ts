/** For tests and the bench: a figure with hair before a backing that is lit unevenly, with spill, motion blur and noise. */

import type { Window } from '../image/window'
import { randomOf } from './random'

const { cos, exp, floor, hypot, max, min, PI, sin } = Math

export interface FilmedHair {
  readonly width: number
  readonly height: number
  /** scene-linear RGBA, opaque, as it was filmed */
  readonly filmed: Float32Array
  readonly alpha: Float32Array
  /** light of the figure without backing and spill, premultiplied */
  readonly figure: Float32Array
}

const backing = [0.06, 0.36, 0.09] as const

/** Light of the backing: a fifth darker towards the edges. */
export const backingAt = (x: number, y: number, c: number, { width, height }: Pick<Window, 'width' | 'height'>) =>
  backing[c] * (1.08 - 0.8 * ((x / width - 0.4) ** 2 + 0.6 * (y / height - 0.5) ** 2))

/**
 * @param noise deviation of the camera's noise
 * @param fine places of each pixel and moment that coverage is the mean of
 */
export function filmedHair(width: number, height: number, seed: number, noise = 0.008, fine = 3): FilmedHair {
  const { uniform, normal } = randomOf(seed)
  const [cx, cy, r] = [width / 2, height * 0.62, height * 0.27]
  // Strands leave the head and bend.
  const strands = Array.from({ length: 220 }, () => {
    const angle = -PI * uniform()
    const bend = 0.8 * (uniform() - 0.5)
    const length = r * (0.15 + 0.55 * uniform())
    return { angle, bend, length, thick: 0.35 + 0.8 * uniform() }
  })
  const alpha = new Float32Array(width * height)
  const add = (x: number, y: number, value: number) => {
    const [i, j] = [floor(x), floor(y)]
    if (i >= 0 && j >= 0 && i < width && j < height) alpha[j * width + i] = min(1, alpha[j * width + i] + value)
  }
  // The head turns a little while the shutter is open.
  const moments = 5
  const summed = new Float32Array(width * height)
  for (let m = 0; m < moments; m++) {
    alpha.fill(0)
    const dx = (m / (moments - 1) - 0.5) * 2.4
    for (let j = 0; j < height; j++)
      for (let i = 0; i < width; i++) {
        let inside = 0
        for (let a = 0; a < fine; a++)
          for (let b = 0; b < fine; b++) {
            const [x, y] = [i + (a + 0.5) / fine - dx, j + (b + 0.5) / fine]
            const body = y > cy && Math.abs(x - cx) < r * (0.7 + (1.2 * (y - cy)) / height)
            if (hypot(x - cx, y - cy) < r || body) inside++
          }
        alpha[j * width + i] = inside / (fine * fine)
      }
    for (const { angle, bend, length, thick } of strands) {
      const steps = floor(length * 3)
      for (let s = 0; s < steps; s++) {
        const t = s / steps
        const at = angle + bend * t * t
        const out = r - 2 + length * t
        const weight = (thick * (1 - 0.6 * t)) / 3
        add(cx + dx + out * cos(at), cy + out * sin(at), weight)
      }
    }
    for (let i = 0; i < alpha.length; i++) summed[i] += alpha[i] / moments
  }
  const filmed = new Float32Array(width * height * 4)
  const figure = new Float32Array(width * height * 4)
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      const at = j * width + i
      const a = summed[at]
      const away = hypot(i - cx, j - cy) / r
      const hair = away > 0.8 || j < cy
      const shade = 0.7 + 0.3 * sin(i / 9) * cos(j / 11)
      const own = (hair ? [0.16, 0.1, 0.065] : [0.42, 0.27, 0.2]).map((value) => value * shade)
      // Light from the backing on what stands before it, most at its rim.
      const spilt = 0.03 * exp(-((1 - min(1, away)) ** 2) * 6)
      for (let c = 0; c < 3; c++) {
        const b = backingAt(i + 0.5, j + 0.5, c, { width, height })
        figure[at * 4 + c] = a * own[c]
        filmed[at * 4 + c] = max(0, a * (own[c] + spilt * (b / backing[1])) + (1 - a) * b + noise * normal())
      }
      figure[at * 4 + 3] = a
      filmed[at * 4 + 3] = 1
    }
  return { width, height, filmed, alpha: summed, figure }
}
