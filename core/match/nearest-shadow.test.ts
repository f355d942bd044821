import { nearestShadow } from './nearest-shadow'
import { doneByShadow, type ShadowCorners } from './shadow-sums'
import { cutWindow } from '../image/cut'
import { randomOf } from '../test/random'

const { floor, max } = Math

/** Ground with a shadow and an occlusion of known settings, in noise. */

const [width, height] = [96, 64]
const pixels = width * height
const window = { x: -7, y: 12, width, height }
const veil = 0.02

interface Truth {
  readonly ratio: readonly number[]
  /** of the light of lit ground, in each channel; the lamps' is the rest, or less */
  readonly sky: readonly number[]
}

/** How much of the lamps' light is away, more to the right; how much of the sky's light is there, less in the lower half. */
const shadowAt = (i: number) => (i % width) / width
const skyThere = Float64Array.from({ length: pixels }, (_, i) => 1 - 0.8 * max(0, floor(i / width) / height - 0.5))
const skyAt = (i: number) => skyThere[i]
const litAt = (i: number, c: number) => 0.05 + 0.03 * c + (i % 23) / 200

function grainOf(sigma: number, seed: number): Float32Array {
  const { normal } = randomOf(seed)
  return Float32Array.from({ length: pixels * 4 }, () => (sigma === 0 ? 0 : sigma * normal()))
}

/** Ground with its grain, of which `left` says how much light is left. */
function ground(left: (i: number, c: number) => number, grain: Float32Array): Float32Array {
  const light = new Float32Array(pixels * 4)
  for (let i = 0; i < pixels; i++) {
    for (let c = 0; c < 3; c++) light[4 * i + c] = veil + (litAt(i, c) + grain[4 * i + c] - veil) * left(i, c)
    light[4 * i + 3] = 1
  }
  return light
}

/** As the blends darken it: `v + (B - v)(1 - m (1 - s))(1 - o (1 - ao))`. */
const blended = (ratio: number, occlusion: number) => (i: number) =>
  (1 - shadowAt(i) * (1 - ratio)) * (1 - occlusion * (1 - skyAt(i)))
/** As light goes: lamps are away, the sky is away, and what is left is the sum of both. */
const real =
  ({ ratio, sky }: Truth) =>
  (i: number, c: number) =>
    1 - shadowAt(i) * (1 - ratio[c]) - sky[c] * (1 - skyAt(i))
const skyPicture = Float32Array.from({ length: pixels * 4 }, (_, i) => skyAt(i >> 2))

const nearest = (frames: readonly ShadowCorners[]) => nearestShadow(frames.map(doneByShadow))

/** @param sigma of the grain of both, the plate's and the photograph's own */
function frame(truth: Truth, sigma = 0, seed = 1): ShadowCorners {
  const grain = grainOf(sigma, seed)
  const all = (ratio: number, occlusion: number) => ground(blended(ratio, occlusion), grain)
  return {
    ratio: [all(0, 0), all(1, 0)],
    occluded: [all(0, 1), all(1, 1)],
    wanted: ground(real(truth), grainOf(sigma, 77_000 + seed)),
    ...{ sky: skyPicture, window, object: 'ball', counts: () => true },
  }
}
const truth = { ratio: [0.31, 0.4, 0.52], sky: [0.55, 0.63, 0.7] }

test('the ratio of each channel is found, and the strength of the occlusion that comes nearest with it', () => {
  const found = nearest([frame(truth), frame(truth)])
  found?.ratio.forEach(({ value }, c) => expect(value).toBeCloseTo(truth.ratio[c], 4))
  const { wanted } = frame(truth)
  const off = (occlusion: number) => {
    let sum = 0
    for (let i = 0; i < pixels; i++)
      for (let c = 0; c < 3; c++) {
        const left = blended(truth.ratio[c], occlusion)(i)
        sum += (veil + (litAt(i, c) - veil) * left - wanted[4 * i + c]) ** 2
      }
    return sum
  }
  const strength = found?.occlusion?.value ?? NaN
  for (const other of [-0.02, 0.02]) expect(off(strength + other)).toBeGreaterThan(off(strength))
})

test('without an occlusion the ratio alone is', () => {
  const plain = { ...truth, sky: [0, 0, 0] }
  const { occluded: _, sky: _sky, ...rest } = frame(plain)
  const found = nearest([rest])
  found?.ratio.forEach(({ value }, c) => expect(value).toBeCloseTo(truth.ratio[c], 5))
  expect(found?.occlusion).toBeNull()
  // One frame says nothing of how frames differ.
  expect(found?.ratio[0].bar).toBe(Infinity)
})

test('bars of 90 % hold the truth in noise, in about nine of ten', () => {
  let [held, tried] = [0, 0]
  for (let seed = 1; seed <= 40; seed++) {
    const frames = Array.from({ length: 8 }, (_, i) => frame(truth, 0.01, 100 * seed + i))
    nearest(frames)?.ratio.forEach(({ value, bar }, c) => {
      tried++
      if (Math.abs(value - truth.ratio[c]) <= bar) held++
    })
  }
  expect(tried).toBe(120)
  expect(held / tried).toBeGreaterThan(0.82)
  expect(held / tried).toBeLessThan(0.97)
})

test('what does not count is not looked at, and where nothing is darkened nothing is told', () => {
  const spoiled = frame(truth)
  spoiled.wanted.fill(9, 0, 4 * 10 * width)
  const found = nearest([{ ...spoiled, counts: (i) => i >= 10 * width }])
  expect(found?.ratio[1].value).toBeCloseTo(truth.ratio[1], 3)
  const same = frame(truth).ratio[1]
  expect(nearest([{ ratio: [same, same], wanted: same, window, object: 'ball', counts: () => true }])).toBeNull()
})

test('objects that disagree widen the bars, however many frames they have', () => {
  const frames = (object: string, ratio: number) =>
    Array.from({ length: 8 }, (_, i) => ({ ...frame({ ...truth, ratio: [ratio, 0.4, 0.5] }, 0.002, i + 1), object }))
  const found = nearest([...frames('ball', 0.2), ...frames('chart', 0.4)])
  expect(found?.ratio[0].bar).toBeGreaterThan(0.1)
  expect(found?.ratio[1].bar).toBeLessThan(0.02)
})

test('ground from which most of the sky is away does not count for the ratio', () => {
  const { wanted, ...rest } = frame(truth)
  const spoiled = wanted.map((value, i) => (skyAt(i >> 2) < 0.7 ? value / 2 : value))
  const dark = Float32Array.from(skyPicture, (value) => (value < 0.7 ? 0.3 : value))
  const found = nearest([
    { ...rest, wanted: spoiled, sky: dark },
    { ...rest, wanted: spoiled, sky: dark },
  ])
  found?.ratio.forEach(({ value }, c) => expect(Math.abs(value - truth.ratio[c])).toBeLessThan(0.01))
  expect(Math.abs((nearest([{ ...rest, wanted: spoiled }])?.ratio[1].value ?? 0) - truth.ratio[1])).toBeGreaterThan(
    0.03,
  )
})

/** The left `by` columns cut off: the same ground, which lies elsewhere in the plate. */
function cutFromLeft({ ratio, occluded, sky, wanted, ...rest }: ShadowCorners, by: number): ShadowCorners {
  const kept = { x: window.x + by, y: window.y, width: width - by, height }
  const cut = (light: Float32Array) => cutWindow(light, window, kept)
  const both = ([a, b]: readonly [Float32Array, Float32Array]) => [cut(a), cut(b)] as const
  return {
    ...rest,
    ratio: both(ratio),
    ...(occluded ? { occluded: both(occluded) } : {}),
    ...(sky ? { sky: cut(sky) } : {}),
    ...{ wanted: cut(wanted), window: kept },
  }
}

test('frames whose pictures begin elsewhere are laid over each other in the plate', () => {
  const frames = Array.from({ length: 8 }, (_, i) => cutFromLeft(frame(truth, 0.02, i + 1), i % 3))
  nearest(frames)?.ratio.forEach(({ value }, c) => expect(Math.abs(value - truth.ratio[c])).toBeLessThan(0.01))
})

test('of objects that were shot on one frame each, what lies around a pixel tells, and not what its own grain does', () => {
  const found = (sigma: number) =>
    nearest(Array.from({ length: 12 }, (_, i) => ({ ...frame(truth, sigma, i + 1), object: `object ${i}` })))
  found(0)?.ratio.forEach(({ value }, c) => expect(value).toBeCloseTo(truth.ratio[c], 4))
  found(0.1)?.ratio.forEach(({ value }, c) => expect(Math.abs(value - truth.ratio[c])).toBeLessThan(0.02))
})

test('grain of the plate is not taken for light that the shadow takes away', () => {
  const frames = Array.from({ length: 8 }, (_, i) => frame(truth, 0.04, i + 1))
  nearest(frames)?.ratio.forEach(({ value }, c) => expect(Math.abs(value - truth.ratio[c])).toBeLessThan(0.015))
})
