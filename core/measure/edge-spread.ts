/** How soft an edge is. */

import { solved } from '../algebra/solved'
import { erf } from '../kernels/gaussian'
import type { Window } from '../image/window'

export interface EdgeSpread {
  /** sigma of the Gaussian that a perfect edge would have been blurred by, in pixels */
  readonly sigma: number
  /** standard error by noise */
  readonly error: number
}

/** What an edge is looked for in: brightness, or the outline of what covers. */
export type EdgeOf = 'light' | 'coverage'

export const planeOf = (light: Float32Array, of: EdgeOf): Float64Array =>
  Float64Array.from({ length: light.length >> 2 }, (_, i) =>
    of === 'coverage' ? light[4 * i + 3] : light[4 * i] + light[4 * i + 1] + light[4 * i + 2],
  )

const binWidth = 0.25
const fewestBins = 12
const rounds = 40
/** However faint the edge. */
const leastPivot = 1e-300
/** An edge that rises by less of its noise is none. */
const leastContrast = 4
const widest = 8

/**
 * Of one straight edge: pixels are put in order of their distance from it along its normal, in quarters of a pixel, and an
 * error function is fitted to their means (as ISO 12233 has it for slanted edges).
 *
 * @param light RGBA of the window
 * @returns null where there is no single edge
 */
export function edgeSpread(
  light: Float32Array,
  { width, height }: Pick<Window, 'width' | 'height'>,
  of: EdgeOf = 'light',
): EdgeSpread | null {
  const plane = planeOf(light, of)
  if (!plane.every(Number.isFinite)) return null
  const normal = normalOf(plane, width, height)
  if (!normal) return null
  const bins = new Map<number, { sum: number; squares: number; count: number }>()
  plane.forEach((value, i) => {
    const distance = ((i % width) - (width - 1) / 2) * normal.x + (Math.floor(i / width) - (height - 1) / 2) * normal.y
    const key = Math.round(distance / binWidth)
    const bin = bins.get(key) ?? { sum: 0, squares: 0, count: 0 }
    bins.set(key, { sum: bin.sum + value, squares: bin.squares + value * value, count: bin.count + 1 })
  })
  const points = [...bins].map(([key, { sum, count }]) => ({ x: key * binWidth, y: sum / count, weight: count }))
  return points.length < fewestBins ? null : fitted(points)
}

/** The direction in which it rises, by the structure tensor. @returns null where no direction stands out */
function normalOf(
  plane: Float64Array,
  width: number,
  height: number,
): { readonly x: number; readonly y: number } | null {
  let [xx, xy, yy] = [0, 0, 0]
  for (let y = 1; y + 1 < height; y++)
    for (let x = 1; x + 1 < width; x++) {
      const i = y * width + x
      const [gx, gy] = [plane[i + 1] - plane[i - 1], plane[i + width] - plane[i - width]]
      xx += gx * gx
      xy += gx * gy
      yy += gy * gy
    }
  const angle = 0.5 * Math.atan2(2 * xy, xx - yy)
  const spread = Math.hypot(xx - yy, 2 * xy)
  return spread > 0.5 * (xx + yy) ? { x: Math.cos(angle), y: Math.sin(angle) } : null
}

interface Point {
  readonly x: number
  readonly y: number
  readonly weight: number
}

/** Gauss-Newton on low, rise, place and sigma, held back where a step makes it worse (Levenberg 1944). */
function fitted(points: readonly Point[]): EdgeSpread | null {
  const sorted = [...points].sort((a, b) => a.x - b.x)
  const end = Math.max(2, sorted.length >> 3)
  const mean = (some: readonly Point[]) =>
    some.reduce((sum, one) => sum + one.y * one.weight, 0) / some.reduce((sum, one) => sum + one.weight, 0)
  const [low, high] = [mean(sorted.slice(0, end)), mean(sorted.slice(-end))]
  let best = [low, high - low, 0, 0.8]
  const model = (values: readonly number[], x: number) =>
    values[0] + (values[1] / 2) * (1 + erf((x - values[2]) / (Math.SQRT2 * values[3])))
  const cost = (values: readonly number[]) => {
    let sum = 0
    for (const { x, y, weight } of points) sum += weight * (y - model(values, x)) ** 2
    return sum
  }
  let damping = 1e-3
  let least = cost(best)
  let normal: number[][] = []
  for (let round = 0; round < rounds; round++) {
    normal = [0, 1, 2, 3].map(() => [0, 0, 0, 0])
    const right = [0, 0, 0, 0]
    const steps = best.map((value) => 1e-5 * Math.max(1, Math.abs(value)))
    const moved = best.map((_, k) => best.map((value, j) => (j === k ? value + steps[k] : value)))
    const slope = [0, 0, 0, 0]
    for (const { x, y, weight } of points) {
      const now = model(best, x)
      for (let k = 0; k < 4; k++) slope[k] = (model(moved[k], x) - now) / steps[k]
      const off = y - now
      for (let a = 0; a < 4; a++) {
        right[a] += weight * slope[a] * off
        for (let b = 0; b < 4; b++) normal[a][b] += weight * slope[a] * slope[b]
      }
    }
    const damped = normal.flatMap((row, a) => row.map((value, b) => (a === b ? value * (1 + damping) : value)))
    const step = solved(damped, right, leastPivot)
    if (!step) return null
    const next = best.map((value, k) => value + step[k])
    next[3] = Math.min(widest, Math.max(0.05, Math.abs(next[3])))
    const now = cost(next)
    if (now < least) {
      const done = least - now < 1e-10 * least
      ;[best, least, damping] = [next, now, damping / 4]
      if (done) break
    } else damping *= 8
  }
  const count = points.reduce((sum, { weight }) => sum + weight, 0)
  const noise = least / Math.max(1, points.length - 4)
  const inverse = solved(normal.flat(), [0, 0, 0, 1], leastPivot)
  if (!inverse || !(inverse[3] > 0) || best[3] >= widest) return null
  if (Math.abs(best[1]) < leastContrast * Math.sqrt(noise / (count / points.length))) return null
  return { sigma: best[3], error: Math.sqrt(noise * inverse[3]) }
}
