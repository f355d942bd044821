/**
 * Where the pattern around a point of one picture lies in another, to a small fraction of a pixel.
 *
 * Gauss-Newton on the squared differences of both pictures (Lucas and Kanade, 1981), gain and offset of the light free. Both are
 * softened alike beforehand, and each is moved by half of the shift, so that neither whole pixels nor one of the pictures is
 * favoured.
 */

import { solved } from '../algebra/solved'
import { gaussianAxis } from '../kernels/gaussian'
import type { PatternModel } from './pattern-models'
import { sampleSpline, sampleSquare, splineOf, type Plane, type Sampled } from './spline'

/** A picture made ready once for all patterns on it. */
export interface Ready {
  /** spline coefficients of the softened picture */
  readonly spline: Plane
  readonly width: number
  readonly height: number
}

/** Noise of single pixels is not followed; texture that can be is wider than this. In pixels. */
const softening = 0.75

export function readyFor({ values, width, height }: Plane): Ready {
  const { weights } = gaussianAxis(softening)
  const across = blurred(values, weights, { count: width, stride: 1, lines: height, lineStride: width })
  const both = blurred(across, weights, { count: height, stride: width, lines: width, lineStride: 1 })
  return { spline: splineOf({ values: both, width, height }), width, height }
}

interface Lines {
  readonly count: number
  readonly stride: number
  readonly lines: number
  readonly lineStride: number
}

/** Beyond its ends a line goes on with its last value. */
function blurred(
  from: Float64Array,
  taps: readonly number[],
  { count, stride, lines, lineStride }: Lines,
): Float64Array {
  const out = new Float64Array(from.length)
  const reach = taps.length - 1
  for (let line = 0; line < lines; line++) {
    const first = line * lineStride
    for (let at = 0; at < count; at++) {
      const i = first + at * stride
      let sum = taps[0] * from[i]
      if (at >= reach && at + reach < count)
        for (let k = 1, away = stride; k <= reach; k++, away += stride)
          sum += taps[k] * (from[i - away] + from[i + away])
      else
        for (let k = 1; k <= reach; k++) {
          const before = at - k < 0 ? 0 : at - k
          const after = at + k >= count ? count - 1 : at + k
          sum += taps[k] * (from[first + before * stride] + from[first + after * stride])
        }
      out[i] = sum
    }
  }
  return out
}

export interface Spot {
  readonly x: number
  readonly y: number
}

/** Of the error of a place: variances across and down, and how they go together, in square pixels. */
export interface Spread {
  readonly xx: number
  readonly xy: number
  readonly yy: number
}

export interface AlignedPatch {
  /** where the middle of the pattern is, in pixels of the second picture */
  readonly at: Spot
  /** what became of the pattern's axes: one row across, one down */
  readonly linear: readonly [number, number, number, number]
  readonly gain: number
  readonly spread: Spread
  /** -1 to 1: how alike both are, gain and offset taken away */
  readonly likeness: number
  /** root of the mean square of what is left, in light */
  readonly left: number
}

export interface AlignOptions {
  /** pixels of the pattern on either side of its middle */
  readonly radius: number
  readonly model: PatternModel
  /** axes to begin with; absent: unchanged */
  readonly linear?: AlignedPatch['linear']
}

const mostRounds = 30
/** Splines between pixels are off by so much where texture is fine, whatever the noise; in pixels. */
const leastError = 0.003
const converged = 1e-4
/** Of many patterns the errors of single ones do not count as much: each is taken a little earlier, and given up sooner. */
const ofMany = { rounds: 10, converged: 3e-3 } as const
const unchanged = [1, 0, 0, 1] as const

/**
 * @param middle of the pattern in the first picture; pixels' middles lie at whole numbers
 * @param guess of where it is in the second, good to a pixel or two
 * @returns null where it cannot be told: no texture, or it goes beyond a picture
 */
export function alignedPatch(
  first: Ready,
  second: Ready,
  middle: Spot,
  guess: Spot,
  options: AlignOptions,
): AlignedPatch | null {
  const { radius, model } = options
  const pose = alignedPose(first, second, middle, guess, options)
  return pose && finished(first, second, middle, pose, radius, model)
}

/** Where it is and how alike it is, by its place alone and without errors: for many patterns at once, in a quarter of the time. */
export function placeOfPattern(
  first: Ready,
  second: Ready,
  middle: Spot,
  guess: Spot,
  radius: number,
): { readonly at: Spot; readonly likeness: number } | null {
  const pose = alignedPose(first, second, middle, guess, { radius, model: 'translation' }, ofMany)
  if (!pose || !sampleSquares(first, second, middle, pose, radius)) return null
  const count = (2 * radius + 1) ** 2
  let [sa, sb, saa, sbb, sab] = [0, 0, 0, 0, 0]
  for (let i = 0; i < count; i++) {
    const [p, q] = [squareOfFirst.value[i], squareOfSecond.value[i]]
    sa += p
    sb += q
    saa += p * p
    sbb += q * q
    sab += p * q
  }
  const [aa, bb, ab] = [saa - (sa * sa) / count, sbb - (sb * sb) / count, sab - (sa * sb) / count]
  return {
    at: { x: middle.x + pose.dx, y: middle.y + pose.dy },
    likeness: aa > 0 && bb > 0 ? ab / Math.sqrt(aa * bb) : 0,
  }
}

function alignedPose(
  first: Ready,
  second: Ready,
  middle: Spot,
  guess: Spot,
  { radius, model, linear = unchanged }: AlignOptions,
  until: { readonly rounds: number; readonly converged: number } = { rounds: mostRounds, converged },
): Pose | null {
  const free = freeOf(model)
  let [dx, dy] = [guess.x - middle.x, guess.y - middle.y]
  const whole = { x: Math.round(dx), y: Math.round(dy) }
  let axes: number[] = [...linear]
  let gain = 1
  for (let round = 0; round < until.rounds; round++) {
    const pose = { whole, dx, dy, axes, gain }
    const sums =
      model === 'translation'
        ? sumsByPlace(first, second, middle, pose, radius)
        : sumsOf(first, second, middle, pose, radius, model)
    if (!sums) return null
    const step = solved(sums.normal, sums.right)
    if (!step) return null
    dx -= step[0]
    dy -= step[1]
    axes = axes.map((one, i) => one - axisStep(model, step, i))
    gain -= step[free]
    if (!Number.isFinite(dx + dy + gain) || Math.hypot(dx - guess.x + middle.x, dy - guess.y + middle.y) > radius)
      return null
    if (Math.hypot(step[0], step[1]) < until.converged) return { whole, dx, dy, axes, gain }
  }
  return null
}

interface Pose {
  /** whole pixels that the second picture alone is moved by: what is whole favours nothing */
  readonly whole: Spot
  readonly dx: number
  readonly dy: number
  readonly axes: readonly number[]
  readonly gain: number
}

const freeOf = (model: PatternModel) => (model === 'translation' ? 2 : model === 'similarity' ? 4 : 6)

/** A similarity changes its axes by a scale and a turn, both of them; an affine pattern each number of them. */
function axisStep(model: PatternModel, step: Float64Array, i: number): number {
  if (model === 'translation') return 0
  if (model === 'affine') return step[2 + i]
  const [scale, turn] = [step[2], step[3]]
  return [scale, -turn, turn, scale][i]
}

interface NormalSums {
  readonly normal: Float64Array
  readonly right: Float64Array
}

const one: Sampled = { value: 0, across: 0, down: 0 }
const other: Sampled = { value: 0, across: 0, down: 0 }

/** Both pictures at a pixel of the pattern. @returns false beyond either */
function sampleBoth(
  first: Ready,
  second: Ready,
  middle: Spot,
  { whole, dx, dy, axes }: Pose,
  u: number,
  v: number,
): boolean {
  const [hx, hy] = [(dx - whole.x) / 2, (dy - whole.y) / 2]
  const [px, py] = [u - hx, v - hy]
  return (
    sampleSpline(first.spline, middle.x + px, middle.y + py, one) &&
    sampleSpline(
      second.spline,
      middle.x + dx + axes[0] * px + axes[1] * py,
      middle.y + dy + axes[2] * px + axes[3] * py,
      other,
    )
  )
}

/** How the difference changes with each number that is looked for. */
function slopesAt(model: PatternModel, gain: number, u: number, v: number, into: Float64Array): void {
  // Each picture is moved by half.
  into[0] = (other.across + gain * one.across) / 2
  into[1] = (other.down + gain * one.down) / 2
  let at = 2
  if (model === 'similarity') {
    into[at++] = other.across * u + other.down * v
    into[at++] = other.down * u - other.across * v
  } else if (model === 'affine') {
    into[at++] = other.across * u
    into[at++] = other.across * v
    into[at++] = other.down * u
    into[at++] = other.down * v
  }
  into[at++] = -one.value
  into[at] = -1
}

const squareFor = (count: number) => ({
  value: new Float64Array(count),
  across: new Float64Array(count),
  down: new Float64Array(count),
})
/** Reused from pattern to pattern. */
let [squareOfFirst, squareOfSecond] = [squareFor(0), squareFor(0)]

/** Both pictures at all pixels of the pattern, whose axes are unchanged. @returns false beyond either */
function sampleSquares(first: Ready, second: Ready, middle: Spot, pose: Pose, radius: number): boolean {
  const { whole, dx, dy } = pose
  const side = 2 * radius + 1
  if (squareOfFirst.value.length !== side * side)
    [squareOfFirst, squareOfSecond] = [squareFor(side * side), squareFor(side * side)]
  const [px, py] = [(whole.x - dx) / 2 - radius, (whole.y - dy) / 2 - radius]
  return (
    sampleSquare(first.spline, middle.x + px, middle.y + py, side, squareOfFirst) &&
    sampleSquare(second.spline, middle.x + dx + px, middle.y + dy + py, side, squareOfSecond)
  )
}

/** As `sumsOf` where the pattern moves by its place alone. */
function sumsByPlace(first: Ready, second: Ready, middle: Spot, pose: Pose, radius: number): NormalSums | null {
  if (!sampleSquares(first, second, middle, pose, radius)) return null
  const { gain } = pose
  const [a, b] = [squareOfFirst, squareOfSecond]
  const count = a.value.length
  let [xx, xy, xg, x1, yy, yg, y1, gg, g1] = [0, 0, 0, 0, 0, 0, 0, 0, 0]
  let [rx, ry, rg, r1] = [0, 0, 0, 0]
  for (let i = 0; i < count; i++) {
    // Each picture is moved by half.
    const sx = (b.across[i] + gain * a.across[i]) / 2
    const sy = (b.down[i] + gain * a.down[i]) / 2
    const value = a.value[i]
    const apart = b.value[i] - gain * value
    xx += sx * sx
    xy += sx * sy
    xg -= sx * value
    x1 -= sx
    yy += sy * sy
    yg -= sy * value
    y1 -= sy
    gg += value * value
    g1 += value
    rx += sx * apart
    ry += sy * apart
    rg -= value * apart
    r1 -= apart
  }
  return {
    normal: Float64Array.from([xx, xy, xg, x1, xy, yy, yg, y1, xg, yg, gg, g1, x1, y1, g1, count]),
    right: Float64Array.from([rx, ry, rg, r1]),
  }
}

function sumsOf(
  first: Ready,
  second: Ready,
  middle: Spot,
  pose: Pose,
  radius: number,
  model: PatternModel,
): NormalSums | null {
  const count = freeOf(model) + 2
  const normal = new Float64Array(count * count)
  const right = new Float64Array(count)
  const slopes = new Float64Array(count)
  for (let v = -radius; v <= radius; v++)
    for (let u = -radius; u <= radius; u++) {
      if (!sampleBoth(first, second, middle, pose, u, v)) return null
      slopesAt(model, pose.gain, u, v, slopes)
      const apart = other.value - pose.gain * one.value
      for (let a = 0; a < count; a++) {
        right[a] += slopes[a] * apart
        for (let b = a; b < count; b++) normal[a * count + b] += slopes[a] * slopes[b]
      }
    }
  for (let a = 0; a < count; a++) for (let b = 0; b < a; b++) normal[a * count + b] = normal[b * count + a]
  return { normal, right }
}

/** The place with its error: what is left over is noise that was softened, and the slopes are softened once more to say so. */
function finished(
  first: Ready,
  second: Ready,
  middle: Spot,
  pose: Pose,
  radius: number,
  model: PatternModel,
): AlignedPatch | null {
  const count = freeOf(model) + 2
  const side = 2 * radius + 1
  const rows = Array.from({ length: count }, () => new Float64Array(side * side))
  const slopes = new Float64Array(count)
  let [n, sa, sb, saa, sbb, sab] = [0, 0, 0, 0, 0, 0]
  for (let v = -radius; v <= radius; v++)
    for (let u = -radius; u <= radius; u++) {
      if (!sampleBoth(first, second, middle, pose, u, v)) return null
      slopesAt(model, pose.gain, u, v, slopes)
      for (let a = 0; a < count; a++) rows[a][n] = slopes[a]
      const [p, q] = [one.value, other.value]
      n++
      sa += p
      sb += q
      saa += p * p
      sbb += q * q
      sab += p * q
    }
  const [aa, bb, ab] = [saa - (sa * sa) / n, sbb - (sb * sb) / n, sab - (sa * sb) / n]
  const gain = ab / aa
  const squares = Math.max(0, bb - gain * ab)
  const normal = new Float64Array(count * count)
  for (let a = 0; a < count; a++)
    for (let b = 0; b < count; b++)
      normal[a * count + b] = rows[a].reduce((sum, value, i) => sum + value * rows[b][i], 0)
  const { weights } = gaussianAxis(softening)
  const soft = rows.map((row) =>
    blurred(blurred(row, weights, { count: side, stride: 1, lines: side, lineStride: side }), weights, {
      count: side,
      stride: side,
      lines: side,
      lineStride: 1,
    }),
  )
  // Noise that was softened keeps so much of its variance.
  const axis = weights.reduce((sum, w, k) => sum + (k === 0 ? 1 : 2) * w * w, 0)
  const noise = squares / Math.max(1, n - count) / (axis * axis)
  const inverse = [0, 1].map((k) =>
    solved(
      normal,
      Float64Array.from({ length: count }, (_, i) => (i === k ? 1 : 0)),
    ),
  )
  const [x, y] = inverse
  if (!x || !y) return null
  const moved = [x, y].map((row) => {
    const sum = new Float64Array(n)
    for (let a = 0; a < count; a++) for (let i = 0; i < n; i++) sum[i] += row[a] * soft[a][i]
    return sum
  })
  const product = (a: number, b: number) =>
    noise * moved[a].reduce((sum, value, i) => sum + value * moved[b][i], 0) + (a === b ? leastError ** 2 : 0)
  return {
    at: { x: middle.x + pose.dx, y: middle.y + pose.dy },
    linear: pose.axes as unknown as AlignedPatch['linear'],
    gain,
    spread: { xx: product(0, 0), xy: product(0, 1), yy: product(1, 1) },
    likeness: aa > 0 && bb > 0 ? ab / Math.sqrt(aa * bb) : 0,
    left: Math.sqrt(squares / n),
  }
}
