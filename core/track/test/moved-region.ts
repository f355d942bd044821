/** For the tests and the bench: a region found again in a picture whose motion is known, beside the bound that noise sets. */

import { solved } from '../../algebra/solved'
import type { Matrix3 } from '../../graph/steps'
import { inverseOf, multiplied, throughMatrix } from '../../motion/mapping'
import { randomOf } from '../../test/random'
import { alignedRegion, pictureFor, regionOf, type AlignedRegion } from '../aligned-region'
import type { RegionModel } from '../pattern-models'
import type { Plane } from '../spline'
import { textureOf } from './texture'

export const side = 120
const middle = 60
const corners = [
  [20, 24],
  [100, 24],
  [100, 96],
  [20, 96],
] as const
export const inside = (x: number, y: number) => x >= 20 && x <= 100 && y >= 24 && y <= 96
const about = (m: Matrix3): Matrix3 =>
  multiplied([1, 0, middle, 0, 1, middle, 0, 0, 1], multiplied(m, [1, 0, -middle, 0, 1, -middle, 0, 0, 1]))
export const motions: Readonly<Record<RegionModel, Matrix3>> = {
  translation: about([1, 0, 3.4, 0, 1, -2.3, 0, 0, 1]),
  similarity: about([1.03, -0.04, 2.2, 0.04, 1.03, 1.6, 0, 0, 1]),
  affine: about([1.02, 0.03, -2.5, -0.01, 0.97, 3.1, 0, 0, 1]),
  homography: about([1.02, 0.02, 2.5, -0.015, 0.98, -1.5, 2e-4, -3e-4, 1]),
}
export const identity: Matrix3 = [1, 0, 0, 0, 1, 0, 0, 0, 1]

export const near = (model: RegionModel): Matrix3 => multiplied([1, 0, 1.1, 0, 1, -0.8, 0, 0, 1], motions[model])

export interface Seen {
  readonly noise?: number
  readonly gain?: number
  /** whether something else is seen at a pixel */
  readonly covered?: (x: number, y: number) => boolean
}

export function pictureOf(
  seed: number,
  matrix: Matrix3,
  number: number,
  { noise = 0, gain = 1, covered }: Seen = {},
): Plane {
  const [texture, other] = [textureOf(seed, 9), textureOf(seed + 77, 9)]
  const { normal } = randomOf(seed * 1000 + number)
  const back = inverseOf(matrix) as Matrix3
  const values = new Float64Array(side * side)
  for (let i = 0; i < values.length; i++) {
    const [x, y] = [i % side, Math.floor(i / side)]
    const [u, v] = throughMatrix(back, x, y) as readonly [number, number]
    const light = covered?.(x, y) ? 1.5 * other(x, y) + 1 : gain * texture(u, v) + 0.2 * (gain - 1)
    values[i] = light + (noise > 0 ? noise * normal() : 0)
  }
  return { values, width: side, height: side }
}

export function found(seed: number, model: RegionModel, start: Matrix3, seen: Seen = {}): AlignedRegion | null {
  const region = regionOf(pictureOf(seed, identity, 1, { ...seen, gain: 1, covered: undefined } as Seen), inside, model)
  if (!region) throw new Error('There is no region.')
  return alignedRegion(region, pictureFor(region, pictureOf(seed, motions[model], 2, seen)), start)
}

/** Root of the mean square of the corners' errors, an axis. */
export function cornerError(model: RegionModel, matrix: Matrix3): number {
  const squares = corners.map(([x, y]) => {
    const [a, b] = [throughMatrix(matrix, x, y), throughMatrix(motions[model], x, y)] as (readonly [number, number])[]
    return (a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2
  })
  return Math.sqrt(squares.reduce((sum, one) => sum + one, 0) / 8)
}

/** Numbers of a small perspective motion about the middle, the last two times the size of the region. */
const small = (p: readonly number[]): Matrix3 =>
  multiplied(
    [40, 0, middle, 0, 40, middle, 0, 0, 1],
    multiplied(
      [1 + p[0], p[1], p[2], p[3], 1 + p[4], p[5], p[6], p[7], 1],
      [1 / 40, 0, -middle / 40, 0, 1 / 40, -middle / 40, 0, 0, 1],
    ),
  )
const step = 1e-4
const unit = (k: number) => Array.from({ length: 8 }, (_, i) => (i === k ? step : 0))

/** Of the corners, an axis, were nothing but the eight numbers unknown (Cramer and Rao); both pictures have the noise. */
export function boundOf(seed: number, noise: number, gain: number): number {
  const texture = textureOf(seed, 9)
  const information = new Float64Array(64)
  for (let y = 24; y <= 96; y++)
    for (let x = 20; x <= 100; x++) {
      const slopes = Array.from({ length: 8 }, (_, k) => {
        const [u, v] = throughMatrix(small(unit(k)), x, y) as readonly [number, number]
        return (texture(u, v) - texture(x, y)) / step
      })
      for (let a = 0; a < 8; a++) for (let b = 0; b < 8; b++) information[a * 8 + b] += slopes[a] * slopes[b]
    }
  const variance = (noise * noise * (1 + gain * gain)) / (gain * gain)
  let sum = 0
  for (const [x, y] of corners)
    for (const axis of [0, 1] as const) {
      const way = Float64Array.from({ length: 8 }, (_, k) => {
        const there = throughMatrix(small(unit(k)), x, y) as readonly [number, number]
        return (there[axis] - [x, y][axis]) / step
      })
      const through = solved(information, way) as Float64Array
      sum += variance * way.reduce((product, value, k) => product + value * through[k], 0)
    }
  return Math.sqrt(sum / 8)
}
