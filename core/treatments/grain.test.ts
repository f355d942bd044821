import { localEngine } from '../test/local-engine'
import { someFrame, surroundings } from '../test/steps'
import { grain } from './grain'

const window = { x: 0, y: 0, width: 400, height: 100 }
const flat = async () => ({
  decoded: false,
  dataWindow: window,
  displayWindow: window,
  planes: ['R', 'G', 'B'].map((name) => ({
    name,
    type: 'float' as const,
    samples: new Float32Array(40_000).fill(0.25),
  })),
})
const values = { shot: [4, 4, 4], read: [10, 20, 0] }

async function noise(frame = 1001, shot = 'small', scale = 1): Promise<number[][]> {
  const step = grain.build(someFrame(), values, surroundings({ draw: { seed: shot, frame }, scale }))
  const out = await localEngine(1, flat).light(step, window)
  return [0, 1, 2].map((c) => Array.from({ length: 40_000 }, (_, i) => out[i * 4 + c] - 0.25))
}
const mean = (a: readonly number[]) => a.reduce((sum, v) => sum + v, 0) / a.length
const covariance = (a: readonly number[], b: readonly number[]) => mean(a.map((v, i) => v * b[i]))

test('variance is shot times light plus read squared, per channel, to 5 %', async () => {
  const channels = await noise()
  const expected = [0.001 + 0.01 ** 2, 0.001 + 0.02 ** 2, 0.001]
  channels.forEach((n, c) => expect(Math.abs(covariance(n, n) / expected[c] - 1)).toBeLessThan(0.05))
})

test('new on every frame and in every shot, the same when made again', async () => {
  const [now, again, next, other] = [await noise(), await noise(), await noise(1002), await noise(1001, 'other')]
  expect(again).toEqual(now)
  for (const another of [next, other])
    expect(Math.abs(covariance(now[0], another[0]) / covariance(now[0], now[0]))).toBeLessThan(0.02)
})

test('at half scale the deviation is half', async () => {
  const [full, half] = [(await noise())[0], (await noise(1001, 'small', 2))[0]]
  expect(Math.sqrt(covariance(half, half) / covariance(full, full))).toBeCloseTo(0.5, 2)
})

test('with nothing set there is nothing in the graph', () => {
  const input = someFrame()
  expect(grain.build(input, { shot: [0, 0, 0], read: [0, 0, 0] }, surroundings())).toBe(input)
})

test('grain follows coverage: none where alpha is 0, the element’s own share where it covers in part', async () => {
  const soft = async () => ({
    decoded: false,
    dataWindow: window,
    displayWindow: window,
    planes: ['R', 'G', 'B', 'A'].map((name) => ({
      name,
      type: 'float' as const,
      // Nothing on the left, half covered in the middle, whole on the right.
      samples: Float32Array.from({ length: 40_000 }, (_, i) => {
        const cover = [0, 0.5, 1][Math.min(2, Math.floor((i % 400) / 133))]
        return name === 'A' ? cover : 0.25 * cover
      }),
    })),
  })
  const out = await localEngine(1, soft).light(grain.build(someFrame(), values, surroundings()), window)
  const noises = (from: number, level: number) =>
    Array.from({ length: 13_000 }, (_, i) => out[(Math.floor(i / 130) * 400 + from + (i % 130)) * 4] - level)
  expect(noises(0, 0).every((v) => v === 0)).toBe(true)
  const [part, all] = [noises(134, 0.125), noises(267, 0.25)]
  expect(Math.sqrt(covariance(part, part) / covariance(all, all))).toBeCloseTo(0.5, 1)
})
