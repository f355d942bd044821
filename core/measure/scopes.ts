/** Scopes: where the light of a picture lies, by place, by level, by colour. Levels are in stops around mid grey, 0.18. */

import { levelBegins, levelCount, type Counting, type Weights } from '../kernels/counting'

/** Packed RGBA floats of a window, scene-linear. */
export interface LightWindow {
  readonly light: Float32Array
  readonly width: number
  readonly height: number
}

/** Axis of levels: darker and brighter light lies at its ends. */
export const leastStops = -9
export const mostStops = 6
const grey = 0.18

/** @returns stops around 0.18, held to the axis; what is not above 0 lies at its lower end */
export function stopsOf(light: number): number {
  if (!(light > 0)) return leastStops
  return Math.min(mostStops, Math.max(leastStops, Math.log2(light / grey)))
}

/** Their order is that of the layers drawn: spread of levels by place, the same per channel, by level, by colour. */
export type ScopeKind = 'waveform' | 'parade' | 'histogram' | 'vectorscope'

/** Side of the plane of colours. */
const planeSide = 128
/** Steps of the axis that a histogram is drawn in. */
const histogramSteps = 150

/**
 * What the engine counts for a scope.
 *
 * @param luma weights of red, green and blue
 * @param columns that a waveform is drawn in; never more than the window has
 * @param width of the window in pixels
 */
export function scopeCounting(kind: ScopeKind, luma: Weights, columns: number, width: number): Counting {
  const held = (wanted: number) => Math.max(1, Math.min(width, Math.round(wanted)))
  switch (kind) {
    case 'waveform':
      return { counts: 'luma', weights: luma, columns: held(columns) }
    case 'parade':
      return { counts: 'channels', columns: held(columns / 3) }
    case 'histogram':
      return { counts: 'channels', columns: 1 }
    case 'vectorscope':
      return { counts: 'colours', size: planeSide }
  }
}

/** @returns what is drawn of a layer: one trace, or one each of red, green and blue */
export function scopeTraces(kind: ScopeKind, counting: Counting, counts: Uint32Array): Float32Array[] {
  if (counting.counts === 'colours') return [shares(counts)]
  const channels = counting.counts === 'luma' ? 1 : 3
  const each = counts.length / channels
  return Array.from({ length: channels }, (_, c) => {
    const own = counts.subarray(c * each, (c + 1) * each)
    return kind === 'histogram' ? levelHistogram(own, histogramSteps) : levelBand(own)
  })
}

/** Of each column: 5th, 50th and 95th percentile in stops, one after the other; NaN where there is nothing. */
export type Band = Float32Array

const bandShares = [0.05, 0.5, 0.95]

/** The ends of every level, in stops on the axis. */
const levelEnds = Float64Array.from({ length: levelCount + 1 }, (_, level) => stopsOf(levelBegins(level)))
levelEnds[0] = leastStops
levelEnds[levelCount] = mostStops

/** @param counts of levels, column after column */
export function levelBand(counts: Uint32Array): Band {
  const columns = counts.length / levelCount
  const band = new Float32Array(columns * 3).fill(NaN)
  for (let column = 0; column < columns; column++) {
    const first = column * levelCount
    let total = 0
    for (let level = 0; level < levelCount; level++) total += counts[first + level]
    if (total === 0) continue
    let [sofar, level] = [counts[first], 0]
    bandShares.forEach((share, i) => {
      while (sofar <= share * total && level < levelCount - 1) sofar += counts[first + ++level]
      band[column * 3 + i] = (levelEnds[level] + levelEnds[level + 1]) / 2
    })
  }
  return band
}

/**
 * @param counts of levels, of one column
 * @returns for each of so many steps of the axis, the share of pixels whose level lies in it
 */
export function levelHistogram(counts: Uint32Array, steps: number): Float32Array {
  const total = counts.reduce((sum, count) => sum + count, 0)
  const found = new Float32Array(steps)
  if (total === 0) return found
  const stepOf = (stops: number) => ((stops - leastStops) / (mostStops - leastStops)) * steps
  counts.forEach((count, level) => {
    if (count === 0) return
    const [from, to] = [stepOf(levelEnds[level]), stepOf(levelEnds[level + 1])]
    // Levels beyond the axis lie at its ends.
    if (to - from < 1e-9) found[Math.min(steps - 1, Math.floor(from))] += count / total
    else
      for (let step = Math.floor(from); step < to; step++)
        found[step] += ((Math.min(to, step + 1) - Math.max(from, step)) / (to - from)) * (count / total)
  })
  return found
}

/** @returns the counts as shares of all of them */
function shares(counts: Uint32Array): Float32Array {
  const total = counts.reduce((sum, count) => sum + count, 0)
  return Float32Array.from(counts, (count) => (total === 0 ? 0 : count / total))
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
