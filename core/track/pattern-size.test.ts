import type { Window } from '../image/window'
import { randomOf } from '../test/random'
import { patternSize } from './pattern-size'
import { textureOf } from './test/texture'
import { trackPoint } from './track-point'

/** The size of a pattern by what is there, on texture of a known strength that moves by as much as is said, with noise. */

const frame = { width: 320, height: 180 }
const noise = 0.02
const texture = textureOf(11)

const plate =
  (strength: (x: number, y: number) => number, way = 3, pattern: (x: number, y: number) => number = texture) =>
  (at: number, { x: left, y: top, width, height }: Window): Promise<Float32Array> => {
    const { normal } = randomOf(at * 7919)
    const light = new Float32Array(width * height * 4)
    for (let i = 0; i < width * height; i++) {
      const [x, y] = [left + (i % width), top + Math.floor(i / width)]
      if (x < 0 || y < 0 || x >= frame.width || y >= frame.height) continue
      const moved = x - way * (at - 1001)
      const value = 0.4 + strength(moved, y) * pattern(moved + 0.5, y + 0.5) + noise * normal()
      light.set([value, value, value, 1], 4 * i)
    }
    return Promise.resolve(light)
  }
const point = { x: 120.5, y: 90.25 }
const sizeOn = (light: ReturnType<typeof plate>, at = point, next: number | null = 1002) =>
  patternSize(light, frame, at, 1001, next)
const steady = (strength: number) => () => strength

test('the fainter the texture, the larger the pattern; larger than usual only where the usual one holds nothing', async () => {
  const radiusOn = async (strength: (x: number, y: number) => number) => (await sizeOn(plate(strength)))?.radius
  expect(await radiusOn(steady(1))).toBe(7)
  expect(await radiusOn(steady(0.1))).toBe(10)
  expect(await radiusOn(steady(0.02))).toBe(10)
  const hole = (x: number, y: number) => (Math.max(Math.abs(x - 120), Math.abs(y - 90)) > 11 ? 0.3 : 0)
  expect(await radiusOn(hole)).toBeGreaterThan(10)
})

test('what moves otherwise beside it stays out where the point itself tells enough', async () => {
  // A fine thing on ground that stands, which is more than the thing.
  const thing = (at: number) => (x: number, y: number) => {
    const moved = x - 3 * (at - 1001)
    return Math.hypot(moved - 120, y - 90) < 9 ? 2 * texture(moved + 0.5, y + 0.5) : texture(x + 40.5, y + 7.5)
  }
  const light = (at: number, window: Window) => plate(steady(0.3), 0, thing(at))(at, window)
  const size = await patternSize(light, frame, point, 1001, 1002)
  expect(size?.radius).toBe(7)
  const { points } = await trackPoint(light, frame, { point, from: 1001, to: 1006, ...size })
  expect(points.at(-1)?.at.x).toBeCloseTo(point.x + 15, 1)
})

test('where nothing of any size can be followed there is none', async () => {
  expect(await sizeOn(plate(steady(0)))).toBeNull()
  // An edge alone holds nothing along it.
  expect(await sizeOn(plate(steady(0.3), 3, (x) => Math.tanh(x - 120)))).toBeNull()
})

test('grain that is wider than a pixel is no texture: it is not found again on the next frame', async () => {
  const grainy = async (at: number, window: Window) => {
    const { normal } = randomOf(at * 7919)
    const wide = window.width + 2
    const raw = Float64Array.from({ length: wide * (window.height + 2) }, () => 0.05 * normal())
    const light = new Float32Array(window.width * window.height * 4)
    for (let i = 0; i < window.width * window.height; i++) {
      const k = (Math.floor(i / window.width) + 1) * wide + (i % window.width) + 1
      let sum = 0
      for (const by of [-wide - 1, -wide, -wide + 1, -1, 0, 1, wide - 1, wide, wide + 1]) sum += raw[k + by]
      light.fill(0.4 + sum / 9, 4 * i, 4 * i + 3)
      light[4 * i + 3] = 1
    }
    return Promise.resolve(light)
  }
  // By itself it looks like something.
  expect(await sizeOn(grainy, point, null)).not.toBeNull()
  expect(await sizeOn(grainy)).toBeNull()
})

test('what moves fast is looked for farther away, and is found there; as wide as usual it is lost', async () => {
  const fast = plate(steady(0.2), 19)
  const size = await sizeOn(fast)
  expect(size?.search).toBeGreaterThan(30)
  const track = { point, from: 1001, to: 1006 }
  expect((await trackPoint(fast, frame, { ...track, ...size })).stopped).toBeNull()
  expect((await trackPoint(fast, frame, track)).stopped?.frame).toBe(1002)
  expect((await sizeOn(plate(steady(0.2), 0)))?.search).toBeLessThanOrEqual(9)
  expect((await sizeOn(fast, point, null))?.search).toBe(8)
})

test('near the border it is as large as fits', async () => {
  const atLeft = { x: 8.5, y: 90 }
  expect((await sizeOn(plate(steady(0.05)), atLeft))?.radius).toBeLessThanOrEqual(8)
  expect(await sizeOn(plate(steady(1)), { x: 3, y: 90 })).toBeNull()
})

test('what is seen again within reach makes it larger, until it is seen once', async () => {
  // A row of alike spots, 12 pixels apart, beside one thing that is there once.
  const spots = (x: number, y: number) =>
    Math.exp(-(((((x - 120 + 600) % 12) - 6) ** 2 + (y - 90) ** 2) / 6)) +
    Math.exp(-((x - 131) ** 2 + (y - 79) ** 2) / 8)
  const light = plate(steady(0.5), 1, spots)
  const at = { x: 126.5, y: 90 }
  const size = await sizeOn(light, at)
  expect(size?.radius).toBeGreaterThan(7)
  expect((await trackPoint(light, frame, { point: at, from: 1001, to: 1004, ...size })).stopped).toBeNull()
})
