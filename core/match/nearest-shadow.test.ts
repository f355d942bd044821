import { nearestShadow, type ShadowCorners } from './nearest-shadow'
import { randomOf } from '../test/random'

/** Ground with a shadow and an occlusion of known settings, in noise. */

const [width, height] = [96, 64]
const pixels = width * height
const veil = 0.02

interface Settings {
  readonly ratio: readonly number[]
  readonly occlusion: number
}

/** How much of the lamps' light is away, more to the right; how much of the sky's light is there, less in the lower half. */
const shadowAt = (i: number) => (i % width) / width
const skyAt = (i: number) => 1 - Math.max(0, Math.floor(i / width) / height - 0.5)
const litAt = (i: number, c: number) => 0.05 + 0.03 * c + (i % 23) / 200

/** What shadow and occlusion blends make of ground, which has its grain: `v + (B - v)(1 - m (1 - s))`, likewise the occlusion. */
function ground({ ratio, occlusion }: Settings, sigma = 0, seed = 1): Float32Array {
  const { normal } = randomOf(seed)
  const light = new Float32Array(pixels * 4)
  for (let i = 0; i < pixels; i++) {
    for (let c = 0; c < 3; c++) {
      const behind = litAt(i, c) + sigma * normal()
      const darkened = (behind - veil) * (1 - shadowAt(i) * (1 - ratio[c])) * (1 - occlusion * (1 - skyAt(i)))
      light[4 * i + c] = veil + darkened
    }
    light[4 * i + 3] = 1
  }
  return light
}

/** @param sigma of the grain of both, the plate's and the photograph's own */
function frame(truth: Settings, sigma = 0, seed = 1): ShadowCorners {
  const all = (ratio: number, occlusion: number) => ground({ ratio: [ratio, ratio, ratio], occlusion }, sigma, seed)
  return {
    ratio: [all(0, 0), all(1, 0)],
    occluded: [all(0, 1), all(1, 1)],
    wanted: ground(truth, sigma, 77_000 + seed),
    ...{ width, object: 'ball', counts: () => true },
  }
}
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
  spoiled.wanted.fill(9, 0, 4 * 10 * width)
  const found = nearestShadow([{ ...spoiled, counts: (i) => i >= 10 * width }])
  expect(found?.ratio[1].value).toBeCloseTo(truth.ratio[1], 3)
  const same = frame(truth).ratio[1]
  expect(nearestShadow([{ ratio: [same, same], wanted: same, width, object: 'ball', counts: () => true }])).toBeNull()
})

test('objects that disagree widen the bars, however many frames they have', () => {
  const frames = (object: string, ratio: number) =>
    Array.from({ length: 8 }, (_, i) => ({ ...frame({ ...truth, ratio: [ratio, 0.4, 0.5] }, 0.002, i + 1), object }))
  const found = nearestShadow([...frames('ball', 0.2), ...frames('chart', 0.4)])
  expect(found?.ratio[0].bar).toBeGreaterThan(0.1)
  expect(found?.ratio[1].bar).toBeLessThan(0.02)
})

test('next to what stands there, where the sky is away as well, the ratio is not told', () => {
  // As light goes: lamps are shadowed, the sky is occluded, and the plate is the sum of both.
  const real = new Float32Array(pixels * 4)
  for (let i = 0; i < pixels; i++) {
    for (let c = 0; c < 3; c++) {
      const lamps = (1 - truth.ratio[c]) * (1 - shadowAt(i))
      real[4 * i + c] = veil + (litAt(i, c) - veil) * (lamps + truth.ratio[c] * skyAt(i))
    }
    real[4 * i + 3] = 1
  }
  const one = { ...frame(truth), wanted: real }
  const found = nearestShadow([one, one])
  found?.ratio.forEach(({ value }, c) => expect(Math.abs(value - truth.ratio[c])).toBeLessThan(0.01))
  // Told by all ground it would be off by much more.
  const nearby = { ...one, counts: (i: number) => skyAt(i) < 0.7 }
  const elsewhere = nearestShadow([nearby, nearby])
  expect(Math.abs((elsewhere?.ratio[0].value ?? 0) - truth.ratio[0])).toBeGreaterThan(0.02)
})

test('grain of the plate is not taken for light that the shadow takes away', () => {
  const frames = Array.from({ length: 8 }, (_, i) => frame(truth, 0.04, i + 1))
  nearestShadow(frames)?.ratio.forEach(({ value }, c) => expect(Math.abs(value - truth.ratio[c])).toBeLessThan(0.015))
})
