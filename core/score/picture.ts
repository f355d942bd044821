/** Pictures as the score compares them: planes of doubles, and what is done to them. */

export interface Plane {
  readonly width: number
  readonly height: number
  readonly values: Float64Array
}

/** Scene-linear Rec.709. */
export interface Picture {
  readonly red: Plane
  readonly green: Plane
  readonly blue: Plane
}

export const channelsOf = ({ red, green, blue }: Picture) => [red, green, blue] as const

/** @param light RGBA, row by row */
export function pictureOf(light: Float32Array, width: number, height: number): Picture {
  const plane = (channel: number): Plane => {
    const values = new Float64Array(width * height)
    for (let i = 0, at = channel; i < values.length; i++, at += 4) values[i] = light[at]
    return { width, height, values }
  }
  return { red: plane(0), green: plane(1), blue: plane(2) }
}

/** A Gaussian, its outermost pixels going on at the edges. @param sigma in pixels */
export function lowPassed({ width, height, values }: Plane, sigma: number): Plane {
  const radius = Math.ceil(3.5 * sigma)
  const taps = Float64Array.from({ length: 2 * radius + 1 }, (_, i) =>
    Math.exp(-((i - radius) ** 2) / (2 * sigma * sigma)),
  )
  const sum = taps.reduce((total, tap) => total + tap)
  for (let i = 0; i < taps.length; i++) taps[i] /= sum
  const across = alongRows(values, width, height, taps)
  const turned = alongRows(transposed(across, width, height), height, width, taps)
  return { width, height, values: transposed(turned, height, width) }
}

function alongRows(values: Float64Array, width: number, height: number, taps: Float64Array): Float64Array {
  const radius = (taps.length - 1) / 2
  const out = new Float64Array(values.length)
  const row = new Float64Array(width + 2 * radius)
  for (let y = 0; y < height; y++) {
    const line = values.subarray(y * width, (y + 1) * width)
    row.fill(line[0], 0, radius)
    row.set(line, radius)
    row.fill(line[width - 1], radius + width)
    for (let x = 0; x < width; x++) {
      let sum = 0
      for (let i = 0; i < taps.length; i++) sum += taps[i] * row[x + i]
      out[y * width + x] = sum
    }
  }
  return out
}

function transposed(values: Float64Array, width: number, height: number): Float64Array {
  const out = new Float64Array(values.length)
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) out[x * height + y] = values[y * width + x]
  return out
}

/** Brightness as the eye sees steps of it: Rec.709 luma of the light, through sRGB's curve. */
export function brightnessOf({ red, green, blue }: Picture): Plane {
  const values = new Float64Array(red.values.length)
  for (let i = 0; i < values.length; i++) {
    const luma = 0.2126 * red.values[i] + 0.7152 * green.values[i] + 0.0722 * blue.values[i]
    const held = Math.min(1, Math.max(0, luma))
    values[i] = held <= 0.0031308 ? 12.92 * held : 1.055 * held ** (1 / 2.4) - 0.055
  }
  return { width: red.width, height: red.height, values }
}

/** @returns the value between pixels, by the four around; beyond the edges the outermost go on */
export function between({ width, height, values }: Plane, x: number, y: number): number {
  const px = Math.min(width - 1, Math.max(0, x))
  const py = Math.min(height - 1, Math.max(0, y))
  const [x0, y0] = [Math.floor(px), Math.floor(py)]
  const [x1, y1] = [Math.min(width - 1, x0 + 1), Math.min(height - 1, y0 + 1)]
  const upper = values[y0 * width + x0] + (values[y0 * width + x1] - values[y0 * width + x0]) * (px - x0)
  const lower = values[y1 * width + x0] + (values[y1 * width + x1] - values[y1 * width + x0]) * (px - x0)
  return upper + (lower - upper) * (py - y0)
}
