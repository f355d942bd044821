import { nearestShadow, type ShadowCorners } from './nearest-shadow'
import { randomOf } from '../test/random'

/** Ground with a shadow and an occlusion of known settings, in noise. */

const pixels = 600
const veil = 0.02

interface Settings {
  readonly ratio: readonly number[]
  readonly occlusion: number
}

/** What shadow and occlusion blends make of ground: `v + (B - v)(1 - m (1 - s))`, likewise the occlusion. */
function ground({ ratio, occlusion }: Settings, sigma = 0, seed = 1): Float32Array {
  const { normal } = randomOf(seed)
  const light = new Float32Array(pixels * 4)
  for (let i = 0; i < pixels; i++) {
    const [m, ao] = [(i % 10) / 10, 1 - ((i >> 4) % 7) / 9]
    for (let c = 0; c < 3; c++) {
      const behind = 0.05 + 0.03 * c + (i % 23) / 200
      const darkened = (behind - veil) * (1 - m * (1 - ratio[c])) * (1 - occlusion * (1 - ao))
      light[4 * i + c] = veil + darkened + sigma * normal()
    }
    light[4 * i + 3] = 1
  }
  return light
}

const all = (ratio: number, occlusion: number) => ground({ ratio: [ratio, ratio, ratio], occlusion })
const corners = { ratio: [all(0, 0), all(1, 0)], occluded: [all(0, 1), all(1, 1)] } as const
const frame = (truth: Settings, sigma = 0, seed = 1): ShadowCorners => ({
  ...corners,
  wanted: ground(truth, sigma, seed),
  object: 'ball',
  counts: () => true,
})
const truth = { ratio: [0.31, 0.4, 0.52], occlusion: 0.63 }

test('ratio of each channel and strength of the occlusion are found', () => {
  const found = nearestShadow([frame(truth), frame(truth)])
  found?.ratio.forEach(({ value }, c) => expect(value).toBeCloseTo(truth.ratio[c], 3))
  expect(found?.occlusion?.value).toBeCloseTo(truth.occlusion, 3)
})

test('without an occlusion the ratio alone is', () => {
  const plain = { ...truth, occlusion: 0 }
  const { occluded: _, ...rest } = frame(plain)
  const found = nearestShadow([rest])
  found?.ratio.forEach(({ value }, c) => expect(value).toBeCloseTo(truth.ratio[c], 5))
  expect(found?.occlusion).toBeNull()
  // One frame says nothing of how frames differ.
  expect(found?.ratio[0].bar).toBe(Infinity)
})

test('bars of 90 % hold the truth in noise, in about nine of ten', () => {
  let [held, tried] = [0, 0]
  for (let seed = 1; seed <= 60; seed++) {
    const frames = Array.from({ length: 8 }, (_, i) => frame(truth, 0.01, 100 * seed + i))
    nearestShadow(frames)?.ratio.forEach(({ value, bar }, c) => {
      tried++
      if (Math.abs(value - truth.ratio[c]) <= bar) held++
    })
  }
  expect(tried).toBe(180)
  expect(held / tried).toBeGreaterThan(0.82)
  expect(held / tried).toBeLessThan(0.97)
})

test('what does not count is not looked at, and where nothing is darkened nothing is told', () => {
  const spoiled = frame(truth)
  spoiled.wanted.fill(9, 0, 4 * 150)
  const found = nearestShadow([{ ...spoiled, counts: (i) => i >= 150 }])
  expect(found?.ratio[1].value).toBeCloseTo(truth.ratio[1], 3)
  const same = all(1, 0)
  expect(nearestShadow([{ ratio: [same, same], wanted: same, object: 'ball', counts: () => true }])).toBeNull()
})

test('objects that disagree widen the bars, however many frames they have', () => {
  const frames = (object: string, ratio: number) =>
    Array.from({ length: 8 }, (_, i) => ({ ...frame({ ...truth, ratio: [ratio, 0.4, 0.5] }, 0.002, i + 1), object }))
  const found = nearestShadow([...frames('ball', 0.2), ...frames('chart', 0.4)])
  expect(found?.ratio[0].bar).toBeGreaterThan(0.1)
  expect(found?.ratio[1].bar).toBeLessThan(0.02)
})
