/**
 * A stroke drawn by hand as a clean outline: as few cubics as stay within half a pixel of it, with corners where it turns sharply
 * (after Schneider, "An algorithm for automatically fitting digitized curves", Graphics Gems, 1990).
 */

import type { Outline, PointPlace } from './place'
import { withPoint } from './with-point'

type Spot = readonly [number, number]

export interface FittedStroke {
  readonly outline: Outline
  /** which of its points are corners */
  readonly corners: readonly boolean[]
}

/** Places nearer than this to the one before say nothing more, in pixels. */
const leastStep = 1
/** Directions at a place are taken over so many pixels on either side. */
const lookPx = 6
/** A sharper turn is a corner, in radians. */
const cornerTurn = 0.9

/**
 * @param stroke places along a closed line, in order; its end is joined to its beginning
 * @param within pixels that the outline may be off the stroke
 * @returns null where the stroke is too short to hold anything
 */
export function fittedStroke(stroke: readonly Spot[], within = 0.5): FittedStroke | null {
  const spots = thinned(stroke)
  if (spots.length < 3 || lengthOf(spots) < 8) return null
  const corners = cornersOf(spots)
  // It begins at a corner, or anywhere where there is none.
  const first = corners[0] ?? 0
  const round = [...spots.slice(first), ...spots.slice(0, first), spots[first]]
  const breaks = [...corners.map((at) => (at - first + spots.length) % spots.length), spots.length].sort(
    (a, b) => a - b,
  )
  const starts = corners.length > 0 ? breaks : [0, spots.length]
  const smooth = corners.length === 0 ? directionAt(spots, 0) : null
  const cubics: { readonly cubic: Cubic; readonly corner: boolean }[] = []
  for (let i = 0; i + 1 < starts.length; i++) {
    const piece = round.slice(starts[i], starts[i + 1] + 1)
    const from = smooth ?? endDirection(piece)
    const to = smooth ? ([-smooth[0], -smooth[1]] as const) : endDirection([...piece].reverse())
    fit(piece, from, to, within, 0).forEach((cubic, n) => cubics.push({ cubic, corner: n === 0 && smooth === null }))
  }
  const outline = cubics.map(({ cubic }, i): PointPlace => {
    const before = cubics[(i + cubics.length - 1) % cubics.length].cubic
    const [x, y] = cubic[0]
    return {
      ...{ x: fine(x), y: fine(y) },
      before: [fine(before[2][0] - x), fine(before[2][1] - y)],
      after: [fine(cubic[1][0] - x), fine(cubic[1][1] - y)],
    }
  })
  return divided({ outline, corners: cubics.map(({ corner }) => corner) })
}

type Cubic = readonly [Spot, Spot, Spot, Spot]

const fine = (value: number) => Math.round(value * 1000) / 1000
const apart = (a: Spot, b: Spot) => Math.hypot(a[0] - b[0], a[1] - b[1])
const lengthOf = (spots: readonly Spot[]) => spots.slice(1).reduce((sum, spot, i) => sum + apart(spots[i], spot), 0)

function thinned(stroke: readonly Spot[]): Spot[] {
  const kept: Spot[] = []
  for (const spot of stroke) if (kept.length === 0 || apart(spot, kept[kept.length - 1]) >= leastStep) kept.push(spot)
  while (kept.length > 1 && apart(kept[0], kept[kept.length - 1]) < leastStep) kept.pop()
  return kept
}

/** Towards the place that lies so many pixels on, or back. */
function lookFrom(spots: readonly Spot[], at: number, way: 1 | -1): Spot {
  const [x, y] = spots[at]
  let walked = 0
  for (let i = 1; i < spots.length; i++) {
    const next = spots[(at + way * i + spots.length * 2) % spots.length]
    walked += apart(next, spots[(at + way * (i - 1) + spots.length * 2) % spots.length])
    if (walked >= lookPx || i === spots.length - 1) return unit([next[0] - x, next[1] - y])
  }
  return [1, 0]
}

const unit = ([x, y]: Spot): Spot => {
  const length = Math.hypot(x, y)
  return length > 0 ? [x / length, y / length] : [1, 0]
}

function directionAt(spots: readonly Spot[], at: number): Spot {
  const [on, back] = [lookFrom(spots, at, 1), lookFrom(spots, at, -1)]
  return unit([on[0] - back[0], on[1] - back[1]])
}

/** The direction in which a piece sets out. */
function endDirection(piece: readonly Spot[]): Spot {
  const [x, y] = piece[0]
  const far = piece.find((spot) => apart(spot, piece[0]) >= lookPx / 2) ?? piece[piece.length - 1]
  return unit([far[0] - x, far[1] - y])
}

/** Places where the stroke turns sharply, each the sharpest around. */
function cornersOf(spots: readonly Spot[]): number[] {
  const turns = spots.map((_, at) => {
    const [on, back] = [lookFrom(spots, at, 1), lookFrom(spots, at, -1)]
    return Math.PI - Math.acos(Math.max(-1, Math.min(1, on[0] * back[0] + on[1] * back[1])))
  })
  const found: number[] = []
  turns.forEach((turn, at) => {
    if (turn < cornerTurn) return
    const rival = spots.some(
      (spot, other) =>
        other !== at &&
        apart(spot, spots[at]) < lookPx &&
        (turns[other] > turn || (turns[other] === turn && other < at)),
    )
    if (!rival) found.push(at)
  })
  return found
}

const mostDepth = 12

/** @param from direction in which it sets out @param to direction from its end back */
function fit(piece: readonly Spot[], from: Spot, to: Spot, within: number, depth: number): Cubic[] {
  const [first, last] = [piece[0], piece[piece.length - 1]]
  const third = apart(first, last) / 3
  const along = (spot: Spot, way: Spot, by: number): Spot => [spot[0] + way[0] * by, spot[1] + way[1] * by]
  if (piece.length <= 2) return [[first, along(first, from, third), along(last, to, third), last]]
  let shares = sharesOf(piece)
  let worst = { off: Infinity, at: piece.length >> 1 }
  for (let round = 0; round < 5; round++) {
    const cubic = nearestCubic(piece, shares, from, to)
    const now = worstOf(piece, shares, cubic)
    if (now.off <= within) return [cubic]
    if (now.off < worst.off) worst = now
    shares = shares.map((share, i) => nearer(cubic, piece[i], share))
  }
  if (depth >= mostDepth) return [nearestCubic(piece, shares, from, to)]
  const at = Math.min(piece.length - 2, Math.max(1, worst.at))
  const way = unit([
    piece[Math.min(piece.length - 1, at + 3)][0] - piece[Math.max(0, at - 3)][0],
    piece[Math.min(piece.length - 1, at + 3)][1] - piece[Math.max(0, at - 3)][1],
  ])
  return [
    ...fit(piece.slice(0, at + 1), from, [-way[0], -way[1]], within, depth + 1),
    ...fit(piece.slice(at), way, to, within, depth + 1),
  ]
}

/** How far along the piece each place lies, 0 to 1. */
function sharesOf(piece: readonly Spot[]): number[] {
  const whole = lengthOf(piece)
  let walked = 0
  return piece.map((spot, i) => {
    if (i > 0) walked += apart(spot, piece[i - 1])
    return whole > 0 ? walked / whole : 0
  })
}

/** The lengths of the two handles by least squares. */
function nearestCubic(piece: readonly Spot[], shares: readonly number[], from: Spot, to: Spot): Cubic {
  const [first, last] = [piece[0], piece[piece.length - 1]]
  let [aa, ab, bb, ra, rb] = [0, 0, 0, 0, 0]
  piece.forEach(([x, y], i) => {
    const t = shares[i]
    const left = 1 - t
    const [p, q, r, s] = [left ** 3, 3 * left * left * t, 3 * left * t * t, t ** 3]
    const [dx, dy] = [x - (p + q) * first[0] - (r + s) * last[0], y - (p + q) * first[1] - (r + s) * last[1]]
    const [ax, ay, bx, by] = [from[0] * q, from[1] * q, to[0] * r, to[1] * r]
    aa += ax * ax + ay * ay
    ab += ax * bx + ay * by
    bb += bx * bx + by * by
    ra += ax * dx + ay * dy
    rb += bx * dx + by * dy
  })
  const whole = aa * bb - ab * ab
  const third = apart(first, last) / 3
  let [one, other] = whole > 1e-12 ? [(ra * bb - rb * ab) / whole, (aa * rb - ab * ra) / whole] : [third, third]
  // Handles that point the wrong way or run past the other end would make a loop.
  const most = 3 * apart(first, last) + 1
  if (!(one > 1e-6 && one < most)) one = third
  if (!(other > 1e-6 && other < most)) other = third
  return [
    first,
    [first[0] + from[0] * one, first[1] + from[1] * one],
    [last[0] + to[0] * other, last[1] + to[1] * other],
    last,
  ]
}

function spotOn([a, b, c, d]: Cubic, t: number): Spot {
  const left = 1 - t
  const [p, q, r, s] = [left ** 3, 3 * left * left * t, 3 * left * t * t, t ** 3]
  return [p * a[0] + q * b[0] + r * c[0] + s * d[0], p * a[1] + q * b[1] + r * c[1] + s * d[1]]
}

function worstOf(piece: readonly Spot[], shares: readonly number[], cubic: Cubic) {
  return piece.reduce(
    (worst, spot, at) => {
      const off = apart(spotOn(cubic, shares[at]), spot)
      return off > worst.off ? { off, at } : worst
    },
    { off: 0, at: 0 },
  )
}

/** One step of Newton's method towards the nearest place on the cubic. */
function nearer(cubic: Cubic, [x, y]: Spot, t: number): number {
  const [a, b, c, d] = cubic
  const left = 1 - t
  const [px, py] = spotOn(cubic, t)
  const slope = [0, 1].map(
    (k) => 3 * left * left * (b[k] - a[k]) + 6 * left * t * (c[k] - b[k]) + 3 * t * t * (d[k] - c[k]),
  )
  const bend = [0, 1].map((k) => 6 * left * (c[k] - 2 * b[k] + a[k]) + 6 * t * (d[k] - 2 * c[k] + b[k]))
  const below = slope[0] ** 2 + slope[1] ** 2 + (px - x) * bend[0] + (py - y) * bend[1]
  if (!(Math.abs(below) > 1e-12)) return t
  return Math.min(1, Math.max(0, t - ((px - x) * slope[0] + (py - y) * slope[1]) / below))
}

/** An outline has three points at least: the line after a point is divided in its middle. */
function divided({ outline, corners }: FittedStroke): FittedStroke {
  if (outline.length >= 3) return { outline, corners }
  return divided({ outline: withPoint(outline, 0, 0.5), corners: [corners[0], false, ...corners.slice(1)] })
}
