import { randomOf } from '../test/random'
import { spreadPoints } from './spread-points'
import { textureOf } from './test/texture'
import type { Plane } from './spline'

const [width, height] = [320, 180]
function plane(at: (x: number, y: number) => number, noise = 0.005): Plane {
  const { normal } = randomOf(5)
  const values = Float64Array.from(
    { length: width * height },
    (_, i) => at(i % width, Math.floor(i / width)) + noise * normal(),
  )
  return { values, width, height }
}
const texture = textureOf(4, 9)

test('they lie all over the frame, apart from each other and from its edges', () => {
  const spots = spreadPoints(
    plane((x, y) => 0.1 * texture(x, y)),
    60,
    8,
    14,
  )
  expect(spots.length).toBeGreaterThanOrEqual(50)
  for (const { x, y } of spots) {
    expect(x >= 14 && x < width - 14 && y >= 14 && y < height - 14).toBe(true)
    expect(spots.filter((one) => Math.max(Math.abs(one.x - x), Math.abs(one.y - y)) <= 12)).toHaveLength(1)
  }
  for (const [left, top] of [
    [0, 0],
    [1, 0],
    [0, 1],
    [1, 1],
  ])
    expect(spots.filter(({ x, y }) => +(x >= width / 2) === left && +(y >= height / 2) === top).length).toBeGreaterThan(
      9,
    )
})

test('a busy half takes no more than its share, and flat ground, noise and single edges have none', () => {
  const half = spreadPoints(
    plane((x, y) => (x < 160 ? 1 : 0.1) * texture(x, y)),
    40,
    8,
    14,
  )
  expect(half.filter(({ x }) => x >= 160).length).toBeGreaterThan(half.length / 3)
  expect(
    spreadPoints(
      plane(() => 0.5),
      40,
      8,
      14,
    ),
  ).toEqual([])
  expect(
    spreadPoints(
      plane((x) => (x < 160 ? 0.2 : 0.8)),
      40,
      8,
      14,
    ),
  ).toEqual([])
  const corner = spreadPoints(
    plane((x, y) => (x < 160 && y < 90 ? 0.2 : 0.8)),
    40,
    8,
    14,
  )
  expect(corner.length).toBeGreaterThan(0)
  for (const { x, y } of corner) expect(Math.max(Math.abs(x - 160), Math.abs(y - 90))).toBeLessThanOrEqual(9)
})
