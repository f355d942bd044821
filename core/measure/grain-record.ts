/**
 * How strong a plate's grain is at each level of light, per channel: the first part of a grain record.
 *
 * Two frames that follow each other: grain is what differs between them, and what is flat is told by their mean. For grain that is new on
 * every frame difference and mean are independent, so choosing places by the one chooses nothing of the other.
 */

import { medianOf } from '../algebra/median'

export type GrainVerdict = 'usable' | 'thin' | 'nothing flat'

/** A level of light, of one channel. */
export interface GrainBin {
  /** its ends, scene-linear */
  readonly from: number
  readonly to: number
  /** the mean of its places, and the deviation of grain there with its standard error; no numbers where nothing is flat */
  readonly light: number
  readonly sigma: number
  readonly error: number
  readonly places: number
  readonly verdict: GrainVerdict
}

export interface GrainOfChannel {
  readonly bins: readonly GrainBin[]
  /** variance for each unit of light, and the deviation in the dark, with their standard errors */
  readonly shot: number
  readonly shotError: number
  readonly read: number
  readonly readError: number
  /** how far the farthest usable bin lies from that line, as a share of its deviation */
  readonly farthest: number
}

export interface GrainRecord {
  readonly channels: readonly [GrainOfChannel, GrainOfChannel, GrainOfChannel]
  /** places that were looked at on all pairs of frames, in all channels, and why those that say nothing do not */
  readonly looked: number
  readonly refused: Readonly<Record<Refusal, number>>
}

export type Refusal = 'textured' | 'clipped' | 'moving' | 'empty'

export interface FramePair {
  /** RGBA of the same window, scene-linear, row by row, as the plate has it */
  readonly before: Float32Array
  readonly after: Float32Array
  readonly width: number
  readonly height: number
}

/** The plate's frames tell nothing of its grain, as a sentence that says what to do. */
export class NoGrainError extends Error {}

const { abs, ceil, floor, max, min, sqrt } = Math

/** Pixels of a place. */
const side = 16
const pixels = side * side
/** Of a pair of frames; more tell hardly more. */
const mostPlaces = 6000
/** What a plane leaves free. */
const freedom = pixels - 3
/** A variance of so many pixels scatters by this share of itself; grain that has a size scatters more. */
const scatter = sqrt(2 / freedom)
const usualBins = 9
const brightBins = 3
/** Of the places, from the darkest. */
const usualShare = 0.97
/** Fewer places in a bin say little. */
const thin = 6
/** A place is flat where its mean holds no more than its grain, but for so many deviations of that. */
const flatWithin = 2
/** The difference may tell so much more than the mean. */
const alike = 1.3
/** Beyond so many deviations something moved there. */
const stillWithin = 5
/** Pixels at the plate's least or most light. */
const mostClipped = 2
const rounds = 3
/** Of the places of a bin those are taken for flat, until it is known what grain is there. */
const flattest = 0.25
/** These are beside them by chance only, where they are flat. */
const veryFlattest = 0.05
const steep = 0.7
const enoughForShares = 20

/** One place, in one channel, of one pair of frames. */
interface Place {
  readonly light: number
  /** of one frame, by the difference and by the mean of both */
  readonly byDifference: number
  readonly byMean: number
}

/** What pairs of frames say, one after the other. */
export class GrainReader {
  private readonly refused: Record<Refusal, number> = { textured: 0, clipped: 0, moving: 0, empty: 0 }
  private readonly all: readonly [Place[], Place[], Place[]] = [[], [], []]

  add(pair: FramePair): void {
    this.all.forEach((places, c) => {
      for (const place of placesOf(pair, c, this.refused)) places.push(place)
    })
  }

  /** @throws NoGrainError where the frames are alike, or nothing in them is flat */
  record(): GrainRecord {
    const { all } = this
    const refused = { ...this.refused }
    if (all.some((places) => places.length === 0))
      throw new NoGrainError(
        'Nothing of the plate could be read for its grain: it is empty or clipped. Choose other frames.',
      )
    const looked = all.reduce((sum, places) => sum + places.length, 0) + refused.clipped + refused.empty
    if (all.every((places) => medianOf(places.map(({ byDifference }) => byDifference)) === 0))
      throw new NoGrainError(
        'The plate’s frames are alike, so their grain cannot be told from the picture. Choose frames that are not held or repeated.',
      )
    const [r, g, b] = all.map((places) => channelOf(places, refused))
    if (!r || !g || !b)
      throw new NoGrainError(
        'No place of the plate is flat enough for its grain to be told. Choose frames on which some of the picture is plain, or out of focus.',
      )
    return { channels: [r, g, b], looked, refused }
  }
}

/** @throws NoGrainError as `GrainReader.record` does */
export function grainRecord(pairs: readonly FramePair[]): GrainRecord {
  const reader = new GrainReader()
  for (const pair of pairs) reader.add(pair)
  return reader.record()
}

/** Every place of a pair that is covered and not clipped. */
function placesOf({ before, after, width, height }: FramePair, c: number, refused: Record<Refusal, number>): Place[] {
  const [least, most] = endsOf([before, after], c)
  const found: Place[] = []
  const [mean, difference] = [new Plane(), new Plane()]
  const every = max(1, ceil((floor(width / side) * floor(height / side)) / mostPlaces))
  let place = 0
  for (let top = 0; top + side <= height; top += side)
    for (let left = 0; left + side <= width; left += side) {
      if (place++ % every !== 0) continue
      mean.clear()
      difference.clear()
      let [clipped, covered] = [0, true]
      for (let y = 0; y < side; y++)
        for (let x = 0; x < side; x++) {
          const i = 4 * ((top + y) * width + left + x)
          const [a, b] = [before[i + c], after[i + c]]
          if (!(before[i + 3] >= 1 && after[i + 3] >= 1)) covered = false
          if (a <= least || b <= least || a >= most || b >= most) clipped++
          mean.add(x, y, (a + b) / 2)
          difference.add(x, y, a - b)
        }
      if (!covered || !Number.isFinite(mean.light)) refused.empty++
      else if (clipped > mostClipped) refused.clipped++
      else found.push({ light: mean.light, byDifference: difference.variance / 2, byMean: mean.variance * 2 })
    }
  return found
}

/** Least and most of a channel: where many pixels have it, the plate is clipped there. */
function endsOf(frames: readonly Float32Array[], c: number): readonly [number, number] {
  let [least, most] = [Infinity, -Infinity]
  for (const light of frames)
    for (let i = c; i < light.length; i += 4) {
      const value = light[i]
      if (value < least) least = value
      if (value > most) most = value
    }
  return [least, most]
}

/** What a plane through a place's pixels leaves of them. */
class Plane {
  private sum = 0
  private squares = 0
  private across = 0
  private down = 0

  clear(): void {
    this.sum = this.squares = this.across = this.down = 0
  }

  add(x: number, y: number, value: number): void {
    this.sum += value
    this.squares += value * value
    this.across += (x - middle) * value
    this.down += (y - middle) * value
  }

  get light(): number {
    return this.sum / pixels
  }

  get variance(): number {
    const left = this.squares - this.sum ** 2 / pixels - (this.across ** 2 + this.down ** 2) / spread
    return max(0, left) / freedom
  }
}

const middle = (side - 1) / 2
/** Sum of the squared distances from the middle, one way. */
const spread = (pixels * (side * side - 1)) / 12

/** @returns null where no bin holds anything flat */
function channelOf(places: readonly Place[], refused: Record<Refusal, number>): GrainOfChannel | null {
  const sorted = binned(places)
  const found = sorted.map(measured)
  const known = lineThrough(found.flatMap((one) => one.bin ?? []))
  if (!known) return null
  for (const { textured, moving } of found) {
    refused.textured += textured
    refused.moving += moving
  }
  const off = found.flatMap(({ bin }) =>
    bin && bin.verdict === 'usable' ? [abs(sqrt(varianceAt(known, bin.light)) / bin.sigma - 1)] : [],
  )
  return {
    bins: found.map(({ bin }, i) => bin ?? { ...sorted[i].ends, ...nothing }),
    ...{ shot: known.shot, shotError: known.shotError },
    ...{
      read: sqrt(known.read),
      readError: known.read > 0 ? known.readError / (2 * sqrt(known.read)) : sqrt(known.readError),
    },
    farthest: max(0, ...off),
  }
}

const nothing = { light: NaN, sigma: NaN, error: NaN, places: 0, verdict: 'nothing flat' } as const

interface Bin {
  readonly ends: { readonly from: number; readonly to: number }
  readonly places: readonly Place[]
}

/**
 * As many places in each, but for the brightest few: lamps are far brighter than all else, and are shared out evenly by the square root of
 * their light.
 */
function binned(places: readonly Place[]): readonly Bin[] {
  const sorted = [...places].sort((a, b) => a.light - b.light)
  const bright = ceil(usualShare * sorted.length)
  const lightAt = (i: number) => max(0, sorted[min(sorted.length - 1, i)].light)
  const [from, to] = [lightAt(bright), lightAt(sorted.length)].map(sqrt)
  const ends = [
    ...Array.from({ length: usualBins }, (_, i) => lightAt(floor((i * bright) / usualBins))),
    ...Array.from({ length: brightBins + 1 }, (_, i) => (from + ((to - from) * i) / brightBins) ** 2),
  ]
  const of = ends.slice(1).map((): Place[] => [])
  let bin = 0
  for (const place of sorted) {
    while (bin < of.length - 1 && place.light >= ends[bin + 1]) bin++
    of[bin].push(place)
  }
  return of.map((some, i) => ({ ends: { from: ends[i], to: ends[i + 1] }, places: some }))
}

interface Measured {
  readonly bin: GrainBin | null
  readonly textured: number
  readonly moving: number
}

/** Flat places lie close together however strong the grain is, and below all others: from the flattest on, what holds no more than they do is taken in. */
function measured({ ends, places }: Bin): Measured {
  if (places.length === 0) return { bin: null, textured: 0, moving: 0 }
  const sorted = [...places].sort((a, b) => a.byMean - b.byMean)
  const at = (share: number) => sorted[floor(share * sorted.length)].byMean
  // Texture has no such bottom: there the flattest go on falling.
  const bottomless = places.length >= enoughForShares && at(veryFlattest) < steep * at(flattest)
  let flat = bottomless ? [] : sorted.slice(0, ceil(flattest * places.length))
  let usual = 0
  for (let round = 0; round < rounds && flat.length > 0; round++) {
    usual = medianOf(flat.map(({ byDifference }) => byDifference))
    flat = sorted.filter(({ byMean }) => byMean <= usual * (1 + flatWithin * scatter))
  }
  const textured = places.length - flat.length
  const still = flat.filter(({ byDifference }) => abs(byDifference / usual - 1) <= stillWithin * scatter)
  const moving = flat.length - still.length
  if (still.length === 0) return { bin: null, textured, moving }
  const mean = (of: (place: Place) => number) => still.reduce((sum, place) => sum + of(place), 0) / still.length
  const [variance, apart, light] = [
    mean((one) => one.byDifference),
    mean((one) => one.byMean),
    mean((one) => one.light),
  ]
  if (!(variance > 0)) return { bin: null, textured, moving }
  // What is not in the mean flips from frame to frame: a screen, or light that is cut up in time.
  if (variance > alike * apart) return { bin: null, textured, moving: moving + still.length }
  const from = sqrt(mean((one) => (one.byDifference - variance) ** 2) / max(1, still.length - 1))
  const error = max(from, (variance * scatter) / sqrt(still.length))
  const sigma = sqrt(variance)
  const verdict = still.length < thin ? 'thin' : 'usable'
  return { bin: { ...ends, light, sigma, error: error / (2 * sigma), places: still.length, verdict }, textured, moving }
}

/** Variance over light. */
interface Line {
  readonly shot: number
  readonly shotError: number
  readonly read: number
  readonly readError: number
}

const varianceAt = ({ shot, read }: Pick<Line, 'shot' | 'read'>, light: number) => shot * max(0, light) + read

/** By least squares, each bin by its error; neither part below 0. */
function lineThrough(found: readonly GrainBin[]): Line | null {
  const points = found.flatMap(({ light, sigma, error }) =>
    sigma > 0 ? [{ x: light, y: sigma * sigma, w: 1 / (2 * sigma * error) ** 2 }] : [],
  )
  if (points.length === 0) return null
  const sum = (of: (p: (typeof points)[number]) => number) => points.reduce((total, p) => total + p.w * of(p), 0)
  const [w, wx, wxx, wy, wxy] = [
    sum(() => 1),
    sum((p) => p.x),
    sum((p) => p.x ** 2),
    sum((p) => p.y),
    sum((p) => p.x * p.y),
  ]
  const determinant = w * wxx - wx * wx
  const level: Line = { shot: 0, shotError: 0, read: wy / w, readError: sqrt(1 / w) }
  // One level of light tells no slope.
  if (!(determinant > 1e-9 * w * wxx)) return level
  const [shot, read] = [(w * wxy - wx * wy) / determinant, (wxx * wy - wx * wxy) / determinant]
  const [shotError, readError] = [sqrt(w / determinant), sqrt(wxx / determinant)]
  if (shot < 0) return { ...level, shotError }
  if (read < 0) return { shot: wxy / wxx, shotError: sqrt(1 / wxx), read: 0, readError }
  return { shot, shotError, read, readError }
}
