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
 * The least squared difference of brightness without its mean, between whole pixels by a parabola through it and its
 * neighbours. The error is the bound sqrt(2) sigma / sqrt(sum of squared gradients), both pictures noisy.
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
  const a = brightness(patch)
  const b = brightness(search)
  const across = width + 2 * farthest
  const error = errorOf(a, width, height)
  if (!(error <= mostError)) return null
  const side = 2 * farthest + 1
  const costs = new Float64Array(side * side)
  let best = 0
  for (let dy = 0; dy < side; dy++)
    for (let dx = 0; dx < side; dx++) {
      let [sum, squares] = [0, 0]
      for (let y = 0; y < height; y++) {
        const from = (y + dy) * across + dx
        for (let x = 0; x < width; x++) {
          const apart = b[from + x] - a[y * width + x]
          sum += apart
          squares += apart * apart
        }
      }
      const i = dy * side + dx
      costs[i] = squares - (sum * sum) / (width * height)
      if (costs[i] < costs[best]) best = i
    }
  const [x, y] = [best % side, Math.floor(best / side)]
  if (x === 0 || y === 0 || x === side - 1 || y === side - 1) return null
  const between = lowestBetween((dx, dy) => costs[best + dx + dy * side])
  return { x: x - farthest + between.x, y: y - farthest + between.y, error }
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

function errorOf(plane: Float64Array, width: number, height: number): number {
  const noise = noiseLevel(plane, { x: 0, y: 0, width, height })
  let [across, down, count] = [0, 0, 0]
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x
      across += ((plane[i + 1] - plane[i - 1]) / 2) ** 2
      down += ((plane[i + width] - plane[i - width]) / 2) ** 2
      count++
    }
  // Differences of noise are no texture: each holds half of its variance, and a little more by chance.
  const ofNoise = (count * noise * noise) / 2
  const texture = Math.min(across, down) - ofNoise
  if (texture <= 0.25 * ofNoise) return Infinity
  return (Math.SQRT2 * noise) / Math.sqrt(texture)
}

function brightness(light: Float32Array): Float64Array {
  const plane = new Float64Array(light.length >> 2)
  for (let i = 0; i < plane.length; i++) {
    const value = (light[4 * i] + light[4 * i + 1] + light[4 * i + 2]) / 3
    plane[i] = Number.isFinite(value) ? value : 0
  }
  return plane
}
