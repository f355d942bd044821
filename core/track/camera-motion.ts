/**
 * How the camera moved, from many points spread over the frame: what moves by itself is outvoted. Every frame against the one where
 * it begins, so that nothing adds up.
 */

import { medianOf } from '../algebra/median'
import { solved } from '../algebra/solved'
import type { Lens, Matrix3 } from '../graph/steps'
import type { Window } from '../image/window'
import { noiseLevel } from '../measure/noise-level'
import { fittedMotion, pointsNeeded, type MotionModel } from '../motion/fitted-motion'
import { byShift } from '../motion/mapping'
import { moved, straightPlace, type PlateMotion } from '../motion/plate-motion'
import type { Spot as Place } from '../motion/placing'
import { placeOfPattern, readyFor, type Ready, type Spot } from './aligned-patch'
import { brightnessOf } from './brightness'
import type { RegionModel } from './pattern-models'
import type { Plane } from './spline'
import { spreadPoints } from './spread-points'
import { deviationAbout, likest, NothingToFollowError } from './track-point'
import { goingOn, placesBy, type RegionTrack, type TrackedRegion } from './track-region'

export interface CameraToTrack {
  /** places whose errors are told, plate pixels */
  readonly outline: readonly Place[]
  readonly from: number
  readonly to: number
  readonly model: RegionModel
  /** most points that are followed */
  readonly points?: number
  /** through which the plate is seen, where that is known: then the motion is one of the straight picture */
  readonly lens?: ((frame: number) => Lens) | null
  readonly signal?: AbortSignal
}

const radius = 10
/** What a patch needs around it to be softened and looked at between its pixels, and for what the guess is off by. */
const margin = 7
/** So far a jolt is looked for, in pixels. */
const farthest = 40
/** Points that go ahead on each frame. */
const scouts = 16
/** Fewer points tell no motion that can be told from chance. */
const leastPoints = 8
/** A smaller share of points that agree is another picture. */
const leastShare = 0.3
/** A point that went its own way on so many frames one after the other is followed no further: water, leaves, what walks. */
const mostAstray = 4
/** Of points that hold still: what their places differ by at least, in pixels. */
const leastScale = 0.02

const motionOf: Readonly<Record<RegionModel, MotionModel>> = {
  translation: 'position',
  similarity: 'similarity',
  affine: 'affine',
  homography: 'homography',
}

/**
 * @param light premultiplied RGBA of a window of the plate, which may reach beyond the frame
 * @returns on each frame the motion from the first, `agrees` being the share of points that it holds for
 * @throws NothingToFollowError, and what `light` throws
 */
export async function trackCamera(
  light: (frame: number, window: Window) => Promise<Float32Array>,
  frameSize: { readonly width: number; readonly height: number },
  { outline, from, to, model, points: wanted = 200, lens, signal }: CameraToTrack,
  found: (one: TrackedRegion) => void = () => undefined,
): Promise<RegionTrack> {
  const whole: Window = { x: 0, y: 0, ...frameSize }
  const by = motionOf[model]
  const first = brightnessOf(await light(from, whole), whole)
  const spots = spreadPoints(first, wanted, radius, radius + margin)
  if (spots.length < Math.max(leastPoints, 2 * pointsNeeded[by]))
    throw new NothingToFollowError(
      `Only ${spots.length} ${spots.length === 1 ? 'place' : 'places'} of frame ${from} can be followed: too few to tell how the camera moved. Begin on a frame that is sharper, or track points by hand.`,
    )
  const grain = noiseLevel(first.values, whole)
  const patterns = spots.map((spot) => patternAt(first, spot, grain))
  const still: Matrix3 = [1, 0, 0, 0, 1, 0, 0, 0, 1]
  const start: TrackedRegion = {
    ...{ frame: from, model, matrix: still, gain: 1, offset: 0, agrees: 1, left: 0 },
    places: outline,
    errors: outline.map(() => ({ across: 0, down: 0 })),
  }
  const frames = [start]
  found(start)
  let followed: readonly Pattern[] = patterns
  const astray = new Map<Pattern, number>()
  const way = to < from ? -1 : 1
  const readAhead = (at: number) => {
    const reading = way * (to - at) >= 0 ? light(at, whole) : null
    // Who asks for it is told; nobody may.
    reading?.catch(() => undefined)
    return reading
  }
  let next = readAhead(from + way)
  for (let at = from + way; next && !signal?.aborted; at += way) {
    const now = brightnessOf(await next, whole)
    next = readAhead(at + way)
    const seen = lens ? { from: lens(from), to: lens(at) } : null
    const pairs = await allPlacesOn(now, followed, goingOn(frames), by, seen)
    const fit = pairs.length >= leastPoints ? robustMotion(pairs, by) : null
    if (!fit || fit.kept.length < Math.max(leastPoints, leastShare * followed.length))
      return {
        frames,
        stopped: {
          frame: at,
          why: `only ${fit?.kept.length ?? 0} of ${followed.length} points are found again and agree: the shot was cut, is blurred, or has moved too far from frame ${from}`,
        },
      }
    const places = placesBy(fit.matrix, outline, seen ?? undefined)
    if (places.length < outline.length) return { frames, stopped: { frame: at, why: 'the camera turned away' } }
    const told: TrackedRegion = {
      ...{ frame: at, model, matrix: fit.matrix, gain: 1, offset: 0, places },
      ...{ agrees: fit.kept.length / followed.length, left: fit.scale },
      errors: outline.map((corner) => errorAt(corner, fit, by)),
    }
    frames.push(told)
    found(told)
    const kept = new Set(fit.kept.map(({ pattern }) => pattern))
    for (const pattern of followed) astray.set(pattern, kept.has(pattern) ? 0 : (astray.get(pattern) ?? 0) + 1)
    followed = followed.filter((pattern) => (astray.get(pattern) ?? 0) < mostAstray)
  }
  return { frames, stopped: null }
}

interface Pattern {
  /** pixels' middles lie at whole numbers */
  readonly spot: Spot
  /** a crop around it, and the same made ready */
  readonly plane: Plane
  readonly ready: Ready
  /** of the likeness that grain leaves, what is enough */
  readonly enough: number
}

/** Of the likeness that grain leaves; less is another place. */
const enoughLikeness = 0.7

const reach = radius + margin
const inMiddle = { x: reach, y: reach } as const

function patternAt(picture: Plane, spot: Spot, grain: number): Pattern {
  const plane = cropped(picture, Math.round(spot.x) - reach, Math.round(spot.y) - reach, 2 * reach + 1)
  const deviation = deviationAbout(plane, inMiddle, radius)
  const likeness = Math.max(0, 1 - (grain * grain) / (deviation * deviation))
  return { spot, plane, ready: readyFor(plane), enough: enoughLikeness * likeness }
}

/** Beyond the edges the picture goes on with its outermost pixels. */
function cropped({ values, width, height }: Plane, left: number, top: number, side: number): Plane {
  const out = new Float64Array(side * side)
  const held = (at: number, size: number) => (at < 0 ? 0 : at >= size ? size - 1 : at)
  for (let y = 0; y < side; y++) {
    const row = held(top + y, height) * width
    for (let x = 0; x < side; x++) out[y * side + x] = values[row + held(left + x, width)]
  }
  return { values: out, width: side, height: side }
}

/** A point on the frame where it was found first, and on another: plate pixels, or without the lens. */
interface Pair {
  readonly pattern: Pattern
  readonly from: Place
  readonly to: Place
}

type SeenThrough = NonNullable<PlateMotion['lens']> | null

/** After so many patterns others have a turn: what reads the next frame, and whoever else uses the thread. */
const atOnce = 25
const othersTurn = () => new Promise<void>((resolve) => setTimeout(resolve))

async function placesOn(
  picture: Plane,
  patterns: readonly Pattern[],
  expected: Matrix3,
  seen: SeenThrough,
): Promise<Pair[]> {
  const pairs: Pair[] = []
  for (const [i, pattern] of patterns.entries()) {
    if (i % atOnce === atOnce - 1) await othersTurn()
    const to = placeOn(picture, pattern, seen ? { matrix: expected, lens: seen } : { matrix: expected })
    if (!to) continue
    const from = placeOf(pattern)
    pairs.push(
      seen ? { pattern, from: straightPlace(seen.from, from), to: straightPlace(seen.to, to) } : { pattern, from, to },
    )
  }
  return pairs
}

/**
 * Some of the points tell about how all moved, and the others are looked for from there; where they do not, all of it is looked for
 * far around.
 */
async function allPlacesOn(
  picture: Plane,
  patterns: readonly Pattern[],
  expected: Matrix3,
  by: MotionModel,
  seen: SeenThrough,
): Promise<Pair[]> {
  const isScout = (_: Pattern, i: number) => i % every === 0
  const every = Math.max(1, Math.floor(patterns.length / scouts))
  const ahead = patterns.filter(isScout)
  const others = patterns.filter((pattern, i) => !isScout(pattern, i))
  const told = await placesOn(picture, ahead, expected, seen)
  const guess = 2 * told.length > ahead.length ? robustMotion(told, by)?.matrix : undefined
  if (guess) return [...told, ...(await placesOn(picture, others, guess, seen))]
  const pairs = [...told, ...(await placesOn(picture, others, expected, seen))]
  if (pairs.length >= leastShare * patterns.length) return pairs
  return placesOn(picture, patterns, jolt(picture, ahead), seen)
}

const placeOf = ({ spot }: Pattern): Place => [spot.x + 0.5, spot.y + 0.5]

function placeOn(picture: Plane, pattern: Pattern, expected: PlateMotion): Place | null {
  const guess = moved(expected, ...placeOf(pattern))
  if (!guess) return null
  const [left, top] = [Math.round(guess[0] - 0.5) - reach, Math.round(guess[1] - 0.5) - reach]
  const outside = (low: number, size: number) => low + margin < 0 || low + margin + 2 * radius + 1 > size
  if (outside(left, picture.width) || outside(top, picture.height)) return null
  const second = readyFor(cropped(picture, left, top, 2 * reach + 1))
  const where = { x: guess[0] - 0.5 - left, y: guess[1] - 0.5 - top }
  const found = placeOfPattern(pattern.ready, second, inMiddle, where, radius)
  return found && found.likeness >= pattern.enough ? [found.at.x + 0.5 + left, found.at.y + 0.5 + top] : null
}

/** By how much all of it jumped, from a few points that are looked for far around. */
function jolt(picture: Plane, patterns: readonly Pattern[]): Matrix3 {
  const shifts = patterns.flatMap(({ spot, plane }): Place[] => {
    const more = reach + farthest
    const [left, top] = [Math.round(spot.x) - more, Math.round(spot.y) - more]
    const place = likest(plane, cropped(picture, left, top, 2 * more + 1), inMiddle, radius, farthest)
    return place ? [[place.x - more, place.y - more]] : []
  })
  if (shifts.length === 0) return byShift(0, 0).matrix
  return byShift(medianOf(shifts.map(([x]) => x)), medianOf(shifts.map(([, y]) => y))).matrix
}

interface Fit {
  readonly matrix: Matrix3
  readonly kept: readonly Pair[]
  /** deviation of one place about the motion, in pixels, along one axis */
  readonly scale: number
}

const tries = 60
const rounds = 10
/** Fractions of their multiples fill 0 to 1 evenly, each apart from the others. */
const ratios = [0.6180339887498949, 0.7548776662466927, 0.5698402909980532, 0.8191725133961645] as const

/**
 * Least median of squares over motions through a few points each (Rousseeuw 1984), then least squares of the points within three
 * deviations of it, until these stay the same. The points that are tried are the same in every run.
 */
function robustMotion(pairs: readonly Pair[], by: MotionModel): Fit | null {
  const few = pointsNeeded[by]
  let best: Matrix3 | null = null
  let least = Infinity
  for (let i = 0; i < tries; i++) {
    const some = Array.from({ length: few }, (_, k) => pairs[Math.floor((((i + 1) * ratios[k]) % 1) * pairs.length)])
    const matrix = motionThrough(some, by)
    if (!matrix) continue
    const middle = medianOf(pairs.map((pair) => distance(matrix, pair)))
    if (middle < least) [least, best] = [middle, matrix]
  }
  if (!best) return null
  let matrix = best
  let kept: readonly Pair[] = []
  for (let round = 0; round < rounds; round++) {
    const distances = pairs.map((pair) => distance(matrix, pair))
    // Of two axes: the median of such a distance is 1.18 deviations.
    const scale = Math.max(leastScale, medianOf(distances) / 1.18)
    const now = pairs.filter((_, i) => distances[i] < 3 * scale)
    const next = now.length >= few ? motionThrough(now, by) : null
    if (!next) return null
    matrix = next
    if (now.length === kept.length && now.every((one, i) => one === kept[i])) break
    kept = now
  }
  const squares = kept.reduce((sum, pair) => sum + distance(matrix, pair) ** 2, 0)
  const free = 2 * kept.length - unknowns[by]
  return { matrix, kept, scale: free > 0 ? Math.sqrt(squares / free) : leastScale }
}

const motionThrough = (pairs: readonly Pair[], by: MotionModel) =>
  fittedMotion(
    pairs.map(({ from }) => from),
    pairs.map(({ to }) => to),
    by,
  )

function distance(matrix: Matrix3, { from, to }: Pair): number {
  const place = moved({ matrix }, ...from)
  return place ? Math.hypot(place[0] - to[0], place[1] - to[1]) : Infinity
}

const unknowns: Readonly<Record<MotionModel, number>> = { position: 2, similarity: 4, affine: 6, homography: 8 }

/** How a place goes with each of a small motion's numbers: across, then down. Coordinates about the points' middle, near 1. */
function slopesAt(x: number, y: number, by: MotionModel): readonly [number[], number[]] {
  switch (by) {
    case 'position':
      return [
        [1, 0],
        [0, 1],
      ]
    case 'similarity':
      return [
        [1, 0, x, -y],
        [0, 1, y, x],
      ]
    case 'affine':
      return [
        [1, x, y, 0, 0, 0],
        [0, 0, 0, 1, x, y],
      ]
    case 'homography':
      return [
        [1, x, y, 0, 0, 0, -x * x, -x * y],
        [0, 0, 0, 1, x, y, -x * y, -y * y],
      ]
  }
}

/** The standard error of where the motion leads a place, from what the points are off by. */
function errorAt([x, y]: Place, { kept, scale }: Fit, by: MotionModel): { across: number; down: number } {
  const count = unknowns[by]
  const middle = [0, 1].map((axis) => kept.reduce((sum, { from }) => sum + from[axis], 0) / kept.length)
  const size = Math.sqrt(
    kept.reduce((sum, { from }) => sum + (from[0] - middle[0]) ** 2 + (from[1] - middle[1]) ** 2, 0) / kept.length,
  )
  const normal = new Float64Array(count * count)
  const near = ([px, py]: Place) => slopesAt((px - middle[0]) / size, (py - middle[1]) / size, by)
  for (const { from } of kept)
    for (const row of near(from))
      for (let i = 0; i < count; i++) for (let j = 0; j < count; j++) normal[i * count + j] += row[i] * row[j]
  const [across, down] = near([x, y]).map((row) => {
    const through = solved(normal, row)
    return through ? scale * Math.sqrt(row.reduce((sum, value, i) => sum + value * through[i], 0)) : Infinity
  })
  return { across, down }
}
