/**
 * Lines found in a picture: edges to a fraction of a pixel (Canny 1986; between pixels by a parabola: Devernay 1995), linked where they go on
 * smoothly, and joined across what crosses them. A picture of a chart or a grid is as good as any other.
 */

import type { Spot } from '../motion/placing'
import type { Plane } from '../track/spline'
import type { Line } from './lens-from-lines'
import { slopesOfPicture, type Slopes } from '../track/slopes'

export interface FindLinesOptions {
  /** no shorter ones, in pixels; default a twelfth of the picture's width */
  readonly shortest?: number
  /** no more than the longest so many */
  readonly most?: number
}

const { isNaN } = Number
const { abs, atan2, floor, hypot, max, min, round } = Math

/** Softened by so many pixels first, for grain. */
const sigma = 1.6
/** An edge is so many times as steep as grain makes half of the picture. */
const overGrain = 6
/** Where it goes on, it need not be so steep. */
const goesOn = 0.5
/** Cosine of how far an edge may turn from one pixel to the next. */
const nearlySame = 0.94
/** Of a chain, in pixels: its direction is told by so much of it, */
const stretch = 12
/** and it is cut where it turns by more than this between two of them, in radians. */
const mostTurn = 0.07
/** A gap that is joined: how long, and how far the next piece may lie off the way the last one goes, in pixels. */
const longestGap = 34
const mostOff = 1.2
/** Places on a line are averaged over so many pixels along it, or over more where it is long: their errors are not independent. */
const spacing = 4
const mostPlaces = 32
/** Of each piece, in pixels: its ends are bent by what crosses or ends it. */
const bentEnds = 4

/** @returns the longest first; places in pixels of the picture, a pixel's middle at its half */
export function findLines(
  picture: Plane,
  { shortest = picture.width / 12, most = 120 }: FindLinesOptions = {},
): Line[] {
  const slopes = slopesOfPicture(picture, sigma, 'seen')
  const edges = edgesOf(slopes, slopesOfPicture(picture, sigma, 'light').steep)
  const pieces = chainsOf(slopes, edges)
    .flatMap(cutWhereItTurns)
    .filter((chain) => chain.length >= stretch + 2 * bentEnds)
    .map((chain) => chain.slice(bentEnds, -bentEnds))
  return joined(pieces)
    .filter((line) => lengthOf(line) >= shortest)
    .sort((a, b) => lengthOf(b) - lengthOf(a))
    .slice(0, most)
    .map(spaced)
}

interface Place {
  readonly x: number
  readonly y: number
  /** towards the light, of length 1 */
  readonly towardsX: number
  readonly towardsY: number
}
type Chain = readonly Place[]

interface Edges {
  /** by pixel: where its edge lies beside its middle, along the larger slope; NaN where there is none */
  readonly beside: Float32Array
  readonly least: number
}

/** Which pixels have an edge is told by the picture as it is seen; where in them it lies, by light. */
function edgesOf({ width, height, across, down, steep }: Slopes, light: Float32Array): Edges {
  const usual = Float32Array.from(steep).sort()[steep.length >> 1]
  const least = max(1e-4, overGrain * usual)
  const beside = new Float32Array(steep.length).fill(NaN)
  for (let y = 2; y < height - 2; y++)
    for (let x = 2; x < width - 2; x++) {
      const i = y * width + x
      const here = steep[i]
      if (here < goesOn * least) continue
      const step = abs(across[i]) >= abs(down[i]) ? 1 : width
      const [before, after] = [steep[i - step], steep[i + step]]
      if (here < before || here <= after) continue
      beside[i] = topBeside(light, i, step)
    }
  return { beside, least }
}

/** @returns where light is steepest, by a parabola; NaN where that is not within a pixel and a half */
function topBeside(light: Float32Array, i: number, step: number): number {
  let top = 0
  if (light[i + step] > light[i]) top = 1
  else if (light[i - step] > light[i]) top = -1
  const at = i + top * step
  const [before, here, after] = [light[at - step], light[at], light[at + step]]
  if (here < before || here < after || before + after >= 2 * here) return NaN
  return top + (0.5 * (before - after)) / (before - 2 * here + after)
}

function chainsOf(slopes: Slopes, { beside, least }: Edges): Chain[] {
  const { width, steep, across, down } = slopes
  const placeAt = (i: number): Place => {
    const [x, y] = [i % width, floor(i / width)]
    const sideways = abs(across[i]) >= abs(down[i])
    return {
      x: x + 0.5 + (sideways ? beside[i] : 0),
      y: y + 0.5 + (sideways ? 0 : beside[i]),
      towardsX: across[i] / steep[i],
      towardsY: down[i] / steep[i],
    }
  }
  const starts: number[] = []
  for (let i = 0; i < beside.length; i++) if (steep[i] >= least && !isNaN(beside[i])) starts.push(i)
  starts.sort((a, b) => steep[b] - steep[a])
  const taken = new Uint8Array(beside.length)
  /** The best pixel to go on with, with the light on the same side. */
  const next = (i: number, sign: number): number => {
    const [tx, ty] = [(-down[i] / steep[i]) * sign, (across[i] / steep[i]) * sign]
    let [best, score] = [-1, 0.3]
    for (let dy = -1; dy <= 1; dy++)
      for (let dx = -1; dx <= 1; dx++) {
        const j = i + dy * width + dx
        if (j === i || taken[j] || isNaN(beside[j])) continue
        const alike = (across[i] * across[j] + down[i] * down[j]) / (steep[i] * steep[j])
        if (alike < nearlySame) continue
        const ahead = ((dx * tx + dy * ty) / hypot(dx, dy)) * alike
        if (ahead > score) [best, score] = [j, ahead]
      }
    return best
  }
  return starts.flatMap((start) => {
    if (taken[start]) return []
    taken[start] = 1
    const ways = [1, -1].map((sign) => {
      const way: number[] = []
      for (let i = next(start, sign); i >= 0; i = next(i, sign)) {
        taken[i] = 1
        way.push(i)
      }
      return way
    })
    return [[...ways[1].reverse(), start, ...ways[0]].map(placeAt)]
  })
}

/** Directions are told by the means of two stretches, since single places are noisy. */
function cutWhereItTurns(chain: Chain): Chain[] {
  const out: Chain[] = []
  let from = 0
  for (let i = stretch; i + stretch < chain.length; i++) {
    if (i - from < stretch) continue
    const turn = abs(between(directionOf(chain, i - stretch, i), directionOf(chain, i, i + stretch)))
    if (turn <= mostTurn) continue
    out.push(chain.slice(from, i))
    from = i + 1
  }
  out.push(chain.slice(from))
  return out
}

const directionOf = (chain: Chain, from: number, to: number): Spot => {
  const [a, b] = [chain[from], chain[to]]
  const length = hypot(b.x - a.x, b.y - a.y)
  return length > 0 ? [(b.x - a.x) / length, (b.y - a.y) / length] : [1, 0]
}
const between = ([ax, ay]: Spot, [bx, by]: Spot) => atan2(ax * by - ay * bx, ax * bx + ay * by)

/** One piece after the other where the next begins near, goes the same way, and lies where this one leads. */
function joined(pieces: readonly Chain[]): Chain[] {
  const left = new Set([...pieces].sort((a, b) => b.length - a.length))
  const out: Chain[] = []
  for (const piece of left) {
    left.delete(piece)
    let line = piece
    for (;;) {
      const found = goingOn(line, left)
      if (!found) break
      left.delete(found)
      line = [...line, ...found]
    }
    for (;;) {
      const found = leadingTo(line, left)
      if (!found) break
      left.delete(found)
      line = [...found, ...line]
    }
    out.push(line)
  }
  return out
}

// All chains run with the light on the same side, so that none is turned about.
function goingOn(line: Chain, others: ReadonlySet<Chain>): Chain | null {
  return nearest(others, (other) => gapOf(line, other))
}
function leadingTo(line: Chain, others: ReadonlySet<Chain>): Chain | null {
  return nearest(others, (other) => gapOf(other, line))
}

function nearest(others: ReadonlySet<Chain>, gap: (other: Chain) => number): Chain | null {
  let [best, least] = [null as Chain | null, Infinity]
  for (const other of others) {
    const by = gap(other)
    if (by < least) [best, least] = [other, by]
  }
  return best
}

/** @returns how far the second begins behind the end of the first; Infinity where it does not go on */
function gapOf(first: Chain, second: Chain): number {
  const [end, begin] = [first[first.length - 1], second[0]]
  const [dx, dy] = [begin.x - end.x, begin.y - end.y]
  if (abs(dx) > longestGap || abs(dy) > longestGap) return Infinity
  // Ends are bent by what crosses there.
  const way = directionOf(first, max(0, first.length - 1 - 2 * stretch), max(1, first.length - 3))
  const along = dx * way[0] + dy * way[1]
  if (along < 0.5 || along > longestGap) return Infinity
  if (abs(dx * way[1] - dy * way[0]) > mostOff) return Infinity
  const after = directionOf(second, min(2, second.length - 2), min(second.length - 1, 2 * stretch))
  return abs(between(way, after)) <= 1.5 * mostTurn ? along : Infinity
}

const lengthOf = (line: Chain) => hypot(line[line.length - 1].x - line[0].x, line[line.length - 1].y - line[0].y)

/** Means over stretches of the line, from one end to the other. */
export function spaced(line: readonly { readonly x: number; readonly y: number }[]): Line {
  const step = max(spacing, line.length / mostPlaces)
  const out: Spot[] = []
  for (let k = 0; (k + 1) * step <= line.length + 1e-9; k++) {
    const some = line.slice(round(k * step), round((k + 1) * step))
    out.push([mean(some.map(({ x }) => x)), mean(some.map(({ y }) => y))])
  }
  return out
}

const mean = (values: readonly number[]) => values.reduce((sum, one) => sum + one, 0) / values.length
