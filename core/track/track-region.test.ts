import type { Lens, Matrix3 } from '../graph/steps'
import type { Window } from '../image/window'
import { bent, straightener } from '../motion/lens'
import { inverseOf, multiplied, throughMatrix } from '../motion/mapping'
import { placementMatrix } from '../motion/placing'
import { randomOf } from '../test/random'
import { textureOf } from './test/texture'
import { NothingToFollowError } from './track-point'
import { trackRegion } from './track-region'

/** A board that sways, turns and grows in front of other texture, known on every frame; found again from its outline on the first. */

const frameSize = { width: 220, height: 150 }
const outline = [
  [70, 45],
  [150, 45],
  [150, 105],
  [70, 105],
] as const
const motionAt = (frame: number): Matrix3 => {
  const n = frame - 1001
  const still = { stretch: 1, skew: 0, pivotX: 110, pivotY: 75 }
  const turned = placementMatrix({
    ...still,
    x: 2.5 * n,
    y: 3 * Math.sin(n / 3),
    rotation: 0.7 * n,
    scale: 1 + 0.004 * n,
  })
  return multiplied([1, 0, 0, 0, 1, 0, 4e-6 * n, -3e-6 * n, 1], turned)
}
const [board, ground] = [textureOf(3, 9), textureOf(8, 9)]
const isBoard = ([x, y]: readonly [number, number]) => x > 70 && x < 150 && y > 45 && y < 105

function plate(
  covered: (frame: number, x: number, y: number) => boolean = () => false,
  straight: (frame: number) => (x: number, y: number) => readonly [number, number] | null = () => (x, y) => [x, y],
) {
  return (frame: number, { x: left, y: top, width, height }: Window): Promise<Float32Array> => {
    const { normal } = randomOf(frame * 13)
    const back = inverseOf(motionAt(frame)) as Matrix3
    const out = new Float32Array(width * height * 4)
    const unbent = straight(frame)
    for (let i = 0; i < width * height; i++) {
      const [x, y] = [left + (i % width) + 0.5, top + Math.floor(i / width) + 0.5]
      if (x < 0 || y < 0 || x > frameSize.width || y > frameSize.height) continue
      const seenAt = unbent(x, y) ?? ([x, y] as const)
      const own = throughMatrix(back, seenAt[0], seenAt[1]) as readonly [number, number]
      const seen = isBoard(own) && !covered(frame, x, y) ? board(...own) : ground(x, y)
      const value = 0.5 + 0.1 * seen + 0.01 * normal()
      out.set([value, value, value, 1], 4 * i)
    }
    return Promise.resolve(out)
  }
}
const cornersOff = (frame: number, matrix: Matrix3) =>
  Math.max(
    ...outline.map(([x, y]) => {
      const [a, b] = [throughMatrix(matrix, x, y), throughMatrix(motionAt(frame), x, y)] as (readonly [
        number,
        number,
      ])[]
      return Math.hypot(a[0] - b[0], a[1] - b[1])
    }),
  )
const follow = (light: ReturnType<typeof plate>, more: object = {}) =>
  trackRegion(light, frameSize, { outline, from: 1001, to: 1012, model: 'homography', ...more })

test('in perspective its corners are where they went, forward and backward, and it tells each frame as it is found', async () => {
  const told: number[] = []
  const there = await trackRegion(
    plate(),
    frameSize,
    { outline, from: 1001, to: 1012, model: 'homography' },
    ({ frame }) => told.push(frame),
  )
  expect(there.stopped).toBeNull()
  expect(told).toEqual(Array.from({ length: 12 }, (_, i) => 1001 + i))
  for (const { frame, matrix } of there.frames) expect(cornersOff(frame, matrix)).toBeLessThan(0.15)
  const outlineThere = outline.map(([x, y]) => throughMatrix(motionAt(1012), x, y) as readonly [number, number])
  const back = await follow(plate(), { outline: outlineThere, from: 1012, to: 1001 })
  const last = back.frames[back.frames.length - 1]
  expect(last.frame).toBe(1001)
  expect(cornersOff(1012, inverseOf(last.matrix) as Matrix3)).toBeLessThan(0.2)
})

test('what crosses a part of it, or is left out of it, does not draw it away', async () => {
  const post = (frame: number, x: number) => x > 60 + 8 * (frame - 1001) && x < 76 + 8 * (frame - 1001)
  const crossed = await follow(plate(post))
  expect(crossed.stopped).toBeNull()
  for (const { frame, matrix } of crossed.frames) expect(cornersOff(frame, matrix)).toBeLessThan(0.6)
  // A sign that hangs still in front of it.
  const sign = (_frame: number, x: number, y: number) => x > 95 && x < 125 && y > 60 && y < 90
  const area = [
    [94, 59],
    [126, 59],
    [126, 91],
    [94, 91],
  ]
  const left = await follow(plate(sign), { to: 1006, excluded: [area] })
  expect(left.stopped).toBeNull()
  for (const { frame, matrix } of left.frames) expect(cornersOff(frame, matrix)).toBeLessThan(0.3)
})

test('covered for good, it stops there and says so; flat ground is refused', async () => {
  const gone = await follow(plate((frame) => frame >= 1007))
  expect(gone.stopped?.frame).toBe(1007)
  expect(gone.stopped?.why).toMatch(/covered/)
  const flat = (_frame: number, { width, height }: Window) =>
    Promise.resolve(new Float32Array(width * height * 4).fill(0.3))
  await expect(trackRegion(flat, frameSize, { outline, from: 1001, to: 1002, model: 'affine' })).rejects.toThrow(
    NothingToFollowError,
  )
})

test('behind a lens that is known the motion is one of the straight picture, also while the lens zooms', async () => {
  const lensAt = (frame: number): Lens => ({
    ...{ centre: [100, 70], unit: 132, squeeze: 1.6, k3: 0, p1: 0, p2: 0 },
    ...{ k1: -0.18 - 0.004 * (frame - 1001), k2: 0.03 },
  })
  const light = plate(
    () => false,
    (frame) => straightener(lensAt(frame)),
  )
  // Seen on the first frame through its lens.
  const seen = outline.map((corner) => bent(lensAt(1001), corner))
  const off = (frame: number, places: readonly (readonly [number, number])[]) =>
    Math.max(
      ...outline.map((corner, i) => {
        const there = throughMatrix(motionAt(frame), corner[0], corner[1]) as readonly [number, number]
        const [x, y] = bent(lensAt(frame), there)
        return Math.hypot(places[i][0] - x, places[i][1] - y)
      }),
    )
  const known = await follow(light, { outline: seen, lens: lensAt })
  expect(known.stopped).toBeNull()
  expect(known.frames).toHaveLength(12)
  for (const { frame, places, matrix } of known.frames) {
    expect(off(frame, places)).toBeLessThan(0.15)
    expect(cornersOff(frame, matrix)).toBeLessThan(0.2)
  }
  const unknown = await follow(light, { outline: seen })
  expect(off(1012, unknown.frames.at(-1)?.places ?? [])).toBeGreaterThan(0.4)
})

describe('by the least that holds', () => {
  const rootOf = (squares: readonly number[]) => Math.sqrt(squares.reduce((sum, one) => sum + one, 0) / squares.length)

  test('what only moves is followed by its place alone, better than by eight numbers', async () => {
    const shift = (frame: number): Matrix3 => [1, 0, 1.7 * (frame - 1001), 0, 1, -0.9 * (frame - 1001), 0, 0, 1]
    const light = (frame: number, { x: left, y: top, width, height }: Window): Promise<Float32Array> => {
      const { normal } = randomOf(frame * 29)
      const out = new Float32Array(width * height * 4)
      for (let i = 0; i < width * height; i++) {
        const [x, y] = [left + (i % width) + 0.5, top + Math.floor(i / width) + 0.5]
        const [u, v] = [x - 1.7 * (frame - 1001), y + 0.9 * (frame - 1001)]
        const value = 0.5 + 0.1 * board(u, v) + 0.03 * normal()
        out.set([value, value, value, 1], 4 * i)
      }
      return Promise.resolve(out)
    }
    const offBy = async (model: 'least' | 'homography') => {
      const { frames, stopped } = await trackRegion(light, frameSize, { outline, from: 1001, to: 1008, model })
      expect(stopped).toBeNull()
      expect(new Set(frames.map((one) => one.model)).size).toBe(1)
      expect(frames[7].model).toBe(model === 'least' ? 'translation' : model)
      return rootOf(
        frames.slice(1).flatMap(({ frame, places }) =>
          outline.map(([x, y], i) => {
            const [tx, ty] = throughMatrix(shift(frame), x, y) as readonly [number, number]
            return (places[i][0] - tx) ** 2 + (places[i][1] - ty) ** 2
          }),
        ),
      )
    }
    expect(await offBy('least')).toBeLessThan(0.6 * (await offBy('homography')))
  })

  test('what turns, grows and tilts gets the model that it needs, and keeps it', async () => {
    const { frames, stopped } = await follow(plate(), { model: 'least' })
    expect(stopped).toBeNull()
    const order = ['translation', 'similarity', 'affine', 'homography']
    const taken = frames.map(({ model }) => order.indexOf(model))
    expect(taken.every((one, i) => i === 0 || one >= taken[i - 1])).toBe(true)
    expect(frames.at(-1)?.model).toBe('homography')
    for (const { frame, matrix } of frames) expect(cornersOff(frame, matrix)).toBeLessThan(0.3)
  })

  test('what crosses it does not lead it away', async () => {
    const still = (frame: number, x: number, y: number) => Math.abs(x - 90 - 4 * (frame - 1001)) < 7 && y > 0
    const crossed = plate(still)
    const { frames, stopped } = await follow(crossed, { model: 'least', to: 1006 })
    expect(stopped).toBeNull()
    for (const { frame, matrix } of frames) expect(cornersOff(frame, matrix)).toBeLessThan(0.35)
  })
})
