/**
 * How a region of one picture lies in another: moved, turned and scaled, sheared, or in perspective.
 *
 * Inverse compositional alignment (Baker and Matthews, "Lucas-Kanade 20 years on", 2004) with gain and offset of the light (Bartoli,
 * "Groupwise geometric and photometric direct image registration", 2008), on pyramids, robust by Tukey's weights, so that what crosses the
 * region counts for nothing. Only the second picture is looked at between its pixels, and its noise meets the slopes of the first:
 * places are not drawn towards whole pixels. Behind a lens that is known, the motion is one of the straight picture: each place of the first
 * picture is taken through its lens once, and looked at in the second through that one's.
 */

import type { Lens, Matrix3 } from '../graph/steps'
import { bent, slopesOf, straightener } from '../motion/lens'
import { inverseOf, multiplied, throughMatrix } from '../motion/mapping'
import { solved } from '../algebra/solved'
import { readyFor } from './aligned-patch'
import type { RegionModel } from './pattern-models'
import { sampleSpline, type Plane, type Sampled } from './spline'

/** Numbers of a model that are looked for. */
const freeOf: Readonly<Record<RegionModel, number>> = { translation: 2, similarity: 4, affine: 6, homography: 8 }

/** A region at one size: its pixels with their light and what changes it, in shares of the region's size about its middle. */
interface Level {
  /** pixels of the picture a pixel stands for */
  readonly step: number
  readonly count: number
  /** places in the picture at this size; behind a lens, where they lie straight */
  readonly x: Float64Array
  readonly y: Float64Array
  readonly light: Float64Array
  /** how the light changes with each number of the model, one after another */
  readonly slopes: Float64Array
}

export interface Region {
  readonly model: RegionModel
  /** coarse to fine */
  readonly levels: readonly Level[]
  /** from pixels of the picture to shares */
  readonly share: Matrix3
}

export interface AlignedRegion {
  /** from places of the first picture to the second's, pixels' middles at whole numbers; behind a lens, where they lie straight */
  readonly matrix: Matrix3
  readonly gain: number
  readonly offset: number
  /** 0 to 1: how much of the region agrees */
  readonly agrees: number
  /** root of the mean square of what is left where it agrees, in light */
  readonly left: number
  /** standard errors of where a place of the first picture lies in the second, in pixels */
  errorAt(x: number, y: number): { readonly across: number; readonly down: number }
}

/** What is left is of softened light, whose neighbours are alike, and the slopes have noise of their own: as measured over 40 textures at three levels of noise. */
const ofSoftened = 2.3

/** Coarser than this there is nothing to hold on to. */
const leastSide = 24
const mostLevels = 4

/**
 * @param inside whether a pixel, by its column and row, belongs to the region
 * @param lens through which the picture is seen, in its pixels, whose middles lie at whole numbers
 * @returns null where the region has too few pixels, or no texture
 */
export function regionOf(
  plane: Plane,
  inside: (x: number, y: number) => boolean,
  model: RegionModel,
  lens: Lens | null = null,
): Region | null {
  let [left, right, top, bottom] = [Infinity, -Infinity, Infinity, -Infinity]
  for (let y = 0; y < plane.height; y++)
    for (let x = 0; x < plane.width; x++)
      if (inside(x, y)) {
        left = Math.min(left, x)
        right = Math.max(right, x)
        top = Math.min(top, y)
        bottom = Math.max(bottom, y)
      }
  if (!(right - left >= 4 && bottom - top >= 4)) return null
  const size = Math.max(right - left, bottom - top) / 2
  const share: Matrix3 = [1 / size, 0, -(left + right) / 2 / size, 0, 1 / size, -(top + bottom) / 2 / size, 0, 0, 1]
  const levels: Level[] = []
  let at = plane
  for (let step = 1; levels.length < mostLevels; step *= 2) {
    if (levels.length > 0 && (2 * size) / step < leastSide) break
    const level = levelOf(at, step, inside, model, share, lens && atStep(lens, step))
    if (!level) break
    levels.unshift(level)
    at = halved(at)
  }
  return levels.length === 0 ? null : { model, levels, share }
}

function levelOf(
  plane: Plane,
  step: number,
  inside: (x: number, y: number) => boolean,
  model: RegionModel,
  share: Matrix3,
  lens: Lens | null,
): Level | null {
  const straight = lens && straightener(lens)
  const { spline, width, height } = readyFor(plane)
  const here: Sampled = { value: 0, across: 0, down: 0 }
  const [xs, ys, light, rows]: [number[], number[], number[], number[][]] = [[], [], [], []]
  for (let y = 2; y + 3 < height; y++)
    for (let x = 2; x + 3 < width; x++) {
      if (!inside(x * step, y * step) || !sampleSpline(spline, x, y, here)) continue
      const place = straight ? straight(x, y) : ([x, y] as const)
      if (!place) continue
      const [across, down] = lens ? straightSlopes(lens, place, here) : [here.across, here.down]
      xs.push(place[0])
      ys.push(place[1])
      light.push(here.value)
      // Slopes in shares of the region's size.
      const one = 1 / (share[0] * step)
      const [u, v] = [share[0] * place[0] * step + share[2], share[4] * place[1] * step + share[5]]
      rows.push(slopesAt(model, u, v, across * one, down * one))
    }
  const free = freeOf[model]
  if (xs.length < 8 * (free + 2)) return null
  return {
    step,
    count: xs.length,
    x: Float64Array.from(xs),
    y: Float64Array.from(ys),
    light: Float64Array.from(light),
    slopes: Float64Array.from(rows.flat()),
  }
}

/** The lens in pixels of a smaller picture. */
const atStep = (lens: Lens, step: number): Lens =>
  step === 1 ? lens : { ...lens, centre: [lens.centre[0] / step, lens.centre[1] / step], unit: lens.unit / step }

/** How the light changes with the straight place. */
function straightSlopes(lens: Lens, place: readonly [number, number], { across, down }: Sampled): [number, number] {
  const [xx, xy, yx, yy] = slopesOf(lens, place)
  return [across * xx + down * yx, across * xy + down * yy]
}

function slopesAt(model: RegionModel, u: number, v: number, du: number, dv: number): number[] {
  if (model === 'translation') return [du, dv]
  if (model === 'similarity') return [du, dv, du * u + dv * v, dv * u - du * v]
  const affine = [du, dv, du * u, du * v, dv * u, dv * v]
  if (model === 'affine') return affine
  const out = -(du * u + dv * v)
  return [...affine, out * u, out * v]
}

/** The small motion of the numbers that were found. */
function motionOf(model: RegionModel, p: Float64Array): Matrix3 {
  if (model === 'translation') return [1, 0, p[0], 0, 1, p[1], 0, 0, 1]
  if (model === 'similarity') return [1 + p[2], -p[3], p[0], p[3], 1 + p[2], p[1], 0, 0, 1]
  const bottom = model === 'affine' ? [0, 0, 1] : [p[6], p[7], 1]
  return [1 + p[2], p[3], p[0], p[4], 1 + p[5], p[1], ...bottom] as unknown as Matrix3
}

/** Every other pixel of the picture, softened: a pixel of it lies where the even ones did. */
function halved({ values, width, height }: Plane): Plane {
  const [wide, high] = [(width + 1) >> 1, (height + 1) >> 1]
  const taps = [1 / 16, 4 / 16, 6 / 16, 4 / 16, 1 / 16]
  const across = new Float64Array(wide * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < wide; x++) {
      let sum = 0
      for (let k = -2; k <= 2; k++) sum += taps[k + 2] * values[y * width + Math.min(width - 1, Math.max(0, 2 * x + k))]
      across[y * wide + x] = sum
    }
  const out = new Float64Array(wide * high)
  for (let y = 0; y < high; y++)
    for (let x = 0; x < wide; x++) {
      let sum = 0
      for (let k = -2; k <= 2; k++) sum += taps[k + 2] * across[Math.min(height - 1, Math.max(0, 2 * y + k)) * wide + x]
      out[y * wide + x] = sum
    }
  return { values: out, width: wide, height: high }
}

/** A picture at some of the sizes that a region has, coarse to fine. */
export type RegionPicture = readonly Plane[]

/** @param sizes how many, from the finest on */
export function pictureFor({ levels }: Region, plane: Plane, sizes = levels.length): RegionPicture {
  const all: Plane[] = []
  let at = plane
  for (let i = 0; i < sizes; i++) {
    all.unshift(readyFor(at).spline)
    at = halved(at)
  }
  return all
}

const mostRounds = 24
/** It is near by then, but for a fraction of a pixel. */
const nearRound = 3
/** Shares of the region's size a round moves its corners by when it has come to rest, times its size in pixels. */
const atRest = 5e-3
/** Of a step to the one before, that is believed. */
const mostRatio = 0.85
/** What Tukey's weights let count, in deviations of what is left. */
const tukey = 4.685
/** The middle of what is left, of its deviation. */
const madOfGaussian = 0.6745

/**
 * @param picture at one size, where the start is good to a pixel; at more of them where it is good to a few
 * @param start where the region is thought to lie
 * @param lens through which the picture is seen, as the region's own
 * @returns null where it cannot be told: no texture, less than half of it inside the picture, or it does not come to rest
 */
export function alignedRegion(
  region: Region,
  picture: RegionPicture,
  start: Matrix3,
  lens: Lens | null = null,
): AlignedRegion | null {
  let matrix = start
  let light = { gain: 1, offset: 0 }
  let found: AlignedRegion | null = null
  const levels = region.levels.slice(-picture.length)
  for (const [i, level] of levels.entries()) {
    found = atLevel(region, level, picture[i], matrix, light, lens && atStep(lens, level.step))
    if (!found) return null
    matrix = found.matrix
    light = { gain: found.gain, offset: found.offset }
  }
  return found
}

function atLevel(
  { model, share }: Region,
  { step, count, x, y, light, slopes }: Level,
  picture: Plane,
  start: Matrix3,
  { gain: firstGain, offset: firstOffset }: { readonly gain: number; readonly offset: number },
  lens: Lens | null,
): AlignedRegion | null {
  const free = freeOf[model]
  const unknown = free + 2
  // Pixels of this size to those of the picture, and back.
  const larger: Matrix3 = [step, 0, 0, 0, step, 0, 0, 0, 1]
  const smaller: Matrix3 = [1 / step, 0, 0, 0, 1 / step, 0, 0, 0, 1]
  const toShare = multiplied(share, larger)
  const fromShare = inverseOf(toShare)
  if (!fromShare) return null
  let matrix = multiplied(smaller, multiplied(start, larger))
  let [gain, offset] = [firstGain, firstOffset]
  const apart = new Float64Array(count)
  const absolute = new Float64Array(count)
  const there: Sampled = { value: 0, across: 0, down: 0 }
  const row = new Float64Array(unknown)
  let agrees = 0
  let left = 0
  let reach = Infinity
  let before = Infinity
  let normal = new Float64Array(unknown * unknown)
  for (let round = 0; round < mostRounds; round++) {
    let seen = 0
    for (let i = 0; i < count; i++) {
      const w = matrix[6] * x[i] + matrix[7] * y[i] + matrix[8]
      let px = (matrix[0] * x[i] + matrix[1] * y[i] + matrix[2]) / w
      let py = (matrix[3] * x[i] + matrix[4] * y[i] + matrix[5]) / w
      if (lens) {
        const place = bent(lens, [px, py])
        px = place[0]
        py = place[1]
      }
      if (!(w > 0) || !sampleSpline(picture, px, py, there)) {
        apart[i] = NaN
        continue
      }
      apart[i] = there.value - gain * light[i] - offset
      absolute[seen++] = Math.abs(apart[i])
    }
    if (seen < count / 2) return null
    // What counts, and what follows from it for each number, at the start and once it is near.
    const fits = round === 0 || round === nearRound
    if (fits) {
      const deviation = Math.max(1e-9, medianOf(absolute.subarray(0, seen)) / madOfGaussian)
      // At first everything counts for something: it may lie a little beside.
      reach = tukey * deviation * (round === 0 ? 2 : 1)
      normal = new Float64Array(unknown * unknown)
    }
    const right = new Float64Array(unknown)
    let [weights, squares] = [0, 0]
    for (let i = 0; i < count; i++) {
      const e = apart[i]
      const part = e / reach
      if (!(part * part < 1)) continue
      const weight = (1 - part * part) ** 2
      weights += weight
      squares += weight * e * e
      const by = weight * e
      for (let a = 0; a < free; a++) right[a] += by * gain * slopes[i * free + a]
      right[free] += by * light[i]
      right[free + 1] += by
      if (!fits) continue
      for (let a = 0; a < free; a++) row[a] = gain * slopes[i * free + a]
      row[free] = light[i]
      row[free + 1] = 1
      for (let a = 0; a < unknown; a++) {
        const share = weight * row[a]
        for (let b = a; b < unknown; b++) normal[a * unknown + b] += share * row[b]
      }
    }
    if (fits)
      for (let a = 0; a < unknown; a++) for (let b = 0; b < a; b++) normal[a * unknown + b] = normal[b * unknown + a]
    agrees = weights / count
    left = Math.sqrt(squares / Math.max(1e-12, weights))
    const found = solved(normal, right)
    if (!found) return null
    const way = Math.max(...found.subarray(0, free).map(Math.abs)) / toShare[0]
    const rests = round > nearRound && way < atRest
    // Noise in the slopes makes every step too short by the same share: the last one goes all of the way that is left.
    const ratio = way > 0 ? Math.min(mostRatio, way / before) : 0
    if (rests) for (let a = 0; a < unknown; a++) found[a] /= 1 - ratio
    before = way
    const back = inverseOf(motionOf(model, found))
    if (!back) return null
    // The second picture is like the first moved so: it is looked at through the way back.
    matrix = multiplied(matrix, multiplied(fromShare, multiplied(back, toShare)))
    matrix = matrix.map((value) => value / matrix[8]) as unknown as Matrix3
    gain += found[free]
    offset += found[free + 1]
    if (!matrix.every(Number.isFinite) || !(gain > 0.05)) return null
    if (!rests) continue
    const whole = multiplied(larger, multiplied(matrix, smaller))
    return {
      matrix: whole,
      gain,
      offset,
      agrees,
      left,
      errorAt: errorsOf({ model, share, matrix: whole }, normal, left),
    }
  }
  // On a coarse picture it need not come to rest.
  const whole = multiplied(larger, multiplied(matrix, smaller))
  return step > 1
    ? { matrix: whole, gain, offset, agrees, left, errorAt: errorsOf({ model, share, matrix: whole }, normal, left) }
    : null
}

/**
 * What is left of other pixels than those that told how it lies: the middle of what each is off by, in light.
 *
 * @param others the region with other pixels
 * @returns null where less than half of them lie inside the picture
 */
export function leftOf(
  { levels }: Region,
  picture: RegionPicture,
  { matrix, gain, offset }: AlignedRegion,
  lens: Lens | null = null,
): number | null {
  const { count, x, y, light } = levels[levels.length - 1]
  const plane = picture[picture.length - 1]
  const off = new Float64Array(count)
  const there: Sampled = { value: 0, across: 0, down: 0 }
  let seen = 0
  for (let i = 0; i < count; i++) {
    const straight = throughMatrix(matrix, x[i], y[i])
    const place = straight && lens ? bent(lens, straight) : straight
    if (place && sampleSpline(plane, place[0], place[1], there))
      off[seen++] = Math.abs(there.value - gain * light[i] - offset)
  }
  return seen < count / 2 ? null : medianOf(off.subarray(0, seen))
}

/** A step that is too small to bend, in shares of the region's size. */
const littleShare = 1e-5

/** By how the numbers' errors, the residual over the normal equations, move a place. */
function errorsOf(
  { model, share, matrix }: { readonly model: RegionModel; readonly share: Matrix3; readonly matrix: Matrix3 },
  normal: Float64Array,
  left: number,
): AlignedRegion['errorAt'] {
  const free = freeOf[model]
  const unknown = free + 2
  const fromShare = inverseOf(share)
  return (x, y) => {
    const here = throughMatrix(matrix, x, y)
    if (!fromShare || !here) return { across: Infinity, down: Infinity }
    const ways = [new Float64Array(unknown), new Float64Array(unknown)]
    for (let k = 0; k < free; k++) {
      const numbers = new Float64Array(free)
      numbers[k] = littleShare
      const moved = multiplied(matrix, multiplied(fromShare, multiplied(motionOf(model, numbers), share)))
      const there = throughMatrix(moved, x, y)
      if (!there) return { across: Infinity, down: Infinity }
      ways[0][k] = (there[0] - here[0]) / littleShare
      ways[1][k] = (there[1] - here[1]) / littleShare
    }
    const [across, down] = ways.map((way) => {
      const through = solved(normal, way)
      return through ? left * ofSoftened * Math.sqrt(way.reduce((sum, one, i) => sum + one * through[i], 0)) : Infinity
    })
    return { across, down }
  }
}

function medianOf(values: Float64Array): number {
  const sorted = Float64Array.from(values).sort()
  return sorted[sorted.length >> 1]
}
