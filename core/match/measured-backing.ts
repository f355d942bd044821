/** The backing that something was filmed in front of, measured where it is surely seen: its channel, its light over the frame, its noise. */

import { backingSurface, surfaceAt, type BackingPick, type SurfaceFrame } from '../treatments/backing-surface'

export interface MeasuredBacking {
  readonly channel: 'red' | 'green' | 'blue'
  /** light of the smooth surface at places of it, full-scale pixels */
  readonly picks: readonly BackingPick[]
  /** deviation of coverage by noise where the backing is seen alone, at full scale */
  readonly noise: number
  /** share of the picture where it is surely seen */
  readonly share: number
  /** how much darker its darkest pick is than its brightest, 0 to 1 */
  readonly unevenness: number
}

const channels = ['red', 'green', 'blue'] as const
/** The backing's channel stands out by so much of itself, at least. */
const leastExcess = 0.12
/** Of the usual excess of what is surely backing. */
const surely = 0.55
const leastShare = 0.02
/** Pixels around must be backing too. */
const around = 2
const rounds = 3
/** Deviations beyond which a pixel is taken to be something else. */
const trimmed = 2.5
/** So many pixels tell a surface as well as all of them. */
const enough = 4000

/**
 * @param light RGBA of a picture of `width` x `height` pixels @param scale a pixel of it is so many of the frame
 * @returns null where there is no backing
 */
export function measuredBacking(
  light: Float32Array,
  width: number,
  height: number,
  scale: number,
): MeasuredBacking | null {
  const excess = channels.map((_, k) =>
    Float32Array.from({ length: width * height }, (_unused, i) => excessOf(light, i, k)),
  )
  const strong = excess.map((one) => [...one].sort((a, b) => a - b)[Math.floor(one.length * 0.95)])
  const k = strong.indexOf(Math.max(...strong))
  const usual = strong[k]
  const sure: number[] = []
  for (let y = around; y < height - around; y++)
    for (let x = around; x < width - around; x++) {
      const at = y * width + x
      if (isSure(light, excess[k], usual, at, k) && neighboursAre(excess[k], usual * surely, x, y, width)) sure.push(at)
    }
  if (sure.length < leastShare * width * height) return null
  const whole: SurfaceFrame = { x: (width * scale) / 2, y: (height * scale) / 2, unit: width * scale }
  const pickAt = (at: number): BackingPick => ({
    x: ((at % width) + 0.5) * scale,
    y: (Math.floor(at / width) + 0.5) * scale,
    light: [light[4 * at], light[4 * at + 1], light[4 * at + 2]],
  })
  let all = sure.filter((_, i) => i % Math.ceil(sure.length / enough) === 0).map(pickAt)
  let surface = backingSurface(all, whole)
  const excessAt = (x: number, y: number) => {
    const [r, g, b] = [0, 1, 2].map((c) => surfaceAt(surface, c, whole, x, y))
    return excessIn([r, g, b], k)
  }
  let deviation = 0
  for (let round = 0; round < rounds; round++) {
    const off = all.map(({ x, y, light: one }) => excessIn(one, k) - excessAt(x, y))
    deviation = Math.sqrt(off.reduce((sum, value) => sum + value * value, 0) / off.length)
    const kept = all.filter((_, i) => Math.abs(off[i]) <= trimmed * deviation)
    if (kept.length < 12 || kept.length === all.length) break
    all = kept
    surface = backingSurface(all, whole)
  }
  const picks = gridOver(all).map(({ x, y }) => ({
    x,
    y,
    light: [0, 1, 2].map((c) => Math.max(0, surfaceAt(surface, c, whole, x, y))),
  }))
  const levels = picks.map((pick) => pick.light[k])
  const stands = picks.reduce((sum, pick) => sum + excessIn(pick.light, k) / picks.length, 0)
  if (!(stands > 0)) return null
  return {
    channel: channels[k],
    picks,
    noise: (deviation * scale) / stands,
    share: sure.length / (width * height),
    unevenness: 1 - Math.min(...levels) / Math.max(...levels),
  }
}

const excessIn = (light: readonly number[], k: number) => light[k] - Math.max(...light.filter((_, c) => c !== k))
const excessOf = (light: Float32Array, i: number, k: number) =>
  light[4 * i + k] - Math.max(light[4 * i + (k === 0 ? 1 : 0)], light[4 * i + (k === 2 ? 1 : 2)])

const isSure = (light: Float32Array, excess: Float32Array, usual: number, at: number, k: number) =>
  excess[at] > usual * surely && excess[at] > leastExcess * light[4 * at + k] && light[4 * at + 3] > 0.99

function neighboursAre(excess: Float32Array, least: number, x: number, y: number, width: number): boolean {
  for (let j = -around; j <= around; j++)
    for (let i = -around; i <= around; i++) if (!(excess[(y + j) * width + x + i] > least)) return false
  return true
}

/** Places on a grid over where it was seen: as many as the surface needs to come out the same. */
function gridOver(picks: readonly BackingPick[]): readonly { readonly x: number; readonly y: number }[] {
  const [xs, ys] = [picks.map(({ x }) => x), picks.map(({ y }) => y)]
  const [left, right, top, bottom] = [min(xs), max(xs), min(ys), max(ys)]
  return [0, 1 / 3, 2 / 3, 1].flatMap((v) =>
    [0, 1 / 3, 2 / 3, 1].map((u) => ({
      x: Math.round(left + u * (right - left)),
      y: Math.round(top + v * (bottom - top)),
    })),
  )
}

const min = (values: readonly number[]) => values.reduce((a, b) => Math.min(a, b))
const max = (values: readonly number[]) => values.reduce((a, b) => Math.max(a, b))
