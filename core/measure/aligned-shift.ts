/** Where a patch of one picture lies in another, by a shift. */

import { noiseLevel } from './noise-level'
import type { Window } from '../image/window'

export interface Shift {
  readonly x: number
  readonly y: number
  /** of the worse axis, in pixels, by noise */
  readonly error: number
}

/** Beyond this nobody can say where it is. */
const mostError = 0.35

/**
 * The least squared difference of brightness without its mean, looked for at half the size first, and between whole pixels by
 * a parabola through it and its neighbours. The error is the bound sqrt(2) sigma / sqrt(sum of squared gradients), both pictures
 * noisy.
 *
 * @param patch RGBA of the patch's window
 * @param search RGBA of the window that reaches `farthest` pixels beyond the patch on every side
 * @returns null where there is too little in it to be found by, or what fits best lies at the end of the search
 */
export function alignedShift(
  patch: Float32Array,
  { width, height }: Pick<Window, 'width' | 'height'>,
  search: Float32Array,
  farthest: number,
): Shift | null {
  const a: Plane = { values: brightness(patch), width, height }
  const b: Plane = { values: brightness(search), width: width + 2 * farthest, height: height + 2 * farthest }
  const error = errorOf(a.values, width, height)
  if (!(error <= mostError)) return null
  const { x, y } = lowestFrom({ a, b })
  if (x === 0 || y === 0 || x === 2 * farthest || y === 2 * farthest) return null
  const between = lowestBetween((dx, dy) => costOf(a, b, x + dx, y + dy))
  return { x: x - farthest + between.x, y: y - farthest + between.y, error }
}

/** What is found at half the size is looked for so far around at the full one. */
const around = 3
/** A patch is halved once more while its sides stay as long. */
const leastHalvedSide = 32

/** The patch and what it is looked for in, at one size. */
interface Level {
  readonly a: Plane
  readonly b: Plane
}

/** Looked for at half the size first, at least once. */
function lowestFrom({ a, b }: Level): { readonly x: number; readonly y: number } {
  const half: Level = { a: halved(a), b: halved(b) }
  const again = Math.min(half.a.width, half.a.height) >= 2 * leastHalvedSide
  // The halves of the patch lie on those of the search where it reaches an even number of pixels further.
  const rough = again ? lowestFrom(half) : lowestNear(half.a, half.b, (b.width - a.width) >> 2)
  const held = (at: number) => Math.min(b.width - a.width, Math.max(0, at))
  const [left, top] = [held(2 * rough.x - around), held(2 * rough.y - around)]
  return lowest(a, b, { x: left, y: top }, { x: held(2 * rough.x + around), y: held(2 * rough.y + around) })
}

interface Plane {
  readonly values: Float64Array
  readonly width: number
  readonly height: number
}

/** Where texture repeats, several places fit alike: a farther one must fit better by this share. */
const clearlyBetter = 0.02

interface Place {
  readonly x: number
  readonly y: number
}

const known = new Map<number, readonly Place[]>()

/** From the middle of a search, which lies at its reach, to its corners. */
function outwards(reach: number): readonly Place[] {
  let places = known.get(reach)
  if (places) return places
  const side = 2 * reach + 1
  const far = ({ x, y }: Place) => (x - reach) ** 2 + (y - reach) ** 2
  places = Array.from({ length: side * side }, (_, i) => ({ x: i % side, y: Math.floor(i / side) }))
    .map((place) => ({ ...place, far: far(place) }))
    .sort((one, other) => one.far - other.far)
  known.set(reach, places)
  return places
}

/** From the middle of the search outwards. */
function lowestNear(a: Plane, b: Plane, reach: number) {
  let best = { x: reach, y: reach, cost: Infinity }
  for (const { x, y } of outwards(reach)) {
    const most = (1 - clearlyBetter) * best.cost
    const cost = costOf(a, b, x, y, most)
    if (cost < most) best = { x, y, cost }
  }
  return best
}

function lowest(a: Plane, b: Plane, from: { x: number; y: number }, to: { x: number; y: number }) {
  let best = { x: from.x, y: from.y, cost: Infinity }
  for (let y = from.y; y <= to.y; y++)
    for (let x = from.x; x <= to.x; x++) {
      const cost = costOf(a, b, x, y, best.cost)
      if (cost < best.cost) best = { x, y, cost }
    }
  return best
}

/**
 * Of `a` laid at a place of `b`.
 *
 * @param most where it is surely more, infinity is given: squares about a mean only grow with every row
 */
function costOf(a: Plane, b: Plane, left: number, top: number, most = Infinity): number {
  let [sum, squares] = [0, 0]
  for (let y = 0; y < a.height; y++) {
    const from = (y + top) * b.width + left
    for (let x = 0; x < a.width; x++) {
      const apart = b.values[from + x] - a.values[y * a.width + x]
      sum += apart
      squares += apart * apart
    }
    if (squares - (sum * sum) / (a.width * (y + 1)) > most) return Infinity
  }
  return squares - (sum * sum) / (a.width * a.height)
}

/** Means of two by two; a last odd row or column is left out. */
function halved({ values, width, height }: Plane): Plane {
  const [across, down] = [width >> 1, height >> 1]
  const out = new Float64Array(across * down)
  for (let y = 0; y < down; y++)
    for (let x = 0; x < across; x++) {
      const i = 2 * y * width + 2 * x
      out[y * across + x] = (values[i] + values[i + 1] + values[i + width] + values[i + width + 1]) / 4
    }
  return { values: out, width: across, height: down }
}

/** The lowest point of the paraboloid through a cost and its eight neighbours, by least squares. */
function lowestBetween(cost: (dx: number, dy: number) => number): { readonly x: number; readonly y: number } {
  const steps = [-1, 0, 1]
  const sum = (of: (dx: number, dy: number) => number) =>
    steps.reduce((total, dy) => total + steps.reduce((row, dx) => row + of(dx, dy) * cost(dx, dy), 0), 0)
  const [slopeX, slopeY] = [sum((dx) => dx) / 6, sum((_, dy) => dy) / 6]
  const bend = (along: (dx: number, dy: number) => number) => sum((dx, dy) => 3 * along(dx, dy) ** 2 - 2) / 3
  const [xx, yy, xy] = [bend((dx) => dx), bend((_, dy) => dy), sum((dx, dy) => dx * dy) / 4]
  const scale = xx * yy - xy * xy
  if (!(scale > 0)) return { x: 0, y: 0 }
  const held = (value: number) => Math.min(1, Math.max(-1, value))
  return { x: held((xy * slopeY - yy * slopeX) / scale), y: held((xy * slopeX - xx * slopeY) / scale) }
}

/** By a ramp nothing is found: gradients count by how they differ from their mean. */
function errorOf(plane: Float64Array, width: number, height: number): number {
  const noise = noiseLevel(plane, { x: 0, y: 0, width, height })
  const [across, down] = [new Moments(), new Moments()]
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x
      across.add((plane[i + 1] - plane[i - 1]) / 2)
      down.add((plane[i + width] - plane[i - width]) / 2)
    }
  // Differences of noise are no texture: each holds half of its variance, and a little more by chance.
  const ofNoise = (across.count * noise * noise) / 2
  const texture = Math.min(across.deviations(), down.deviations()) - ofNoise
  const least = Math.max(0.25 * ofNoise, leastTexture * Math.max(across.squares, down.squares))
  if (texture <= least) return Infinity
  return (Math.SQRT2 * noise) / Math.sqrt(texture)
}

/** Of the squares of gradients: below this nothing but rounding sets a picture apart from a ramp. */
const leastTexture = 1e-4

class Moments {
  count = 0
  squares = 0
  private sum = 0

  add(value: number): void {
    this.count++
    this.sum += value
    this.squares += value * value
  }

  /** sum of squared deviations from the mean */
  deviations(): number {
    return this.count === 0 ? 0 : this.squares - (this.sum * this.sum) / this.count
  }
}

function brightness(light: Float32Array): Float64Array {
  const plane = new Float64Array(light.length >> 2)
  for (let i = 0; i < plane.length; i++) {
    const value = (light[4 * i] + light[4 * i + 1] + light[4 * i + 2]) / 3
    plane[i] = Number.isFinite(value) ? value : 0
  }
  return plane
}
