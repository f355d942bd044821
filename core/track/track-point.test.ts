import type { Window } from '../image/window'
import { randomOf } from '../test/random'
import { textureOf, type Texture } from './test/texture'
import { NothingToFollowError, trackPoint, type TrackedPoint } from './track-point'

/** A point on texture that moves as is known, followed through frames with noise, and lost where it has to be. */

const frame = { width: 320, height: 180 }
const noise = 0.02
const way = (n: number) => ({ x: 3.3 * n + 4 * Math.sin(n / 3), y: 1.6 * Math.sin(n / 2) })

/** @param what of a frame, instead of the texture moved */
function plate(
  texture: Texture,
  what: (n: number, x: number, y: number, moved: number) => number = (_n, _x, _y, moved) => moved,
) {
  return (at: number, { x: left, y: top, width, height }: Window): Promise<Float32Array> => {
    const n = at - 1001
    const { x: dx, y: dy } = way(n)
    const { normal } = randomOf(at * 7919)
    const light = new Float32Array(width * height * 4)
    for (let i = 0; i < width * height; i++) {
      const [x, y] = [left + (i % width), top + Math.floor(i / width)]
      if (x < 0 || y < 0 || x >= frame.width || y >= frame.height) continue
      const value = what(n, x, y, 0.4 + 0.1 * texture(x + 0.5 - dx, y + 0.5 - dy)) + noise * normal()
      light.set([value, value, value, 1], 4 * i)
    }
    return Promise.resolve(light)
  }
}
const point = { x: 120.5, y: 90.25 }
const truth = (at: number) => ({ x: point.x + way(at - 1001).x, y: point.y + way(at - 1001).y })
const follow = (light: ReturnType<typeof plate>, from = 1001, to = 1020, at = point) =>
  trackPoint(light, frame, { point: at, from, to })

test('forward and backward it is where it went, within its errors, on every frame', async () => {
  const light = plate(textureOf(11))
  const told: TrackedPoint[] = []
  const there = await trackPoint(light, frame, { point, from: 1001, to: 1020 }, (one) => told.push(one))
  expect(there.stopped).toBeNull()
  expect(told).toEqual(there.points)
  const back = await follow(light, 1020, 1001, truth(1020))
  expect(back.points.map(({ frame: at }) => at)).toEqual(there.points.map(({ frame: at }) => at).reverse())
  for (const { points } of [there, back])
    for (const { frame: at, at: found, error } of points) {
      const { x, y } = truth(at)
      expect(Math.abs(found.x - x)).toBeLessThan(Math.max(0.01, 4 * error.x))
      expect(Math.abs(found.y - y)).toBeLessThan(Math.max(0.01, 4 * error.y))
      expect(error.x).toBeLessThan(0.1)
    }
})

describe('it stops on the first frame where it is lost, with the reason', () => {
  const lostFrom = 9
  test.each([
    ['covered by something flat', () => 0.2, /flat covers it/],
    [
      'covered by other texture',
      (x: number, y: number) => 0.4 + 0.1 * textureOf(99)(x, y),
      /nothing like it is within 12 px/,
    ],
  ])('%s', async (_name, cover, why) => {
    const { points, stopped } = await follow(
      plate(textureOf(11), (n, x, y, moved) => (n >= lostFrom ? cover(x, y) : moved)),
    )
    expect(stopped?.frame).toBe(1001 + lostFrom)
    expect(stopped?.why).toMatch(why)
    expect(points).toHaveLength(lostFrom)
  })

  test('out of the frame', async () => {
    const { points, stopped } = await follow(plate(textureOf(11)), 1001, 1090)
    expect(stopped?.why).toBe('it left the frame')
    const last = points[points.length - 1].at
    expect(last.x).toBeGreaterThan(frame.width - 20)
  })
})

test('flat ground, an edge alone and the rim of the frame are refused, each with its sentence', async () => {
  const flat = plate(() => 0)
  await expect(follow(flat)).rejects.toThrow('The plate is flat at the point')
  const edge = plate((x) => (x > 120.5 ? 4 : -4))
  await expect(follow(edge)).rejects.toThrow('There is only an edge at the point')
  await expect(follow(flat, 1001, 1020, { x: 4, y: 90 })).rejects.toThrow(NothingToFollowError)
})

test('the first frame alone is a track of one point', async () => {
  expect(await follow(plate(textureOf(11)), 1005, 1005)).toMatchObject({
    points: [{ frame: 1005, at: point }],
    stopped: null,
  })
})

describe('texture that repeats', () => {
  const { cos, PI } = Math
  /** Tiles of one texture, so many pixels wide and high. */
  const tiled =
    (period: number): Texture =>
    (x, y) => {
      const wave = (2 * PI) / period
      return cos(wave * x) + cos(wave * y) + 0.6 * cos(wave * (x + y) + 1) + 0.5 * cos(2 * wave * x - wave * y)
    }
  const followed = (texture: Texture, more: object = {}) =>
    trackPoint(plate(texture), frame, { point, from: 1001, to: 1006, ...more })

  test('within what is searched is refused, with how far away it is seen again', async () => {
    const refusal = followed(tiled(9))
    await expect(refusal).rejects.toThrow(NothingToFollowError)
    await expect(refusal).rejects.toThrow(
      /^The same pattern is seen again 9 px away: it would jump there\. Take a place/,
    )
  })

  test('farther away than what is searched is none', async () => {
    expect((await followed(tiled(9), { search: 6 })).stopped).toBeNull()
    expect((await followed(tiled(24))).stopped).toBeNull()
  })

  test('alike by half is none', async () => {
    const own = textureOf(5)
    const mixed: Texture = (x, y) => 0.7 * tiled(9)(x, y) + own(x, y)
    expect((await followed(mixed)).stopped).toBeNull()
  })
})
