/** Scopes: where the light of a picture lies, by place, by level, by colour. Levels are in stops around mid grey, 0.18. */

/** Packed RGBA floats of a window, scene-linear. */
export interface LightWindow {
  readonly light: Float32Array
  readonly width: number
  readonly height: number
}

export type Weights = readonly [number, number, number]

/** Axis of levels: darker and brighter light lies at its ends. */
export const leastStops = -9
export const mostStops = 6
const grey = 0.18

/** @returns stops around 0.18, held to the axis; what is not above 0 lies at its lower end */
export function stopsOf(light: number): number {
  if (!(light > 0)) return leastStops
  return Math.min(mostStops, Math.max(leastStops, Math.log2(light / grey)))
}

/** Of each column: 5th, 50th and 95th percentile in stops, one after the other; NaN where there is nothing. */
export type Band = Float32Array

/** Pixels that an element does not cover say nothing about it. */
const leastCoverage = 0.5

/**
 * The spread of levels in each of so many columns across the window.
 *
 * @param weights of red, green and blue: luma's, or 1 for one channel
 */
export function levelBand({ light, width, height }: LightWindow, weights: Weights, columns: number): Band {
  const band = new Float32Array(columns * 3).fill(NaN)
  const counts = new Uint32Array(bandSteps)
  const [r, g, b] = weights
  for (let column = 0; column < columns; column++) {
    const from = Math.floor((column * width) / columns)
    const to = Math.min(width, Math.max(from + 1, Math.floor(((column + 1) * width) / columns)))
    counts.fill(0)
    let total = 0
    for (let y = 0; y < height; y++)
      for (let i = (y * width + from) * 4; i < (y * width + to) * 4; i += 4) {
        if (light[i + 3] < leastCoverage) continue
        counts[bandStep(r * light[i] + g * light[i + 1] + b * light[i + 2])]++
        total++
      }
    if (total > 0) bandShares.forEach((share, i) => (band[column * 3 + i] = levelOfRank(counts, share * total)))
  }
  return band
}

const bandShares = [0.05, 0.5, 0.95]
/** Steps of the axis that levels are counted in: a 32nd of a stop each is finer than a screen's pixel. */
const stepsPerStop = 32
const bandSteps = (mostStops - leastStops) * stepsPerStop

const oneFloat = new Float32Array(1)
const itsBits = new Uint32Array(oneFloat.buffer)

/** The step of every float, by its upper 16 bits: floats that share them differ by a 90th of a stop at most. */
const stepOfBits = Uint16Array.from({ length: 65536 }, (_, upper) => {
  itsBits[0] = (upper << 16) + 0x8000
  const step = Math.floor((stopsOf(oneFloat[0]) - leastStops) * stepsPerStop)
  return Math.min(bandSteps - 1, Math.max(0, step))
})

function bandStep(light: number): number {
  oneFloat[0] = light
  return stepOfBits[itsBits[0] >>> 16]
}

/** The middle of the step in which the value of a rank lies. */
function levelOfRank(counts: Uint32Array, rank: number): number {
  let sofar = 0
  for (let step = 0; step < bandSteps; step++) {
    sofar += counts[step]
    if (sofar > rank) return leastStops + (step + 0.5) / stepsPerStop
  }
  return mostStops
}

/** @returns for each of so many steps of the axis, the share of pixels whose level lies in it */
export function levelHistogram({ light, width, height }: LightWindow, weights: Weights, bins: number): Float32Array {
  const shares = new Float32Array(bins)
  const [r, g, b] = weights
  let count = 0
  for (let i = 0; i < width * height * 4; i += 4) {
    if (light[i + 3] < leastCoverage) continue
    const at = (stopsOf(r * light[i] + g * light[i + 1] + b * light[i + 2]) - leastStops) / (mostStops - leastStops)
    shares[Math.min(bins - 1, Math.floor(at * bins))]++
    count++
  }
  if (count > 0) for (let i = 0; i < bins; i++) shares[i] /= count
  return shares
}

/** Rec.709 luma and colour difference of code values (ITU-R BT.709, 3.3). */
const [kr, kb] = [0.2126, 0.0722]

/** How far from the middle the plane of colour differences is drawn. */
export const mostDifference = 0.25

/**
 * Where colours lie: blue minus luma to the right, red minus luma upwards, of light through a display's curve.
 *
 * @param encode from scene-linear to code values
 * @returns size x size shares of pixels, row by row from the upper left
 */
export function colourPlane(
  { light, width, height }: LightWindow,
  encode: (light: number) => number,
  size: number,
): Float32Array {
  const shares = new Float32Array(size * size)
  let count = 0
  for (let i = 0; i < width * height * 4; i += 4) {
    if (light[i + 3] < leastCoverage) continue
    const [r, g, b] = [0, 1, 2].map((c) => Math.min(1, Math.max(0, encode(light[i + c]) || 0)))
    const y = kr * r + (1 - kr - kb) * g + kb * b
    const across = (b - y) / (2 * (1 - kb)) / mostDifference
    const up = (r - y) / (2 * (1 - kr)) / mostDifference
    const column = Math.min(size - 1, Math.floor(((across + 1) / 2) * size))
    const row = Math.min(size - 1, Math.floor(((1 - up) / 2) * size))
    shares[row * size + column]++
    count++
  }
  if (count > 0) for (let i = 0; i < shares.length; i++) shares[i] /= count
  return shares
}

export interface RegionValues {
  readonly least: Weights
  readonly most: Weights
  readonly mean: Weights
  /** standard deviation */
  readonly spread: Weights
}

/** What lies in a region, channel by channel. NaN counts in nothing but itself: one makes the mean NaN. */
export function regionValues({ light, width, height }: LightWindow): RegionValues {
  const count = width * height
  const channel = (c: number) => {
    let [least, most, sum] = [Infinity, -Infinity, 0]
    for (let i = c; i < count * 4; i += 4) {
      const v = light[i]
      if (v < least) least = v
      if (v > most) most = v
      sum += v
    }
    const mean = sum / count
    let squares = 0
    for (let i = c; i < count * 4; i += 4) squares += (light[i] - mean) ** 2
    return { least, most, mean, spread: Math.sqrt(squares / count) }
  }
  const channels = [0, 1, 2].map(channel)
  const of = (name: keyof ReturnType<typeof channel>) => channels.map((values) => values[name]) as unknown as Weights
  return { least: of('least'), most: of('most'), mean: of('mean'), spread: of('spread') }
}

/** @returns how many stops brighter the second is than the first, channel by channel; NaN where one has no light */
export function stopsBetween(first: Weights, second: Weights): Weights {
  return first.map((value, c) =>
    value > 0 && second[c] > 0 ? Math.log2(second[c] / value) : NaN,
  ) as unknown as Weights
}
