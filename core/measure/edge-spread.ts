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
const sharpest = 0.05
/** From here on, in pixels, the slope at the best fit tells how sure it is. */
const bySlope = 0.5
const firstReach = 0.02
const halvings = 5

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

type Values = readonly [low: number, rise: number, place: number, sigma: number]

interface Fit {
  readonly values: Values
  readonly cost: number
  /** of the last step that made it better */
  readonly normal: readonly (readonly number[])[]
}

const model = ([low, rise, place, sigma]: Values, x: number) =>
  low + (rise / 2) * (1 + erf((x - place) / (Math.SQRT2 * sigma)))

function fitted(points: readonly Point[]): EdgeSpread | null {
  const sorted = [...points].sort((a, b) => a.x - b.x)
  const end = Math.max(2, sorted.length >> 3)
  const mean = (some: readonly Point[]) =>
    some.reduce((sum, one) => sum + one.y * one.weight, 0) / some.reduce((sum, one) => sum + one.weight, 0)
  const [low, high] = [mean(sorted.slice(0, end)), mean(sorted.slice(-end))]
  const best = nearest(points, [low, high - low, 0, 0.8], 4)
  const [, rise, , sigma] = best.values
  const count = points.reduce((sum, { weight }) => sum + weight, 0)
  const noise = best.cost / Math.max(1, points.length - 4)
  if (sigma >= widest || Math.abs(rise) < leastContrast * Math.sqrt(noise / (count / points.length))) return null
  if (sigma < bySlope) return { sigma, error: reachOf(points, best, noise) }
  const inverse = solved(best.normal.flat(), [0, 0, 0, 1], leastPivot)
  return inverse && inverse[3] > 0 ? { sigma, error: Math.sqrt(noise * inverse[3]) } : null
}

/**
 * Gauss-Newton, held back where a step makes it worse (Levenberg 1944).
 *
 * @param free so many of the values, from the first: without the last one sigma is kept
 */
function nearest(points: readonly Point[], start: Values, free: 3 | 4): Fit {
  const cost = (values: Values) => {
    let sum = 0
    for (const { x, y, weight } of points) sum += weight * (y - model(values, x)) ** 2
    return sum
  }
  let best = start
  let damping = 1e-3
  let least = cost(best)
  let normal: number[][] = []
  const some = [0, 1, 2, 3].slice(0, free)
  for (let round = 0; round < rounds; round++) {
    normal = some.map(() => some.map(() => 0))
    const right = some.map(() => 0)
    const steps = best.map((value) => 1e-5 * Math.max(1, Math.abs(value)))
    const moved = some.map((k) => best.map((value, j) => (j === k ? value + steps[k] : value)) as unknown as Values)
    const slope = some.map(() => 0)
    for (const { x, y, weight } of points) {
      const now = model(best, x)
      for (let k = 0; k < free; k++) slope[k] = (model(moved[k], x) - now) / steps[k]
      const off = y - now
      for (let a = 0; a < free; a++) {
        right[a] += weight * slope[a] * off
        for (let b = 0; b < free; b++) normal[a][b] += weight * slope[a] * slope[b]
      }
    }
    const damped = normal.flatMap((row, a) => row.map((value, b) => (a === b ? value * (1 + damping) : value)))
    const step = solved(damped, right, leastPivot)
    // Where a value changes nothing there is no nearer one.
    if (!step) break
    const [low, rise, place, sigma] = best.map((value, k) => value + (step[k] ?? 0))
    const next: Values = [low, rise, place, Math.min(widest, Math.max(sharpest, Math.abs(sigma)))]
    const now = cost(next)
    if (now < least) {
      const done = least - now < 1e-10 * least
      ;[best, least, damping] = [next, now, damping / 4]
      if (done) break
    } else damping *= 8
  }
  return { values: best, cost: least, normal }
}

/**
 * How far sigma may go until the edge fits worse by what noise makes of it (profile likelihood): an edge that runs along pixels and
 * is sharper than one has as many sigmas as one likes, which no slope tells.
 */
function reachOf(points: readonly Point[], { values, cost }: Fit, noise: number): number {
  const [low, rise, place, found] = values
  const isWorse = (sigma: number) => nearest(points, [low, rise, place, sigma], 3).cost > cost + noise
  const upTo = () => {
    let far = found + firstReach
    while (far < widest && !isWorse(far)) far = found + 2 * (far - found)
    return between(found, far)
  }
  /** to the last that is no worse */
  const between = (inside: number, outside: number) => {
    let [near, far] = [inside, outside]
    for (let k = 0; k < halvings; k++) {
      const middle = (near + far) / 2
      if (isWorse(middle)) far = middle
      else near = middle
    }
    return Math.abs((near + far) / 2 - found)
  }
  const down = isWorse(sharpest) ? between(found, sharpest) : found
  return Math.max(upTo(), down)
}
