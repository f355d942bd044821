import fc from 'fast-check'
import type { Matrix3 } from '../graph/steps'
import { randomOf } from '../test/random'
import { fittedMotion, motionModels, pointsNeeded, type MotionModel } from './fitted-motion'
import { throughMatrix } from './mapping'
import { placementMatrix, type Spot } from './placing'

/** Motions that are known lead points to where they are known to go; fitted to them, the same motion comes back. */

const corners: readonly Spot[] = [
  [100.5, 80.25],
  [420.5, 90],
  [400, 300.75],
  [90, 280],
]
const through = (matrix: Matrix3, points: readonly Spot[]) =>
  points.map(([x, y]) => throughMatrix(matrix, x, y) as Spot)
const still = { x: 0, y: 0, rotation: 0, scale: 1, stretch: 1, skew: 0, pivotX: 250, pivotY: 200 }
const motions: Readonly<Record<MotionModel, Matrix3>> = {
  position: placementMatrix({ ...still, x: 12.25, y: -3.5 }),
  similarity: placementMatrix({ ...still, x: 5, y: 8, rotation: 7, scale: 1.06 }),
  affine: placementMatrix({ ...still, x: -4, y: 9, rotation: -3, scale: 0.95, stretch: 1.1, skew: 4 }),
  homography: [1.02, 0.03, 4, -0.02, 0.97, 7, 1.5e-4, -2e-4, 1],
}
const far: readonly Spot[] = [
  [0, 0],
  [1280, 0],
  [1280, 720],
  [0, 720],
  [640, 360],
]

test.each(motionModels)('%s: as many points as it takes bring the motion back, at the frame’s corners too', (by) => {
  const points = corners.slice(0, pointsNeeded[by])
  const fitted = fittedMotion(points, through(motions[by], points), by) as Matrix3
  const [ours, wanted] = [through(fitted, far), through(motions[by], far)]
  ours.forEach(([x, y], i) => {
    expect(x).toBeCloseTo(wanted[i][0], 6)
    expect(y).toBeCloseTo(wanted[i][1], 6)
  })
})

test('what did not move is left where it is, exactly where only position counts', () => {
  expect(fittedMotion(corners, corners, 'position')).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1])
})

test('of many noisy points the fit is as good as least squares is: its error falls with the root of their number', () => {
  const { uniform, normal } = randomOf(7)
  const errorOf = (count: number) => {
    let squares = 0
    for (let run = 0; run < 200; run++) {
      const from = Array.from({ length: count }, (): Spot => [1280 * uniform(), 720 * uniform()])
      const to = through(motions.similarity, from).map(([x, y]): Spot => [x + 0.1 * normal(), y + 0.1 * normal()])
      const [x, y] = throughMatrix(fittedMotion(from, to, 'similarity') as Matrix3, 640, 360) as Spot
      const [wx, wy] = throughMatrix(motions.similarity, 640, 360) as Spot
      squares += (x - wx) ** 2 + (y - wy) ** 2
    }
    return Math.sqrt(squares / 400)
  }
  // At the middle of the points a place is known to 0.1 / sqrt(n), an axis.
  expect(errorOf(25)).toBeGreaterThan(0.8 * 0.02)
  expect(errorOf(25)).toBeLessThan(1.3 * 0.02)
  expect(errorOf(100)).toBeLessThan(1.2 * 0.01)
})

test('too few points, points in one place, on one line, or that fold, tell nothing', () => {
  const line: readonly Spot[] = [
    [0, 0],
    [10, 10],
    [20, 20],
    [30, 30],
  ]
  for (const by of motionModels) expect(fittedMotion([], [], by)).toBeNull()
  expect(fittedMotion([corners[0]], [corners[1]], 'similarity')).toBeNull()
  expect(fittedMotion([corners[0], corners[0]], [corners[1], corners[2]], 'similarity')).toBeNull()
  expect(fittedMotion(line, line, 'affine')).toBeNull()
  expect(fittedMotion(line, line, 'homography')).toBeNull()
  const [a, b, c, d] = corners
  expect(fittedMotion(corners, [a, d, c, b], 'homography')).toBeNull()
  expect(fittedMotion(corners, [a, b, d, c], 'homography')).toBeNull()
})

test('in whichever order the points come, the motion is the same', () => {
  fc.assert(
    fc.property(fc.constantFrom(...motionModels), fc.integer({ min: 1, max: 1e6 }), (by, seed) => {
      const { uniform, normal } = randomOf(seed)
      const from = Array.from({ length: 8 }, (): Spot => [500 * uniform(), 500 * uniform()])
      const to = through(motions[by], from).map(([x, y]): Spot => [x + 0.05 * normal(), y + 0.05 * normal()])
      const one = fittedMotion(from, to, by)
      const other = fittedMotion(from.toReversed(), to.toReversed(), by)
      if (!one || !other) return one === other
      return through(one, far).every(([x, y], i) => {
        const [ox, oy] = through(other, far)[i]
        return Math.hypot(x - ox, y - oy) < 1e-5
      })
    }),
    { numRuns: 60 },
  )
})
