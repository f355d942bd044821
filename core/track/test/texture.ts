/** For the tests: texture with a closed form, so that it is known between pixels, and noise on it. */

import { randomOf } from '../../test/random'
import type { Plane } from '../spline'

/** Looked up once: in the tests' own world of global names each look takes longer than the sine. */
const { cos, sin } = Math

export type Texture = (x: number, y: number) => number

/** Waves of random directions, of deviation 1, whose lengths lie about `length` pixels. */
export function textureOf(seed: number, length = 6, waves = 16): Texture {
  const { uniform } = randomOf(seed)
  const all = Array.from({ length: waves }, () => {
    const turn = 2 * Math.PI * uniform()
    const often = ((2 * Math.PI) / length) * (0.5 + uniform())
    return { across: often * cos(turn), down: often * sin(turn), phase: 2 * Math.PI * uniform() }
  })
  const height = Math.sqrt(2 / waves)
  return (x, y) => all.reduce((sum, one) => sum + height * sin(one.across * x + one.down * y + one.phase), 0)
}

/** @param at where the texture is looked at for a pixel */
export function planeOf(
  side: number,
  at: (x: number, y: number) => number,
  { noise = 0, seed = 1 }: { readonly noise?: number; readonly seed?: number } = {},
): Plane {
  const { normal } = randomOf(seed * 2654435761)
  const values = new Float64Array(side * side)
  for (let i = 0; i < values.length; i++)
    values[i] = at(i % side, Math.floor(i / side)) + (noise > 0 ? noise * normal() : 0)
  return { values, width: side, height: side }
}
