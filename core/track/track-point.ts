/** Follows a point from frame to frame by what lies around it, always against the frame where it was set, and stops where it is lost. */

import { medianOf } from '../algebra/median'
import type { Window } from '../image/window'
import { noiseLevel } from '../measure/noise-level'
import { brightnessOf } from './brightness'
import { alignedPatch, readyFor, type AlignedPatch, type Spot } from './aligned-patch'
import type { PatternModel } from './pattern-models'
import type { Plane } from './spline'

export interface TrackedPoint {
  readonly frame: number
  /** in full-scale pixels of the frame; a pixel's middle lies at its half */
  readonly at: Spot
  /** standard errors across and down, in pixels */
  readonly error: Spot
  /** -1 to 1: how like the pattern is what was found */
  readonly likeness: number
}

export interface PointTrack {
  /** in the order in which they were found; the first is where it was set */
  readonly points: readonly TrackedPoint[]
  /** why it ended before the last frame, as the end of a sentence; null where it reached it */
  readonly stopped: { readonly frame: number; readonly why: string } | null
}

export interface PointToTrack {
  readonly point: Spot
  /** the frame where it was set, and the last one; before it: backward */
  readonly from: number
  readonly to: number
  readonly model?: PatternModel
  /** pixels of the pattern on either side of the point */
  readonly radius?: number
  /** it is looked for so many pixels around where it is expected */
  readonly search?: number
  /** once aborted, what was found is kept */
  readonly signal?: AbortSignal
}

/** There is nothing at the point that it could be followed by. */
export class NothingToFollowError extends Error {
  override readonly name = 'NothingToFollowError'
}

/** What a picture needs around the pattern to be softened and looked at between its pixels. */
export const margin = 6
/** Of the likeness that noise alone leaves, what is enough. */
const enoughLikeness = 0.6
/** Of the likeness of the frames before: light and shape change slowly, what covers the point comes at once. */
const mostDrop = 0.8
const framesBefore = 5
/** What a place as far away as it is looked for loses, so that of two that are alike the nearer one is taken. */
const farAway = 0.05
/** As little texture as that is a blur, or another thing. */
const leastTexture = 0.25
/** A place is good enough to be followed, in pixels. */
const mostError = 0.25
/** An edge holds a point across it and lets it slide along. */
const mostUneven = 8

/**
 * @param light premultiplied RGBA of a window of the plate, which may reach beyond the frame
 * @param frame size of the plate
 * @param found told of every frame as it is found
 * @throws NothingToFollowError, and what `light` throws
 */
export async function trackPoint(
  light: (frame: number, window: Window) => Promise<Float32Array>,
  frame: { readonly width: number; readonly height: number },
  { point, from, to, model = 'translation', radius = 10, search = 12, signal }: PointToTrack,
  found: (one: TrackedPoint) => void = () => undefined,
): Promise<PointTrack> {
  const reach = radius + margin
  const square = (middle: Spot, more: number): Window => {
    const side = 2 * (reach + more) + 1
    return { x: Math.floor(middle.x) - reach - more, y: Math.floor(middle.y) - reach - more, width: side, height: side }
  }
  const isInside = ({ x, y }: Spot) =>
    x >= radius && y >= radius && x + radius < frame.width && y + radius < frame.height
  if (!isInside(point)) throw new NothingToFollowError('The pattern around the point reaches beyond the frame.')
  const own = square(point, 0)
  const pattern = brightnessOf(await light(from, own), own)
  // Where pixels' middles lie at whole numbers.
  const within = (middle: Spot, window: Window): Spot => ({
    x: middle.x - 0.5 - window.x,
    y: middle.y - 0.5 - window.y,
  })
  const middle = within(point, own)
  const first = readyFor(pattern)
  const { expected, texture } = followable(pattern, own, middle, radius)
  const near = square(point, search)
  const again = repeated(pattern, brightnessOf(await light(from, near), near), middle, radius, expected)
  if (again)
    throw new NothingToFollowError(
      `The same pattern is seen again ${again.toFixed(0)} px away: it would jump there. Take a place that is unlike what lies around it, a larger pattern, or look less far than ${search} px.`,
    )
  const points: TrackedPoint[] = [{ frame: from, at: point, error: { x: 0, y: 0 }, likeness: 1 }]
  found(points[0])
  const way = to < from ? -1 : 1
  let linear: AlignedPatch['linear'] | undefined
  for (let at = from + way; way * (to - at) >= 0 && !signal?.aborted; at += way) {
    const [last, before] = [points[points.length - 1].at, points.at(-2)?.at]
    const guess = before ? { x: 2 * last.x - before.x, y: 2 * last.y - before.y } : last
    const stopped = (why: string): PointTrack => ({ points, stopped: { frame: at, why } })
    if (!isInside(guess)) return stopped('it left the frame')
    const around = square(guess, search)
    const plane = brightnessOf(await light(at, around), around)
    const place = likest(pattern, plane, middle, radius, search)
    if (!place) return stopped('the plate has nothing there')
    const patch = alignedPatch(first, readyFor(plane), middle, place, { radius, model, ...(linear ? { linear } : {}) })
    const where = patch && { x: patch.at.x + 0.5 + around.x, y: patch.at.y + 0.5 + around.y }
    if (where && !isInside(where)) return stopped('it left the frame')
    if (deviationAbout(plane, patch?.at ?? place, radius) < leastTexture * texture)
      return stopped('what lies there is blurred, or something flat covers it')
    const usual = points
      .slice(1)
      .slice(-framesBefore)
      .map(({ likeness }) => likeness)
    const enough = Math.max(enoughLikeness * expected, mostDrop * (usual.length > 0 ? medianOf(usual) : 0))
    if (!patch || !where || patch.likeness < enough)
      return stopped(
        points.length === 1
          ? `nothing like it is within ${search} px on the next frame: it is covered, the shot was cut, or there is little but grain at the point`
          : `nothing like it is within ${search} px of where it is expected: it is covered, or the shot was cut`,
      )
    linear = model === 'translation' ? undefined : patch.linear
    const one: TrackedPoint = {
      ...{ frame: at, at: where, likeness: patch.likeness },
      error: { x: Math.sqrt(patch.spread.xx), y: Math.sqrt(patch.spread.yy) },
    }
    points.push(one)
    found(one)
  }
  return { points, stopped: null }
}

/**
 * @returns the likeness that the noise of both frames leaves, the deviation of the texture, the error that is to be expected, pixels, and whether it
 *   is much worse along than across
 * @throws NothingToFollowError
 */
export function followable(plane: Plane, window: Window, middle: Spot, radius: number) {
  const noise = noiseLevel(plane.values, window)
  const { values, width } = plane
  let [xx, xy, yy] = [0, 0, 0]
  for (let v = -radius; v <= radius; v++)
    for (let u = -radius; u <= radius; u++) {
      const i = Math.round(middle.y + v) * width + Math.round(middle.x + u)
      const [across, down] = [(values[i + 1] - values[i - 1]) / 2, (values[i + width] - values[i - width]) / 2]
      xx += across * across
      xy += across * down
      yy += down * down
    }
  // Differences of noise are no texture.
  const ofNoise = ((2 * radius + 1) ** 2 * noise * noise) / 2
  const [mean, half] = [(xx + yy) / 2 - ofNoise, Math.hypot((xx - yy) / 2, xy)]
  const [most, least] = [mean + half, mean - half]
  const errorBy = (squares: number) => (squares > 0 ? (Math.SQRT2 * noise) / Math.sqrt(squares) : Infinity)
  const deviation = deviationAbout(plane, middle, radius)
  const texture = Math.sqrt(Math.max(0, deviation * deviation - noise * noise))
  if (!(most > 0) || !(deviation > 0) || errorBy(most) > mostError)
    throw new NothingToFollowError('The plate is flat at the point: nothing there can be followed.')
  if (errorBy(least) > mostError && (least <= 0 || most > mostUneven ** 2 * least))
    throw new NothingToFollowError('There is only an edge at the point, along which it would slide. Take a corner.')
  return {
    expected: (texture * texture) / (deviation * deviation),
    texture,
    error: errorBy(least),
    isEdge: most > mostUneven ** 2 * least,
  }
}

/** So alike another place must be, of what noise leaves of likeness, and at all. */
const asAlike = 0.95
const leastRepeated = 0.7
/** Nearer than this it is the same place. */
const samePlace = 4

/** @returns how far away the pattern is seen again, where it is: a place that is as much like it as itself, and more than what is around */
export function repeated(pattern: Plane, plane: Plane, middle: Spot, radius: number, expected: number): number | null {
  const search = (plane.width - pattern.width) / 2
  const side = 2 * search + 1
  const likeness = likenesses(pattern, plane, middle, radius, search)
  const least = Math.max(leastRepeated, asAlike * expected)
  let nearest: number | null = null
  for (let y = 1; y < side - 1; y++)
    for (let x = 1; x < side - 1; x++) {
      const [own, far] = [likeness[y * side + x], Math.hypot(x - search, y - search)]
      if (own < least || far < samePlace || (nearest !== null && far >= nearest)) continue
      const isPeak = [-side - 1, -side, -side + 1, -1, 1, side - 1, side, side + 1].every(
        (by) => likeness[y * side + x + by] <= own,
      )
      if (isPeak) nearest = far
    }
  return nearest
}

export function deviationAbout({ values, width, height }: Plane, { x, y }: Spot, radius: number): number {
  let [sum, squares, count] = [0, 0, 0]
  for (let v = -radius; v <= radius; v++)
    for (let u = -radius; u <= radius; u++) {
      const [column, row] = [Math.round(x) + u, Math.round(y) + v]
      if (column < 0 || row < 0 || column >= width || row >= height) continue
      const value = values[row * width + column]
      sum += value
      squares += value * value
      count++
    }
  return count === 0 ? 0 : Math.sqrt(Math.max(0, squares / count - (sum / count) ** 2))
}

/** Normalised correlation of a pattern laid at every whole pixel up to `search` away (Lewis, "Fast normalized cross-correlation", 1995). */
function likenesses(pattern: Plane, plane: Plane, middle: Spot, radius: number, search: number): Float64Array {
  const side = 2 * radius + 1
  const [left, top] = [Math.round(middle.x) - radius, Math.round(middle.y) - radius]
  const wanted = new Float64Array(side * side)
  let mean = 0
  for (let v = 0; v < side; v++)
    for (let u = 0; u < side; u++) mean += wanted[v * side + u] = pattern.values[(top + v) * pattern.width + left + u]
  mean /= wanted.length
  let own = 0
  for (let i = 0; i < wanted.length; i++) {
    wanted[i] -= mean
    own += wanted[i] * wanted[i]
  }
  const [wide, high] = [(plane.width - side) / 2, (plane.height - side) / 2]
  const across = 2 * search + 1
  const found = new Float64Array(across * across)
  for (let y = 0; y < across; y++)
    for (let x = 0; x < across; x++) {
      let [sum, squares, product] = [0, 0, 0]
      for (let v = 0; v < side; v++) {
        const row = (high - search + y + v) * plane.width + wide - search + x
        for (let u = 0; u < side; u++) {
          const value = plane.values[row + u]
          sum += value
          squares += value * value
          product += value * wanted[v * side + u]
        }
      }
      const variance = (squares - (sum * sum) / wanted.length) * own
      found[y * across + x] = variance > 0 ? product / Math.sqrt(variance) : 0
    }
  return found
}

export interface Likest extends Spot {
  readonly likeness: number
}

/** The whole pixel where it is highest; of places that are alike the nearer one. */
export function likest(pattern: Plane, plane: Plane, middle: Spot, radius: number, search: number): Likest | null {
  // As far as the plane reaches beyond the pattern.
  const reach = Math.floor((plane.width - 2 * radius - 1) / 2) - margin
  const side = 2 * reach + 1
  const likeness = likenesses(pattern, plane, middle, radius, reach)
  const first = (plane.width - 2 * radius - 1) / 2 - reach + radius
  let best: Likest | null = null
  let highest = 0
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      const nearness = 1 - farAway * (((x - reach) ** 2 + (y - reach) ** 2) / (search * search))
      const value = likeness[y * side + x] * nearness
      if (value > highest) [highest, best] = [value, { x: x + first, y: y + first, likeness: likeness[y * side + x] }]
    }
  // The pattern's middle may lie between pixels.
  return best && { ...best, x: best.x + middle.x - Math.round(middle.x), y: best.y + middle.y - Math.round(middle.y) }
}
