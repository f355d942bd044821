/** Follows a region from frame to frame, always against the frame where it was outlined, and stops where it is lost. */

import type { Lens, Matrix3 } from '../graph/steps'
import type { Window } from '../image/window'
import { inverseOf, multiplied } from '../motion/mapping'
import { moved } from '../motion/plate-motion'
import type { Spot as Place } from '../motion/placing'
import { alignedRegion, leftOf, pictureFor, regionOf, type AlignedRegion, type RegionPicture } from './aligned-region'
import { brightnessOf } from './brightness'
import { regionModels, type RegionModel, type RegionWay } from './pattern-models'
import { NothingToFollowError } from './track-point'

export interface TrackedRegion {
  readonly frame: number
  /**
   * From plate pixels of the frame where it was outlined to those of this one; a pixel's middle lies at its half. Where the lens is
   * known, between the places without it.
   */
  readonly matrix: Matrix3
  /** the model that was taken */
  readonly model: RegionModel
  /** where each corner of the outline lies, plate pixels */
  readonly places: readonly Place[]
  readonly gain: number
  readonly offset: number
  /** 0 to 1: how much of the region agrees; what crosses it does not */
  readonly agrees: number
  /** root of the mean square of what is left where it agrees, in light */
  readonly left: number
  /** standard errors of where each corner of the outline lies, in pixels */
  readonly errors: readonly { readonly across: number; readonly down: number }[]
}

export interface RegionTrack {
  /** in the order in which they were found; the first is where it was outlined */
  readonly frames: readonly TrackedRegion[]
  readonly stopped: { readonly frame: number; readonly why: string } | null
}

export interface RegionToTrack {
  /** corners of the outline in order, plate pixels */
  readonly outline: readonly Place[]
  /** areas within it that are not of it */
  readonly excluded?: readonly (readonly Place[])[]
  readonly from: number
  readonly to: number
  readonly model: RegionWay
  /** through which the plate is seen, where that is known */
  readonly lens?: ((frame: number) => Lens) | null
  readonly signal?: AbortSignal
}

/** Pixels around the region: what it may move by from where it is expected, and what softening and splines need. */
const margin = 28
/** Less of it that agrees is another thing. */
const leastAgrees = 0.35
/** What is left may be so many times what it was on the frames before. */
const mostLeft = 3
const framesBefore = 5

/**
 * @param light premultiplied RGBA of a window of the plate, which may reach beyond the frame
 * @param found told of every frame as it is found
 * @throws NothingToFollowError, and what `light` throws
 */
export async function trackRegion(
  light: (frame: number, window: Window) => Promise<Float32Array>,
  frameSize: { readonly width: number; readonly height: number },
  { outline, excluded = [], from, to, model, lens, signal }: RegionToTrack,
  found: (one: TrackedRegion) => void = () => undefined,
): Promise<RegionTrack> {
  const own = windowAround(outline, margin)
  const plane = brightnessOf(await light(from, own), own)
  const isIn = (x: number, y: number) => {
    const [px, py] = [own.x + x + 0.5, own.y + y + 0.5]
    if (px < 0 || py < 0 || px >= frameSize.width || py >= frameSize.height) return false
    return isInside(outline, px, py) && !excluded.some((area) => isInside(area, px, py))
  }
  const lensIn = (frame: number, { x, y }: Window): Lens | null => {
    if (!lens) return null
    const { centre, ...numbers } = lens(frame)
    return { centre: [centre[0] - x - 0.5, centre[1] - y - 0.5], ...numbers }
  }
  const regionBy = (by: RegionModel, counts: (x: number, y: number) => boolean = () => true) =>
    regionOf(plane, (x, y) => counts(x, y) && isIn(x, y), by, lensIn(from, own))
  let now: RegionModel = model === 'least' ? regionModels[0] : model
  let region = regionBy(now)
  const still: Matrix3 = [1, 0, 0, 0, 1, 0, 0, 0, 1]
  const inItself = region && alignedRegion(region, pictureFor(region, plane), still, lensIn(from, own))
  const richer = model === 'least' ? richerModels(regionBy) : null
  if (!region || !inItself)
    throw new NothingToFollowError(
      'There is too little in the region to follow it by: it is small, flat, or only has edges that run one way.',
    )
  const first: TrackedRegion = {
    ...{ frame: from, model: now },
    matrix: still,
    gain: 1,
    offset: 0,
    agrees: 1,
    left: 0,
    places: outline,
    errors: outline.map(() => ({ across: 0, down: 0 })),
  }
  const frames = [first]
  found(first)
  const way = to < from ? -1 : 1
  for (let at = from + way; way * (to - at) >= 0 && !signal?.aborted; at += way) {
    const stopped = (why: string): RegionTrack => ({ frames, stopped: { frame: at, why } })
    const expected = goingOn(frames)
    const there = placesBy(expected, outline, lens ? { from: lens(from), to: lens(at) } : undefined)
    if (there.length < outline.length) return stopped('it turned away from the camera')
    if (!there.some(([x, y]) => x > 0 && y > 0 && x < frameSize.width && y < frameSize.height))
      return stopped('it left the frame')
    const around = windowAround(there, margin)
    const picture = brightnessOf(await light(at, around), around)
    // Between windows, whose pixels' middles lie at whole numbers.
    const between = multiplied(
      shifted(-around.x - 0.5, -around.y - 0.5),
      multiplied(expected, shifted(own.x + 0.5, own.y + 0.5)),
    )
    const seen = lensIn(at, around)
    // Mostly it goes on as it moved; only else it is looked for on smaller pictures first.
    let one: AlignedRegion | null =
      alignedRegion(region, pictureFor(region, picture, 1), between, seen) ??
      alignedRegion(region, pictureFor(region, picture), between, seen)
    // From a frame on which it took a richer model it goes on with that one.
    for (;;) {
      const next: RegionModel | null = richer?.(now, one, pictureFor(region, picture, 1), between, seen) ?? null
      const better: RegionOrNone = next && regionBy(next)
      const by: AlignedRegion | null =
        better && alignedRegion(better, pictureFor(better, picture, 1), one?.matrix ?? between, seen)
      if (!next || !better || !by) break
      ;[region, one, now] = [better, by, next]
    }
    if (!one) return stopped('it is covered, blurred, or out of the frame for the most part')
    const usual = frames
      .slice(-framesBefore)
      .map(({ left }) => left)
      .filter((left) => left > 0)
    if (one.agrees < leastAgrees || (usual.length > 0 && one.left > mostLeft * Math.max(...usual)))
      return stopped('it is covered, or the shot was cut')
    const matrix = multiplied(
      shifted(around.x + 0.5, around.y + 0.5),
      multiplied(one.matrix, shifted(-own.x - 0.5, -own.y - 0.5)),
    )
    const places = placesBy(matrix, outline, lens ? { from: lens(from), to: lens(at) } : undefined)
    if (places.length < outline.length) return stopped('it turned away from the camera')
    const told: TrackedRegion = {
      ...{ frame: at, model: now, matrix: matrix.map((value) => value / matrix[8]) as unknown as Matrix3, places },
      ...{ gain: one.gain, offset: one.offset, agrees: one.agrees, left: one.left },
      errors: outline.map(([x, y]) => one.errorAt(x - own.x - 0.5, y - own.y - 0.5)),
    }
    frames.push(told)
    found(told)
  }
  return { frames, stopped: null }
}

/** Pixels a side of the squares by turns of which a model is made, and judged. */
const blockBits = 3
/** A richer model leaves less than this share of what the poorer one leaves. */
const surelyLess = 0.997

/**
 * Whether the next richer model leaves less of what neither was made of.
 *
 * @returns given a model and how the region lies by it (null: it was not found by it), the next one, or null where it does not
 */
function richerModels(regionBy: (model: RegionModel, counts: (x: number, y: number) => boolean) => RegionOrNone) {
  const isEven = (x: number, y: number) => (((x >> blockBits) + (y >> blockBits)) & 1) === 0
  const made = new Map<RegionModel, RegionOrNone>()
  const half = (model: RegionModel) => {
    if (!made.has(model)) made.set(model, regionBy(model, isEven))
    return made.get(model) ?? null
  }
  let others: RegionOrNone = null
  return (
    model: RegionModel,
    lies: AlignedRegion | null,
    picture: RegionPicture,
    start: Matrix3,
    lens: Lens | null,
  ): RegionModel | null => {
    const next = regionModels.at(regionModels.indexOf(model) + 1)
    if (!next) return null
    // What this one does not find at all, the next one may.
    if (!lies) return next
    others ??= regionBy('translation', (x, y) => !isEven(x, y))
    const leftBy = (by: RegionModel) => {
      const region = half(by)
      const found = region && alignedRegion(region, picture, lies.matrix, lens)
      return found && others && leftOf(others, picture, found, lens)
    }
    const [before, after] = [leftBy(model), leftBy(next)]
    return before !== null && after !== null && after < surelyLess * before ? next : null
  }
}
type RegionOrNone = ReturnType<typeof regionOf>

const shifted = (x: number, y: number): Matrix3 => [1, 0, x, 0, 1, y, 0, 0, 1]

/** Places that a motion leads to; those behind the eye are left out. */
export const placesBy = (matrix: Matrix3, from: readonly Place[], lens?: { readonly from: Lens; readonly to: Lens }) =>
  from
    .map(([x, y]) => moved(lens ? { matrix, lens } : { matrix }, x, y))
    .filter((place): place is Place => place !== null)

/** As it moved from the frame before the last to the last, once more. */
export function goingOn(frames: readonly TrackedRegion[]): Matrix3 {
  const [last, before] = [frames[frames.length - 1].matrix, frames.at(-2)?.matrix]
  const back = before && inverseOf(before)
  return back ? multiplied(last, multiplied(back, last)) : last
}

function windowAround(places: readonly Place[], more: number): Window {
  const [xs, ys] = [places.map(([x]) => x), places.map(([, y]) => y)]
  const [left, top] = [Math.floor(Math.min(...xs)) - more, Math.floor(Math.min(...ys)) - more]
  return {
    ...{ x: left, y: top },
    ...{ width: Math.ceil(Math.max(...xs)) + more - left, height: Math.ceil(Math.max(...ys)) + more - top },
  }
}

/** By the number of edges that a line to the right crosses. */
function isInside(outline: readonly Place[], x: number, y: number): boolean {
  let inside = false
  outline.forEach(([ax, ay], i) => {
    const [bx, by] = outline[(i + 1) % outline.length]
    if (ay > y !== by > y && x < ax + ((y - ay) / (by - ay)) * (bx - ax)) inside = !inside
  })
  return inside
}
