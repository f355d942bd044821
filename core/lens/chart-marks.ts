/**
 * The marks of a chart of dark and light squares, found in a photograph: the corners where four squares meet, with each one's column and row.
 *
 * Corners are saddles of the softened picture. They are placed where all slopes around point past them (Foerstner and Guelch 1987), and counted
 * out from one of them: the next one lies a step further, and its squares are dark where its neighbour's are light.
 */

import { medianOf } from '../algebra/median'
import { bent } from '../motion/lens'
import { throughMatrix } from '../motion/mapping'
import type { Spot } from '../motion/placing'
import { slopesOfPicture, type Slopes } from '../track/slopes'
import type { Plane } from '../track/spline'
import { ChartTellsNothingError, lensFromChart, type ChartSeen } from './lens-from-chart'

const { abs, exp, floor, hypot, max, min, round } = Math

/** Softened by so many pixels: wide enough for grain and blur, narrow enough for squares of 8 px. */
const sigma = 1.6
/** Slopes for placing: softened less, so that what lies beside changes little. */
const sigmaOfPlacing = 0.8
/** Pixels around a corner that place it, at first and at most; a share of the way to the next corner. */
const firstReach = 4
const mostReach = 11
const shareOfStep = 0.4
const mostTurns = 20
/** A corner that is placed farther from its saddle is none. */
const farthest = 3
/** Of what the strongest saddles have. */
const weakest = 0.02
const strongest = 40
/** So many corners are tried to count from. */
const tries = 80
/** Of a step: how far off the next corner may lie, and how far a corner may lie off the middle of its neighbours. */
const off = 0.35
const mostBend = 0.12
const fewest = 12
/** Of what the lightest and the darkest square about a corner differ by: how far the light ones are lighter than the dark ones at least. */
const clear = 0.3
/** From where the inner corners tell it to be: pixels, and times what these are off by themselves. */
const leastOff = 1
const timesOff = 6

interface Corner {
  readonly x: number
  readonly y: number
}
interface Counted extends Corner {
  readonly column: number
  readonly row: number
  /** to the next column and the next row */
  readonly a: Spot
  readonly b: Spot
}

/**
 * @param picture scene-linear brightness
 * @returns columns and rows counted from any corner, and places in pixels of the picture, a pixel's middle at its half; null where there is no
 *   such chart
 */
export function chartMarks(picture: Plane): ChartSeen | null {
  const fine = slopesOfPicture(picture, sigmaOfPlacing, 'light')
  const corners = saddlesOf(slopesOfPicture(picture, sigma, 'seen'))
    .map((saddle) => ({ saddle, corner: placed(fine, saddle, firstReach) }))
    .filter(({ saddle, corner }) => corner && hypot(corner.x - saddle.x, corner.y - saddle.y) < farthest)
    .flatMap(({ corner }) => corner ?? [])
  let best: readonly Counted[] = []
  for (const seed of corners.slice(0, tries)) {
    const found = countedFrom(seed, corners, picture)
    if (found.length > best.length) best = found
    if (best.length > 0.7 * corners.length) break
  }
  const kept = inLine(best).map((one) => {
    const step = min(hypot(...one.a), hypot(...one.b))
    const fined = placed(fine, one, max(firstReach, min(mostReach, floor(shareOfStep * step))))
    return fined && hypot(fined.x - one.x, fined.y - one.y) < 1 ? { ...one, ...fined } : one
  })
  const there = inLine(ofOneChart(kept, picture))
  if (there.length < fewest) return null
  return seenAs(there)
}

const seenAs = (counted: readonly Counted[]): ChartSeen => ({
  marks: counted.map(({ column, row }) => [column, row] as const),
  seen: counted.map(({ x, y }) => [x + 0.5, y + 0.5] as const),
})

/**
 * Where a chart's outermost squares meet what is behind it, there may be corners that are none of its own: they are told by the lens and the
 * perspective of those that have others all around them.
 */
function ofOneChart(counted: readonly Counted[], { width, height }: Plane): readonly Counted[] {
  const there = new Set(counted.map(({ column, row }) => `${column} ${row}`))
  const around = [-1, 0, 1].flatMap((di) => [-1, 0, 1].map((dj) => [di, dj] as const))
  const inner = counted.filter(({ column, row }) => around.every(([di, dj]) => there.has(`${column + di} ${row + dj}`)))
  if (inner.length < fewest) return counted
  try {
    const { lens, rms, motions } = lensFromChart([seenAs(inner)], { frame: { width, height } }, [['k1']])
    const [motion] = motions
    return counted.filter(({ column, row, x, y }) => {
      const straight = throughMatrix(motion, column, row)
      const expected = straight && bent(lens, straight)
      return expected && hypot(expected[0] - x - 0.5, expected[1] - y - 0.5) < max(leastOff, timesOff * rms)
    })
  } catch (error) {
    if (error instanceof ChartTellsNothingError) return []
    throw error
  }
}

/** Strongest first. */
function saddlesOf({ width, height, across, down }: Slopes): Corner[] {
  const saddle = new Float32Array(width * height)
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x
      const xx = (across[i + 1] - across[i - 1]) / 2
      const xy = (across[i + width] - across[i - width]) / 2
      const yy = (down[i + width] - down[i - width]) / 2
      saddle[i] = xy * xy - xx * yy
    }
  const found: { readonly x: number; readonly y: number; readonly strength: number }[] = []
  for (let y = 5; y < height - 5; y++)
    for (let x = 5; x < width - 5; x++) {
      const strength = saddle[y * width + x]
      if (strength > 0 && isTop(saddle, width, x, y)) found.push({ x, y, strength })
    }
  found.sort((one, other) => other.strength - one.strength)
  const strong = medianOf(found.slice(0, strongest).map(({ strength }) => strength))
  return found.filter(({ strength }) => strength > weakest * strong)
}

function isTop(values: Float32Array, width: number, x: number, y: number): boolean {
  const here = values[y * width + x]
  for (let dy = -2; dy <= 2; dy++)
    for (let dx = -2; dx <= 2; dx++) {
      const there = values[(y + dy) * width + x + dx]
      if (there > here || (there === here && (dy < 0 || (dy === 0 && dx < 0)))) return false
    }
  return true
}

/** Where the slopes around point past: an edge tells only that the corner lies on it, two edges tell where. */
function placed({ width, height, across, down }: Slopes, from: Corner, reach: number): Corner | null {
  let { x, y } = from
  for (let turn = 0; turn < mostTurns; turn++) {
    const [left, top] = [round(x) - reach, round(y) - reach]
    if (left < 0 || top < 0 || left + 2 * reach >= width || top + 2 * reach >= height) return null
    let [xx, xy, yy, bx, by] = [0, 0, 0, 0, 0]
    for (let py = top; py <= top + 2 * reach; py++)
      for (let px = left; px <= left + 2 * reach; px++) {
        const i = py * width + px
        const far = ((px - x) ** 2 + (py - y) ** 2) / (reach * reach)
        if (far >= 1) continue
        const weight = exp(-2 * far)
        const [gx, gy] = [across[i], down[i]]
        const [wxx, wxy, wyy] = [weight * gx * gx, weight * gx * gy, weight * gy * gy]
        xx += wxx
        xy += wxy
        yy += wyy
        bx += wxx * px + wxy * py
        by += wxy * px + wyy * py
      }
    const determinant = xx * yy - xy * xy
    // One edge alone: it tells nothing along itself.
    if (!(determinant > 0.02 * (xx + yy) ** 2)) return null
    const [nextX, nextY] = [(yy * bx - xy * by) / determinant, (xx * by - xy * bx) / determinant]
    const moved = hypot(nextX - x, nextY - y)
    ;[x, y] = [nextX, nextY]
    if (hypot(x - from.x, y - from.y) > 2 * farthest) return null
    if (moved < 1e-3) break
  }
  return { x, y }
}

/**
 * Which two of the four squares about a corner are light: 1 those between both steps forth and both back, -1 the others; 0 where they are not two
 * and two, as at the outer corner of a dark square on white paper.
 */
function lightness({ values, width, height }: Plane, { x, y }: Corner, a: Spot, b: Spot): number {
  const at = (i: number, j: number) => {
    const [px, py] = [round(x + i * a[0] + j * b[0]), round(y + i * a[1] + j * b[1])]
    if (px < 1 || py < 1 || px + 1 >= width || py + 1 >= height) return NaN
    let sum = 0
    for (let k = 0; k < 9; k++) sum += values[(py + floor(k / 3) - 1) * width + px + (k % 3) - 1]
    return sum / 9
  }
  const [pp, mm, pm, mp] = [at(0.25, 0.25), at(-0.25, -0.25), at(0.25, -0.25), at(-0.25, 0.25)]
  const apart = clear * (max(pp, mm, pm, mp) - min(pp, mm, pm, mp))
  if (min(pp, mm) - max(pm, mp) > apart) return 1
  return min(pm, mp) - max(pp, mm) > apart ? -1 : 0
}

function countedFrom(seed: Corner, corners: readonly Corner[], picture: Plane): readonly Counted[] {
  const steps = stepsAt(seed, corners)
  if (!steps) return []
  const [a, b] = steps
  const bySign = lightness(picture, seed, a, b)
  if (!bySign) return []
  const counted = new Map<string, Counted>([['0 0', { ...seed, column: 0, row: 0, a, b }]])
  const taken = new Set<Corner>([seed])
  for (const one of counted.values())
    for (const [di, dj] of [
      [1, 0],
      [-1, 0],
      [0, 1],
      [0, -1],
    ] as const) {
      const [column, row] = [one.column + di, one.row + dj]
      if (counted.has(`${column} ${row}`)) continue
      const step = di === 0 ? one.b : one.a
      const sign = di + dj
      const expected = { x: one.x + sign * step[0], y: one.y + sign * step[1] }
      const next = nearest(expected, corners, off * min(hypot(...one.a), hypot(...one.b)))
      if (!next || taken.has(next)) continue
      const way: Spot = [sign * (next.x - one.x), sign * (next.y - one.y)]
      const [nextA, nextB] = di === 0 ? [one.a, way] : [way, one.b]
      const light = lightness(picture, next, nextA, nextB)
      if (light * bySign * ((column + row) % 2 === 0 ? 1 : -1) !== 1) continue
      taken.add(next)
      counted.set(`${column} ${row}`, { ...next, column, row, a: nextA, b: nextB })
    }
  return [...counted.values()]
}

/** The two shortest ways from a corner along which another lies on either side. */
function stepsAt(from: Corner, corners: readonly Corner[]): readonly [Spot, Spot] | null {
  const near = corners
    .filter((one) => one !== from)
    .map(({ x, y }): Spot => [x - from.x, y - from.y])
    .sort((one, other) => hypot(...one) - hypot(...other))
    .slice(0, 12)
  const ways = near.filter((way, i) =>
    near.some((other, j) => j > i && hypot(way[0] + other[0], way[1] + other[1]) < off * hypot(...way)),
  )
  const [a] = ways
  const b = ways.find((way) => a && abs(a[0] * way[1] - a[1] * way[0]) > 0.4 * hypot(...a) * hypot(...way))
  if (!a || !b) return null
  // Rows are counted the way that makes no mirrored chart.
  return a[0] * b[1] - a[1] * b[0] > 0 ? [a, b] : [a, [-b[0], -b[1]]]
}

function nearest({ x, y }: Corner, corners: readonly Corner[], within: number): Corner | null {
  let found: Corner | null = null
  let least = within
  for (const one of corners) {
    const far = hypot(one.x - x, one.y - y)
    if (far < least) [least, found] = [far, one]
  }
  return found
}

/** Those that have neighbours both along and across, and lie between them where there are two. */
function inLine(counted: readonly Counted[]): readonly Counted[] {
  const by = new Map(counted.map((one) => [`${one.column} ${one.row}`, one]))
  const at = (column: number, row: number) => by.get(`${column} ${row}`)
  return counted.filter((one) => {
    const { column, row } = one
    const along = [at(column - 1, row), at(column + 1, row)].filter((next) => next !== undefined)
    const across = [at(column, row - 1), at(column, row + 1)].filter((next) => next !== undefined)
    const isBetween = (pair: readonly Counted[]) =>
      pair.length < 2 ||
      hypot((pair[0].x + pair[1].x) / 2 - one.x, (pair[0].y + pair[1].y) / 2 - one.y) <
        mostBend * hypot(pair[1].x - pair[0].x, pair[1].y - pair[0].y)
    return along.length > 0 && across.length > 0 && isBetween(along) && isBetween(across)
  })
}
