/** For the tests and the bench: a pattern found again in a picture whose shift is known, beside the bound that noise sets. */

import { alignedPatch, readyFor, type AlignedPatch } from '../aligned-patch'
import type { PatternModel } from '../pattern-models'
import type { Plane } from '../spline'
import { planeOf, textureOf } from './texture'

export const side = 48
export const middle = { x: 23, y: 23 }
export const radius = 10

/** Of the shift, by axis, were nothing but it unknown (Cramer and Rao); both pictures have the noise. */
export function boundOf(seed: number, noise: number): number {
  const texture = textureOf(seed)
  let sum = 0
  for (let v = -radius; v <= radius; v++)
    for (let u = -radius; u <= radius; u++) {
      const [x, y] = [middle.x + u, middle.y + v]
      sum += ((texture(x + 0.01, y) - texture(x - 0.01, y)) / 0.02) ** 2
    }
  return (Math.SQRT2 * noise) / Math.sqrt(sum)
}

export interface Moved {
  readonly noise: number
  readonly model?: PatternModel
  readonly turn?: number
  readonly scale?: number
  readonly gain?: number
  readonly shift: readonly [number, number]
}

/** The picture, and the one in which the texture has moved. */
export function picturesOf(
  seed: number,
  { noise, turn = 0, scale = 1, gain = 1, shift: [dx, dy] }: Moved,
): readonly [first: Plane, second: Plane] {
  const texture = textureOf(seed)
  const first = planeOf(side, texture, { noise, seed: 2 * seed })
  const second = planeOf(
    side,
    (x, y) => {
      // Back to the first picture: about the middle, turned and scaled.
      const [u, v] = [(x - middle.x - dx) / scale, (y - middle.y - dy) / scale]
      return (
        0.3 +
        gain *
          texture(
            middle.x + u * Math.cos(turn) + v * Math.sin(turn),
            middle.y + v * Math.cos(turn) - u * Math.sin(turn),
          )
      )
    },
    { noise, seed: 2 * seed + 1 },
  )
  return [first, second]
}

export function found(seed: number, moved: Moved): AlignedPatch | null {
  const [first, second] = picturesOf(seed, moved)
  const {
    model = 'translation',
    shift: [dx, dy],
  } = moved
  const guess = { x: middle.x + Math.round(dx), y: middle.y + Math.round(dy) }
  return alignedPatch(readyFor(first), readyFor(second), middle, guess, { radius, model })
}

/** Whether an error lies in the ellipse that holds 90 % of a Gaussian in the plane. */
export function isHeld({ xx, xy, yy }: AlignedPatch['spread'], ex: number, ey: number): boolean {
  return (yy * ex * ex - 2 * xy * ex * ey + xx * ey * ey) / (xx * yy - xy * xy) <= 4.605
}
