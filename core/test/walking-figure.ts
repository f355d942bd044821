/** For tests and the bench: a textured wall that somebody walks along, filmed with noise, its lamps flickering. */

import { randomOf } from './random'

const { abs, cos, exp, hypot, min, max, sin } = Math

export interface WalkingFigure {
  readonly width: number
  readonly height: number
  /** deviation of the noise, the same in all channels and at all levels */
  readonly sigma: number
  /** scene-linear RGBA of the wall alone, as the first frame's lamps light it */
  readonly wall: Float32Array
  /** RGBA of every frame */
  readonly frames: readonly Float32Array[]
  /** coverage of the figure on every frame, as a grey */
  readonly covered: readonly Float32Array[]
}

export interface WalkingOptions {
  readonly frames: number
  readonly sigma: number
  /** how much of the frames something else covers the middle: 0.5 is half of the time */
  readonly lingers?: number
  /** gain and veil of a frame's lamps */
  readonly lamps?: (frame: number) => readonly [gain: number, veil: number]
}

export function walkingFigure(width: number, height: number, seed: number, options: WalkingOptions): WalkingFigure {
  const { sigma, lingers = 0.4, lamps = () => [1, 0] } = options
  const { uniform, normal } = randomOf(seed)
  const stones = Array.from({ length: 120 }, () => ({
    x: uniform() * width,
    y: uniform() * height,
    r: 4 + 14 * uniform(),
    light: 0.6 * (uniform() - 0.5),
  }))
  const texture = new Float32Array(width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let value = 1 + 0.25 * sin(x / 37) * cos(y / 23)
      for (const stone of stones) {
        const d = hypot(x - stone.x, (y - stone.y) * 1.4)
        if (d < stone.r * 1.6) value += stone.light * exp(-((d / stone.r) ** 4))
      }
      texture[y * width + x] = max(0.1, value)
    }
  const tones = [0.16, 0.14, 0.11]
  const wall = new Float32Array(width * height * 4)
  texture.forEach((value, i) => wall.set([tones[0] * value, tones[1] * value, tones[2] * value, 1], 4 * i))
  const covered: Float32Array[] = []
  const frames = Array.from({ length: options.frames }, (_, f) => {
    const matte = new Float32Array(width * height)
    const frame = new Float32Array(width * height * 4)
    // It walks across at a pace at which the middle is covered for the share of the time.
    const reach = (width * lingers) / 2
    const cx = -reach + ((width + 2 * reach) * (f + 0.5)) / options.frames
    const [gain, veil] = f === 0 ? [1, 0] : lamps(f)
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const i = y * width + x
        const d = hypot((x - cx) / reach, (y - height * 0.62) / (height * 0.34))
        const a = min(1, max(0, (1 - d) * reach))
        matte[i] = a
        // Its coat has a pattern that goes along.
        const coat = 0.5 + 0.5 * sin((x - cx) / 5 + f) * cos(y / 7 + f * 0.7) + 0.2 * abs(sin((x - cx) / 19))
        for (let c = 0; c < 3; c++) {
          const figure = [0.1, 0.07, 0.13][c] * (0.4 + coat)
          const light = wall[4 * i + c] * (1 - a) + figure * a
          frame[4 * i + c] = gain * light + veil + sigma * normal()
        }
        frame[4 * i + 3] = 1
      }
    covered.push(matte)
    return frame
  })
  return { width, height, sigma, wall, frames, covered }
}
