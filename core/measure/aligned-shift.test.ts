import { randomOf } from '../test/random'
import { alignedShift } from './aligned-shift'

/** A patch found again in a picture that was moved. */

const patch = { width: 40, height: 36 }
const farthest = 6

/** Smooth texture of a few pixels' size. */
const texture = (x: number, y: number) =>
  0.2 + 0.08 * Math.sin(x / 4.1 + 0.1 * y) + 0.08 * Math.cos(y / 3.7 - 0.1 * x) + 0.05 * Math.sin((x + y) / 6.3)

function picture(
  at: (x: number, y: number) => number,
  left: number,
  width: number,
  height: number,
  sigma = 0,
  seed = 1,
) {
  const { normal } = randomOf(seed)
  const light = new Float32Array(width * height * 4)
  for (let i = 0; i < width * height; i++) {
    const value = at((i % width) + left, Math.floor(i / width) + left) + sigma * normal()
    light.set([value, value, value, 1], 4 * i)
  }
  return light
}
const before = (sigma = 0) => picture(texture, 0, patch.width, patch.height, sigma)
const after = (dx: number, dy: number, sigma = 0) =>
  picture(
    (x, y) => texture(x - dx, y - dy),
    -farthest,
    patch.width + 2 * farthest,
    patch.height + 2 * farthest,
    sigma,
    2,
  )

test.each([
  [0, 0],
  [3, -2],
  [-4.4, 1.25],
])('a movement of %f, %f is found, between pixels too, and whatever light was added', (dx, dy) => {
  const lifted = after(dx, dy).map((value) => value + 0.1)
  const found = alignedShift(before(), patch, lifted, farthest)
  expect(Math.hypot((found?.x ?? 9) - dx, (found?.y ?? 9) - dy)).toBeLessThan(0.05)
})

test('in noise it lies within three of its stated error', () => {
  const found = alignedShift(before(0.01), patch, after(2.5, -1.5, 0.01), farthest)
  if (!found) throw new Error('nothing was found')
  expect(Math.hypot(found.x - 2.5, found.y + 1.5)).toBeLessThan(3 * found.error + 0.05)
})

test('in noise that is nearly as strong as the texture the nearest of all places is found, wherever it lies', () => {
  for (const [dx, dy] of [
    [4, 4],
    [-5, 3],
    [0, -5],
  ] as const) {
    const found = alignedShift(before(0.05), patch, after(dx, dy, 0.05), farthest)
    expect(Math.hypot((found?.x ?? 9) - dx, (found?.y ?? 9) - dy)).toBeLessThan(0.6)
  }
})

test('flat ground, however noisy, and ground that moved too far cannot be followed', () => {
  const flat = (seed: number, extra: number) =>
    picture(() => 0.2, 0, patch.width + extra, patch.height + extra, 0.02, seed)
  expect(alignedShift(flat(1, 0), patch, flat(2, 2 * farthest), farthest)).toBeNull()
  const ramp = (x: number) => 0.01 * x
  const straight = picture(ramp, 0, patch.width, patch.height)
  const moved = picture((x) => ramp(x), -farthest, patch.width + 2 * farthest, patch.height + 2 * farthest)
  // Along the ramp's level lines nothing says where it is.
  expect(alignedShift(straight, patch, moved, farthest)).toBeNull()
  expect(alignedShift(before(), patch, after(9, 0), farthest)).toBeNull()
})

test('of places that fit alike, where texture repeats, the nearest is taken', () => {
  const tiles = (x: number, y: number) =>
    0.2 + 0.1 * Math.sin((2 * Math.PI * x) / 8) + 0.1 * Math.cos((2 * Math.PI * y) / 8)
  const moved = picture(
    (x, y) => tiles(x - 1, y + 2),
    -farthest,
    patch.width + 2 * farthest,
    patch.height + 2 * farthest,
  )
  const found = alignedShift(picture(tiles, 0, patch.width, patch.height), patch, moved, farthest)
  expect(found?.x).toBeCloseTo(1, 1)
  expect(found?.y).toBeCloseTo(-2, 1)
})

test('a movement of many pixels is found from half the size on, as exactly as a small one', () => {
  const far = 24
  const moved = picture((x, y) => texture(x - 17.3, y + 11.6), -far, patch.width + 2 * far, patch.height + 2 * far)
  const found = alignedShift(before(), patch, moved, far)
  expect(Math.hypot((found?.x ?? 99) - 17.3, (found?.y ?? 99) + 11.6)).toBeLessThan(0.05)
})
