/** For the tests and the bench: discs with a texture and an edge of a pixel, before nothing, where they are at a time. */

import type { Picture } from '../flow'

const { abs, hypot, max, min, sin, cos } = Math

export interface Disc {
  readonly at: (time: number) => readonly [number, number]
  readonly radius: number
}

export class MovingDiscs {
  constructor(
    readonly discs: readonly Disc[],
    readonly width = 160,
    readonly height = 100,
  ) {}

  seen(time: number): Picture {
    const { width, height } = this
    const light = new Float32Array(width * height * 4)
    for (const { at, radius } of this.discs) {
      const [mx, my] = at(time)
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) {
          const [dx, dy] = [x + 0.5 - mx, y + 0.5 - my]
          const a = min(1, max(0, radius - hypot(dx, dy) + 0.5))
          if (a === 0) continue
          const i = 4 * (y * width + x)
          const tone = 0.3 + 0.15 * sin(dx / 2.3) * cos(dy / 2.9)
          ;[tone, 0.8 * tone, 0.5 * tone, 1].forEach((one, c) => (light[i + c] = a * one + (1 - a) * light[i + c]))
        }
    }
    return { width, height, light }
  }

  /** As a shutter sees it that is open around a moment: the mean of so many exact pictures. */
  exposed(open: number, moments = 64): Float32Array {
    const sum = new Float64Array(this.width * this.height * 4)
    for (let m = 0; m < moments; m++)
      this.seen(((m + 0.5) / moments - 0.5) * open).light.forEach((one, i) => (sum[i] += one / moments))
    return Float32Array.from(sum)
  }

  get frames() {
    return { picture: this.seen(0), before: this.seen(-1), after: this.seen(1) }
  }
}

/** Over all that is not empty in either. */
export function meanError(a: Float32Array, b: Float32Array): number {
  let [sum, many] = [0, 0]
  for (let i = 0; i < a.length; i++) if (a[i] > 0.002 || b[i] > 0.002) [sum, many] = [sum + abs(a[i] - b[i]), many + 1]
  return sum / many
}
