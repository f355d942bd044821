/**
 * A lens from lines that ought to be straight (Devernay and Faugeras 2001). What is made small is the distance in pixels of the plate
 * between each place and the bent line: measured in the straight picture it would be smallest where the picture shrinks.
 * Lines give no focal length, so the unit is half of the frame's diagonal.
 */

import { solved } from '../algebra/solved'
import type { Spot } from '../motion/placing'
import { slopesOf, straightener, type Lens } from '../motion/lens'

const { abs, atan2, cos, hypot, log, max, min, sin, sqrt } = Math

/** Places along something straight, in pixels of the plate, in any order. */
export type Line = readonly Spot[]

export interface LensFromLines {
  readonly lens: Lens
  /** which of the lines it rests on; others are not straight in the world, or are not told */
  readonly used: readonly number[]
  /** root mean square of the places' distances from their bent lines, in pixels of the plate */
  readonly rms: number
  /** largest distance of a place from its bent line, over lines that the lens was not made of: told five times, a fifth left out each time */
  readonly heldOutBow: number
  /** what each line is bowed by with and without the lens, in pixels; the order of the lines */
  readonly bows: readonly { readonly before: number; readonly after: number }[]
  /** which numbers the lines told */
  readonly told: readonly LensNumber[]
}

export type LensNumber = 'k1' | 'k2' | 'k3' | 'p1' | 'p2' | 'centreX' | 'centreY'

export interface LinesGiven {
  readonly frame: { readonly width: number; readonly height: number }
  readonly squeeze?: number
  /** thin lenses that are not round: only when asked, since they take up what is wrong elsewhere */
  readonly tangential?: boolean
  /** leave out lines that no lens makes straight along with the others */
  readonly choose?: boolean
}

/** The lines do not tell a lens: says why. */
export class LinesTellNothingError extends Error {
  override readonly name = 'LinesTellNothingError'
}

/** So many places are needed to see whether a line is bent. */
export const fewestPlaces = 3
const fewestLines = 2
const folds = 5
const rounds = 60
/** From few numbers to many; the first of those that fit what was held out equally well is taken. */
const families: readonly (readonly LensNumber[])[] = [
  [],
  ['k1'],
  ['k1', 'k2'],
  ['k1', 'k2', 'centreX', 'centreY'],
  ['k1', 'k2', 'k3', 'centreX', 'centreY'],
]
/** A family with more numbers must leave less of what was held out, by so many errors of the difference. */
const surely = 2
/** Or it leaves no more than this share of it. */
const muchLess = 0.8
/** Places' own errors, of which a line that is straight in the world is off by no more than a few, in pixels. */
const usualError = 0.15
const mostUnlike = 3
/** What is tried for a beginning: how far the corners are moved, as a share of their distance. */
const beginnings = [-0.35, -0.25, -0.16, -0.09, -0.04, 0, 0.04, 0.09, 0.16, 0.25, 0.4]

/** @throws LinesTellNothingError */
export function lensFromLines(lines: readonly Line[], given: LinesGiven): LensFromLines {
  const usable = lines.flatMap((line, i) => (line.length >= fewestPlaces ? [i] : []))
  if (usable.length < fewestLines)
    throw new LinesTellNothingError(
      `${usable.length === 0 ? 'No line has' : 'Only one line has'} ${fewestPlaces} places or more, and ${fewestLines} such lines are needed. Draw more lines along straight things, best near the frame's edges.`,
    )
  const start = unbent(given)
  const used = given.choose ? chosen(lines, usable, start) : usable
  const wanted = given.tangential
    ? families.map((numbers) => (numbers.length > 0 ? [...numbers, 'p1' as const, 'p2' as const] : numbers))
    : families
  const some = used.map((i) => lines[i])
  const told = simplest(some, start, wanted)
  const whole = told.lens && rmsOf(told.lens, some)
  if (!whole)
    throw new LinesTellNothingError(
      'No lens makes these lines straight. Look for a line that is not straight in the world, and remove it.',
    )
  return {
    lens: whole.lens,
    used,
    rms: whole.rms,
    heldOutBow: told.bow,
    bows: lines.map((line) => ({ before: bowOf(start, line), after: bowOf(whole.lens, line) })),
    told: told.numbers,
  }
}

/** A lens that bends nothing. */
export function unbent({ frame: { width, height }, squeeze = 1 }: Pick<LinesGiven, 'frame' | 'squeeze'>): Lens {
  const unit = hypot(width * squeeze, height) / 2
  return { centre: [width / 2, height / 2], unit, squeeze, k1: 0, k2: 0, k3: 0, p1: 0, p2: 0 }
}

/** The largest distance of the line's places from where the lens puts the straight line that is nearest to them, in pixels. */
export function bowOf(lens: Lens, line: Line): number {
  const left = distances(lens, straightener(lens), line)
  return left ? left.reduce((most, one) => max(most, abs(one)), 0) : Infinity
}

/**
 * Signed distances, in pixels of the plate, to the first order in themselves.
 *
 * @returns null where a place lies beyond the fold
 */
function distances(lens: Lens, back: (x: number, y: number) => Spot | null, line: Line): Float64Array | null {
  const count = line.length
  const xs = new Float64Array(count)
  const ys = new Float64Array(count)
  // Of each place: the slopes of the way back, by which a step across the straight line is one in the plate.
  const ways = new Float64Array(4 * count)
  for (let i = 0; i < count; i++) {
    const straight = back(line[i][0], line[i][1])
    if (!straight) return null
    const [a, b, c, d] = slopesOf(lens, straight)
    const determinant = a * d - b * c
    if (!(determinant > 0)) return null
    ;[xs[i], ys[i]] = straight
    ways[4 * i] = d / determinant
    ways[4 * i + 1] = -b / determinant
    ways[4 * i + 2] = -c / determinant
    ways[4 * i + 3] = a / determinant
  }
  const weights = new Float64Array(count).fill(1)
  const left = new Float64Array(count)
  // How a place counts depends on the line's direction: it is known after the first time.
  for (let round = 0; round < 3; round++) {
    const { nx, ny, far } = straightThrough(xs, ys, weights)
    for (let i = 0; i < count; i++) {
      const slope = lengthOf(nx * ways[4 * i] + ny * ways[4 * i + 2], nx * ways[4 * i + 1] + ny * ways[4 * i + 3])
      weights[i] = 1 / (slope * slope)
      left[i] = (nx * xs[i] + ny * ys[i] - far) / slope
    }
  }
  return left
}

const lengthOf = (x: number, y: number) => sqrt(x * x + y * y)

/** The straight line whose weighted squared distances are least. */
function straightThrough(xs: Float64Array, ys: Float64Array, weights: Float64Array) {
  let [sum, x, y] = [0, 0, 0]
  for (let i = 0; i < xs.length; i++) {
    sum += weights[i]
    x += weights[i] * xs[i]
    y += weights[i] * ys[i]
  }
  x /= sum
  y /= sum
  let [xx, xy, yy] = [0, 0, 0]
  for (let i = 0; i < xs.length; i++) {
    const [dx, dy] = [xs[i] - x, ys[i] - y]
    xx += weights[i] * dx * dx
    xy += weights[i] * dx * dy
    yy += weights[i] * dy * dy
  }
  const along = atan2(2 * xy, xx - yy) / 2
  const [nx, ny] = [-sin(along), cos(along)]
  return { nx, ny, far: nx * x + ny * y }
}

const withNumbers = (lens: Lens, numbers: readonly LensNumber[], values: ArrayLike<number>): Lens => {
  const changed = { ...lens, centre: [...lens.centre] as [number, number] }
  numbers.forEach((name, i) => {
    if (name === 'centreX') changed.centre[0] = lens.centre[0] + values[i] * lens.unit
    else if (name === 'centreY') changed.centre[1] = lens.centre[1] + values[i] * lens.unit
    else changed[name] = values[i]
  })
  return changed
}

interface Fitted {
  readonly lens: Lens
  readonly rms: number
}

/** All distances one after another; null beyond the fold. */
function residuals(lens: Lens, lines: readonly Line[]): Float64Array | null {
  const back = straightener(lens)
  const all: Float64Array[] = []
  for (const line of lines) {
    const left = distances(lens, back, line)
    if (!left) return null
    all.push(left)
  }
  const out = new Float64Array(all.reduce((sum, { length }) => sum + length, 0))
  let at = 0
  for (const one of all) {
    out.set(one, at)
    at += one.length
  }
  return out
}

/** Of the way from the middle to a corner: where nothing is bent yet the lines do not tell the centre, and it would run away. */
const farthestCentre = 0.5
/** A place farther off than this counts less (Huber 1964), in pixels. */
const farOff = 0.6
const costOf = (left: Float64Array) =>
  left.reduce((sum, one) => {
    const off = abs(one)
    return sum + (off < farOff ? off * off : farOff * (2 * off - farOff))
  }, 0)

/** By Levenberg and Marquardt, from where it begins. */
function fitted(lines: readonly Line[], start: Lens, numbers: readonly LensNumber[]): Fitted | null {
  const found = numbers.length === 0 ? start : descended(lines, start, numbers)
  return found && rmsOf(found, lines)
}

/** The one of several beginnings that leaves least: from none of them is the way to the best lens over a hill. */
function begun(lines: readonly Line[], start: Lens): Lens {
  const tried = beginnings.flatMap((k1) => {
    const left = residuals({ ...start, k1 }, lines)
    return left ? [{ lens: { ...start, k1 }, cost: costOf(left) }] : []
  })
  return tried.reduce((best, one) => (one.cost < best.cost ? one : best), { lens: start, cost: Infinity }).lens
}

function rmsOf(lens: Lens, lines: readonly Line[]): Fitted | null {
  const left = residuals(lens, lines)
  return left && { lens, rms: sqrt(left.reduce((sum, one) => sum + one * one, 0) / left.length) }
}

function descended(lines: readonly Line[], start: Lens, numbers: readonly LensNumber[]): Lens | null {
  const count = numbers.length
  const values = numbers.map((name) => (name === 'centreX' || name === 'centreY' ? 0 : start[name]))
  const of = (at: readonly number[]) =>
    numbers.some((name, i) => name.startsWith('centre') && abs(at[i]) > farthestCentre)
      ? null
      : residuals(withNumbers(start, numbers, at), lines)
  let best = values
  let left = of(best)
  if (!left) return null
  let cost = costOf(left)
  let damping = 1e-3
  for (let round = 0; round < rounds; round++) {
    const slopes = best.map((value, k) => {
      const step = 1e-6
      const further = of(best.map((one, j) => (j === k ? one + step : one)))
      if (further) return { values: further, step }
      const nearer = of(best.map((one, j) => (j === k ? value - step : one)))
      return nearer && { values: nearer, step: -step }
    })
    if (slopes.some((slope) => slope === null)) break
    const normal = new Float64Array(count * count)
    const right = new Float64Array(count)
    for (let i = 0; i < left.length; i++) {
      const weight = min(1, farOff / max(1e-12, abs(left[i])))
      const row = slopes.map((slope) => (slope ? (slope.values[i] - (left as Float64Array)[i]) / slope.step : 0))
      for (let a = 0; a < count; a++) {
        right[a] -= weight * row[a] * left[i]
        for (let b = 0; b < count; b++) normal[a * count + b] += weight * row[a] * row[b]
      }
    }
    let better = false
    for (let attempt = 0; attempt < 12 && !better; attempt++) {
      const damped = normal.map((value, i) => (i % (count + 1) === 0 ? value * (1 + damping) + 1e-12 : value))
      const step = solved(damped, right, 1e-300)
      const next = step && best.map((value, k) => value + step[k])
      const leftThere = next && of(next)
      const costThere = leftThere ? costOf(leftThere) : Infinity
      if (next && leftThere && costThere < cost) {
        const done = cost - costThere < 1e-7 * cost
        ;[best, left, cost, damping] = [next, leftThere, costThere, max(1e-9, damping / 5)]
        better = true
        if (done) return withNumbers(start, numbers, best)
      } else damping *= 6
    }
    if (!better) break
  }
  return withNumbers(start, numbers, best)
}

/** The family with the fewest numbers beside which none leaves surely less of lines that it has not seen. */
function simplest(lines: readonly Line[], start: Lens, all: readonly (readonly LensNumber[])[]) {
  const parts = min(folds, lines.length)
  const tried: { numbers: readonly LensNumber[]; lens: Lens; costs: readonly number[]; bow: number }[] = []
  let from = begun(lines, start)
  for (const numbers of all) {
    if (numbers.length > lines.length) continue
    const whole = numbers.length === 0 ? { lens: start } : fitted(lines, from, numbers)
    const held = whole && heldOut(lines, whole.lens, numbers, parts)
    if (!held) continue
    if (numbers.length > 0) from = whole.lens
    tried.push({ numbers, lens: whole.lens, ...held })
  }
  if (tried.length === 0) return { numbers: [], lens: null, bow: Infinity }
  return tried.reduce((best, one) => (surelyLess(one.costs, best.costs) ? one : best))
}

/** All together by much; or a little, and so on nearly every line: by the ratios of the same lines. */
function surelyLess(some: readonly number[], others: readonly number[]): boolean {
  const total = (costs: readonly number[]) => costs.reduce((sum, one) => sum + one, 0)
  const share = total(some) / total(others)
  if (!(share < 1)) return false
  if (share < muchLess) return true
  const ratios = some.map((one, i) => log((others[i] + 1e-12) / (one + 1e-12)))
  const mean = total(ratios) / ratios.length
  const variance = ratios.reduce((sum, one) => sum + (one - mean) ** 2, 0) / max(1, ratios.length - 1)
  return mean > surely * sqrt(variance / ratios.length)
}

/** What is left of each line by a lens that was made of others; null where a part of the lines makes none. */
function heldOut(lines: readonly Line[], from: Lens, numbers: readonly LensNumber[], parts: number) {
  const costs = new Array<number>(lines.length)
  let bow = 0
  for (let part = 0; part < parts; part++) {
    const fit = fitted(
      lines.filter((_, i) => i % parts !== part),
      from,
      numbers,
    )
    if (!fit) return null
    const back = straightener(fit.lens)
    for (let i = part; i < lines.length; i += parts) {
      const left = distances(fit.lens, back, lines[i])
      if (!left) return null
      costs[i] = costOf(left)
      for (const one of left) bow = max(bow, abs(one))
    }
  }
  return { costs, bow }
}

/** Which lines one lens makes straight together: of several lenses of one number, that by which most are; then as the numbers get better. */
function chosen(lines: readonly Line[], usable: readonly number[], start: Lens): readonly number[] {
  const straightBy = (lens: Lens, most: number) => {
    const back = straightener(lens)
    return usable.filter((i) => {
      const left = distances(lens, back, lines[i])
      return left !== null && sqrt(left.reduce((sum, one) => sum + one * one, 0) / left.length) <= most
    })
  }
  const weight = (some: readonly number[]) => some.reduce((sum, i) => sum + lines[i].length, 0)
  let best: readonly number[] = []
  for (let k1 = -0.4; k1 <= 0.4; k1 += 0.01) {
    const some = straightBy({ ...start, k1 }, mostUnlike * usualError * 2)
    if (weight(some) > weight(best)) best = some
  }
  let from = begun(
    best.map((i) => lines[i]),
    start,
  )
  for (const numbers of [families[1], families[2], families[3], families[3]]) {
    if (best.length <= numbers.length) break
    const fit = fitted(
      best.map((i) => lines[i]),
      from,
      numbers,
    )
    if (!fit) break
    from = fit.lens
    best = straightBy(fit.lens, mostUnlike * max(usualError, min(fit.rms, 2 * usualError)))
  }
  if (best.length < fewestLines)
    throw new LinesTellNothingError(
      'There are no two lines that one lens makes straight. Choose a frame with long straight things, or draw along them.',
    )
  return best
}
