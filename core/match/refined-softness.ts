/**
 * By how much the variance of a blur is to change, from pictures that are made with it and with a little more or less of it, and the
 * photograph that they ought to look like.
 */

import { leastBetween } from '../algebra/golden-section'
import { solved } from '../algebra/solved'
import { darkLight } from './unlikeness'

/** Variances that pictures are made with, as factors of what is set: light goes with the variance, as long as it is small. */
export const varianceFactors: readonly number[] = [0.4, 0.7, 1, 1.3, 1.6]
const asSet = varianceFactors.indexOf(1)
const many = varianceFactors.length
/** Beside what each of them differs by from the one as it is set, what the photograph does. */
const size = many + 1

/** Premultiplied RGBA of one window, with each of the variances. */
export type WithEach = readonly Float32Array[]

/** What photographs say; those of several frames are added. */
export interface SoftnessSums {
  /** products of differences, row by row: with each of the variances, and of the photograph last */
  readonly products: Float64Array
  readonly count: number
}

export const noSums: SoftnessSums = { products: new Float64Array(size * size), count: 0 }

export const addSums = (a: SoftnessSums, b: SoftnessSums): SoftnessSums => ({
  products: a.products.map((value, i) => value + b.products[i]),
  count: a.count + b.count,
})

/**
 * Gain and veil of each channel, as the photograph would have them, are not held against the softness. Pixels count by the grain that
 * their light has. Grain that is alike from one pixel to the next hides coarse detail more than fine, so that much of each neighbour is
 * taken away first. The softer an edge, the less grain of the plate behind it is left in what is made: that looks like a better match,
 * and is taken back.
 *
 * @param made the composite, with each of the variances
 * @param covers the element by itself, likewise
 * @param wanted photograph of the same window
 * @param width of it
 */
export function softnessSums(made: WithEach, covers: WithEach, wanted: Float32Array, width: number): SoftnessSums {
  const plain = made[asSet]
  const weights = new Float32Array(plain.length)
  for (let i = 0; i < plain.length; i++) weights[i] = 1 / (Math.max(0, plain[i]) + darkLight)
  return [0, 1, 2].map((c) => sumsOfChannel({ made, covers, wanted, width, weights }, c)).reduce(addSums)
}

interface Compared {
  readonly made: WithEach
  readonly covers: WithEach
  readonly wanted: Float32Array
  readonly width: number
  /** of each value */
  readonly weights: Float32Array
}

/** After those that are asked for: the element's light and its coverage, for its gain and its veil. */
const columns = size + 2
const [light, coverage] = [size, size + 1]

function sumsOfChannel(compared: Compared, c: number): SoftnessSums {
  const { made, covers, wanted, width, weights } = compared
  const row = 4 * width
  const [plain, own, softest] = [made[asSet], covers[asSet], covers[many - 1]]
  const share = neighbourShare(compared, c)
  const without = (values: Float32Array, i: number) =>
    values[i] - share * (values[i - 4] + values[i + 4] + values[i - row] + values[i + row])
  const { isFinite } = Number
  const normal = new Float64Array(columns * columns)
  const values = new Float64Array(columns)
  const behind = new Float64Array(many)
  const together = grainBehind(own, share, row)
  const grain = { plate: 0, photo: 0, left: 0, count: 0 }
  let count = 0
  for (let i = row + 4 + c; i + row + 4 < wanted.length; i += 4) {
    if (i % row < 4 || i % row >= row - 4) continue
    const a = i - c + 3
    const w = weights[i]
    if (softest[a] === 0) {
      // Nothing but plate and photograph.
      const left = w * (wanted[i] - plain[i]) ** 2
      if (!isFinite(left)) continue
      grain.plate += w * rough(plain, i, row) ** 2
      grain.photo += w * rough(wanted, i, row) ** 2
      grain.left += left
      grain.count++
      continue
    }
    const middle = without(plain, i)
    for (let k = 0; k < many; k++) values[k] = without(made[k], i) - middle
    values[many] = without(wanted, i) - middle
    values[light] = without(own, i)
    values[coverage] = without(own, a)
    let all = 0
    for (let k = 0; k < columns; k++) all += values[k]
    if (!isFinite(all)) continue
    count++
    for (let j = 0; j < columns; j++) {
      const by = w * values[j]
      for (let k = j; k < columns; k++) normal[j * columns + k] += by * values[k]
    }
    together(covers, a, behind)
  }
  const ofPlate = grain.plate + grain.photo > 0 ? grain.plate / (grain.plate + grain.photo) : 0
  const level = grain.count > 0 ? (ofPlate * grain.left) / grain.count : 0
  for (let k = 0; k < many; k++) normal[k * columns + many] -= level * behind[k]
  return withoutGainAndVeil(normal, count)
}

/** A pixel and those beside it. */
const places = [
  [0, 0],
  [-1, 0],
  [1, 0],
  [0, -1],
  [0, 1],
]

/**
 * Of grain of variance 1 that is seen through what a cover leaves open otherwise than its own does, and through what that leaves open: the
 * mean of their product where neighbours have been taken away.
 *
 * @returns adds it at a pixel, of each cover
 */
function grainBehind(own: Float32Array, share: number, row: number) {
  const factors = [1, -share, -share, -share, -share]
  const whole = 1 + 4 * share * share
  /** how alike grain is so far apart, where each pixel has that share of its four neighbours */
  const alike = (dx: number, dy: number) => {
    const [x, y] = [Math.abs(dx), Math.abs(dy)]
    if (x + y === 0) return 1
    if (x + y === 1) return (2 * share) / whole
    if (x === 1 && y === 1) return (2 * share * share) / whole
    return x + y === 2 ? (share * share) / whole : 0
  }
  const count = places.length
  const offsets = Int32Array.from(places, ([x, y]) => 4 * x + row * y)
  const products = Float64Array.from({ length: count * count }, (_, n) => {
    const [i, j] = [Math.floor(n / count), n % count]
    return factors[i] * factors[j] * alike(places[i][0] - places[j][0], places[i][1] - places[j][1])
  })
  return (covers: WithEach, a: number, sums: Float64Array) => {
    let open = false
    for (let j = 0; j < count; j++) open ||= own[a + offsets[j]] !== 1
    if (!open) return
    for (let i = 0; i < count; i++) {
      const at = a + offsets[i]
      let seen = 0
      for (let j = 0; j < count; j++) seen += products[i * count + j] * (1 - own[a + offsets[j]])
      for (let k = 0; k < covers.length; k++) sums[k] += seen * (covers[k][at] - own[at])
    }
  }
}

/** Differences of differences both ways, which hardly anything but grain has (Immerkaer 1996). */
const rough = (v: Float32Array, i: number, row: number) =>
  4 * v[i] -
  2 * (v[i - 4] + v[i + 4] + v[i - row] + v[i + row]) +
  (v[i - row - 4] + v[i - row + 4] + v[i + row - 4] + v[i + row + 4])

/** Normal equations with the two that are not asked for solved away (by Schur's complement). */
function withoutGainAndVeil(normal: Float64Array, count: number): SoftnessSums {
  const at = (j: number, k: number) => normal[Math.min(j, k) * columns + Math.max(j, k)]
  const inner = [at(light, light), at(light, coverage), at(light, coverage), at(coverage, coverage)]
  const gone = Array.from({ length: size }, (_, k) => solved(inner, [at(k, light), at(k, coverage)]))
  if (!gone.every((one) => one !== null)) return noSums
  const products = Float64Array.from({ length: size * size }, (_, i) => {
    const [j, k] = [Math.floor(i / size), i % size]
    return at(j, k) - gone[j][0] * at(k, light) - gone[j][1] * at(k, coverage)
  })
  return { products, count: Math.max(0, count - 2) }
}

/** Noise that was spread to its four neighbours by a share of itself: that share, by how alike neighbours are beside the element. */
function neighbourShare({ made, covers, wanted, width, weights }: Compared, c: number): number {
  const row = 4 * width
  const [plain, softest] = [made[asSet], covers[many - 1]]
  let [own, beside] = [0, 0]
  const left = (i: number) => (wanted[i] - plain[i]) * Math.sqrt(weights[i])
  const { isFinite } = Number
  for (let i = c; i + row + 4 < wanted.length; i += 4) {
    if (i % row >= row - 4 || softest[i - c + 3] > 0) continue
    const here = left(i)
    const next = (left(i + 4) + left(i + row)) / 2
    if (!isFinite(here + next)) continue
    own += here * here
    beside += here * next
  }
  const alike = own > 0 ? Math.min(0.49, Math.max(0, beside / own)) : 0
  return alike === 0 ? 0 : (1 - Math.sqrt(1 - 4 * alike * alike)) / (4 * alike)
}

export interface RefinedVariance {
  /** of the variance that is set; among those that pictures were made with */
  readonly factor: number
  /** standard error of it, by noise */
  readonly error: number
}

/** @returns null where nothing tells it */
export function refinedVariance({ products, count }: SoftnessSums): RefinedVariance | null {
  const at = (j: number, k: number) => products[j * size + k]
  const cost = (factor: number) => {
    const parts = [...partsAt(factor), -1]
    return parts.reduce(
      (sum, one, j) =>
        sum + parts.reduce((inner, other, k) => inner + one * other * at(Math.min(j, k), Math.max(j, k)), 0),
      0,
    )
  }
  const [least, most] = [varianceFactors[0], varianceFactors[many - 1]]
  const factor = leastBetween(cost, least, most, 1e-4)
  const about = Math.min(most - step, Math.max(least + step, factor))
  const bend = (cost(about - step) - 2 * cost(about) + cost(about + step)) / (step * step)
  if (!(count > 1) || !(bend > 0)) return null
  return { factor, error: Math.sqrt((2 * Math.max(0, cost(factor))) / (count * bend)) }
}

const step = 0.05

/** What lies between is a polynomial through those that are made (Lagrange's). */
const partsAt = (factor: number): number[] =>
  varianceFactors.map((own, k) =>
    varianceFactors.reduce(
      (product, other, j) => (j === k ? product : (product * (factor - other)) / (own - other)),
      1,
    ),
  )
