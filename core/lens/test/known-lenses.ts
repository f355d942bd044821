/** For the tests and the bench: lenses that are known, and lines that are straight behind them. */

import { fittedMotion } from '../../motion/fitted-motion'
import { bent, farthestSeen, straightener, type Lens } from '../../motion/lens'
import { throughMatrix } from '../../motion/mapping'
import { randomOf } from '../../test/random'
import { unbent, type Line } from '../lens-from-lines'

export const frame = { width: 1280, height: 720 }
const cornersOfFrame = (width: number, height: number) =>
  [
    [0, 0],
    [width, 0],
    [0, height],
    [width, height],
  ] as const
const corners = cornersOfFrame(frame.width, frame.height)

/** Lines over the frame that are straight in the world, with Gaussian errors of their places. */
export function linesThrough(lens: Lens, seed: number, count = 20, error = 0.05): Line[] {
  const { uniform, normal } = randomOf(seed)
  const back = straightener(lens)
  const lines: Line[] = []
  while (lines.length < count) {
    const ends = [0, 1].map(() => back(uniform() * frame.width, uniform() * frame.height))
    const [from, to] = ends
    if (!from || !to || Math.hypot(to[0] - from[0], to[1] - from[1]) < 500) continue
    lines.push(
      Array.from({ length: 41 }, (_, i) => {
        const share = i / 40
        const [x, y] = bent(lens, [from[0] + (to[0] - from[0]) * share, from[1] + (to[1] - from[1]) * share])
        return [x + error * normal(), y + error * normal()] as const
      }),
    )
  }
  return lines
}

export const lensOf = (given: Partial<Lens>, squeeze = 1): Lens => ({ ...unbent({ frame, squeeze }), ...given })

/** How far one lens sees a corner from where the other does, in pixels of the plate. */
export function cornersOff(found: Lens, truth: Lens): number {
  const back = straightener(truth)
  return Math.max(
    ...corners.flatMap(([x, y]) => {
      const straight = back(x, y)
      if (!straight) return []
      const there = bent(found, straight)
      return [Math.hypot(there[0] - x, there[1] - y)]
    }),
  )
}

/**
 * The same, less what lines cannot tell: straightened by either lens they are straight, and so they are after any homography.
 */
export function cornersOffAsTold(found: Lens, truth: Lens, { width, height } = frame): number {
  const [straight, asFound] = [straightener(truth), straightener(found)]
  const places = Array.from(
    { length: 17 * 10 },
    (_, i) => [((i % 17) * width) / 16, (Math.floor(i / 17) * height) / 9] as const,
  )
  const both = places.flatMap(([x, y]) => {
    const [from, to] = [straight(x, y), asFound(x, y)]
    return from && to ? [{ from, to }] : []
  })
  const matrix = fittedMotion(
    both.map(({ from }) => from),
    both.map(({ to }) => to),
    'homography',
  )
  if (!matrix) return Infinity
  return Math.max(
    ...cornersOfFrame(width, height).flatMap(([x, y]) => {
      const from = straight(x, y)
      const to = from && throughMatrix(matrix, from[0], from[1])
      if (!to) return []
      const there = bent(found, to)
      return [Math.hypot(there[0] - x, there[1] - y)]
    }),
  )
}

// The corners of a frame lie 1 unit from its middle; r (1 - r2 / 3 R2) folds at R, where the picture is two thirds of that wide.
export const folding = lensOf({ k1: -1 / (3 * (1.2 * 1.5) ** 2) })
export const knownLenses: readonly { readonly name: string; readonly truth: Lens }[] = [
  { name: 'a lens that bends nothing', truth: lensOf({}) },
  { name: 'barrel distortion that folds at 1.2 of the corner', truth: folding },
  { name: 'pincushion distortion', truth: lensOf({ k1: 0.12, k2: 0.02 }) },
  { name: 'a moustache', truth: lensOf({ k1: -0.15, k2: 0.14 }) },
  { name: 'a squeeze of two', truth: lensOf({ k1: -0.1, k2: 0.02 }, 2) },
  { name: 'a centre that is off by 3 %', truth: lensOf({ k1: -0.12, k2: 0.02, centre: [1280 * 0.53, 720 * 0.47] }) },
]

/** @returns where the lens folds, as a share of the way from its centre to the farthest corner; above 1 not in the frame */
export function foldOverCorner(
  lens: Lens,
  { width, height }: { readonly width: number; readonly height: number },
): number {
  const { centre, unit, squeeze } = lens
  const corners = [0, width].flatMap((x) =>
    [0, height].map((y) => Math.hypot(((x - centre[0]) * squeeze) / unit, (y - centre[1]) / unit)),
  )
  return farthestSeen(lens) / Math.max(...corners)
}
