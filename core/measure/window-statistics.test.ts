import fc from 'fast-check'
import type { Window } from '../image/window'
import { measureWindow, mostLag } from './window-statistics'

const window: Window = { x: -7, y: 11, width: 64, height: 48 }
const lightOf = (value: (x: number, y: number) => readonly [number, number, number, number], at = window) => {
  const light = new Float32Array(at.width * at.height * 4)
  for (let y = 0, i = 0; y < at.height; y++) for (let x = 0; x < at.width; x++, i += 4) light.set(value(x, y), i)
  return light
}
/** White Gaussian noise by Box and Muller. */
function noiseOf(seed: number): () => number {
  let state = seed
  const uniform = () => ((state = (Math.imul(state, 1664525) + 1013904223) >>> 0) + 1) / (2 ** 32 + 1)
  return () => Math.sqrt(-2 * Math.log(uniform())) * Math.cos(2 * Math.PI * uniform())
}

test('moments of a ramp are those of its closed form; alpha is a channel like the others', () => {
  // 0 to 63 in every row: variance (n^2 - 1) / 12 of the values, corrected for the count of pixels
  const { moments } = measureWindow(
    lightOf((x) => [x, 2 * x, -x, 1]),
    window,
  )
  const count = 64 * 48
  const variance = (((64 * 64 - 1) / 12) * count) / (count - 1)
  expect(moments.map(({ mean }) => mean)).toEqual([31.5, 63, -31.5, 1])
  expect(moments[0].variance).toBeCloseTo(variance, 8)
  expect(moments[1].variance).toBeCloseTo(4 * variance, 8)
  expect(moments[3]).toMatchObject({ count, notNumbers: 0, variance: 0, varianceError: 0 })
})

test('the error of the variance is as far as variances of noise spread', () => {
  const variances: number[] = []
  let said = 0
  for (let seed = 1; seed <= 60; seed++) {
    const noise = noiseOf(seed * 7919)
    const { moments } = measureWindow(
      lightOf(() => [0.2 + 0.03 * noise(), 0, 0, 1]),
      window,
    )
    variances.push(moments[0].variance)
    said += moments[0].varianceError / 60
  }
  const mean = variances.reduce((sum, value) => sum + value) / 60
  const spread = Math.sqrt(variances.reduce((sum, value) => sum + (value - mean) ** 2, 0) / 59)
  expect(mean).toBeCloseTo(0.0009, 5)
  // Of 60 variances the spread is known to 9 %.
  expect(Math.abs(spread / said - 1)).toBeLessThan(0.27)
})

test('what is no number is counted and left out of everything', () => {
  const light = lightOf((x, y) => [x === 0 ? NaN : x === 1 ? Infinity : 5, y, 0, 1])
  const { moments, percentiles, histogram, autocorrelation, gradients } = measureWindow(light, window, {
    percentiles: [0, 1],
    histogram: { bins: 4, least: 0, most: 10 },
    autocorrelation: true,
    gradients: true,
  })
  expect(moments[0]).toMatchObject({ count: 62 * 48, notNumbers: 96, mean: 5, variance: 0 })
  expect(percentiles?.[0]).toEqual([5, 5])
  expect(histogram?.[0]).toEqual({ bins: [0, 0, 62 * 48, 0], below: 0, above: 0 })
  expect(autocorrelation?.[0].flat().every(Number.isFinite)).toBe(true)
  expect(gradients?.[0][0]).toBe(0)
})

test('percentiles lie between the pixels that stand there; a histogram counts every pixel once', () => {
  fc.assert(
    fc.property(
      fc.array(fc.float({ noNaN: true, min: -2, max: 2 }), { minLength: 16, maxLength: 16 }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      (values, share) => {
        const small = { x: 3, y: 4, width: 4, height: 4 }
        const light = lightOf((x, y) => [values[y * 4 + x], 0, 0, 0], small)
        const { percentiles, histogram } = measureWindow(light, small, {
          percentiles: [0, share, 1],
          histogram: { bins: 7, least: -1, most: 1 },
        })
        const [least, some, most] = percentiles?.[0] ?? []
        expect(least).toBe(Math.min(...values))
        expect(most).toBe(Math.max(...values))
        expect(values.filter((value) => value <= some).length).toBeGreaterThanOrEqual(Math.floor(share * 15) + 1)
        const { bins, below, above } = histogram?.[0] ?? { bins: [], below: 0, above: 0 }
        expect(bins.reduce((sum, count) => sum + count, below + above)).toBe(16)
        expect(below).toBe(values.filter((value) => value < -1).length)
        expect(above).toBe(values.filter((value) => value > 1).length)
      },
    ),
  )
})

test('the autocorrelation of a wave is a cosine; of white noise nothing beyond its own place', () => {
  const wave = measureWindow(
    lightOf((x) => [Math.cos((2 * Math.PI * x) / 16), 0, 0, 1]),
    window,
    { autocorrelation: true },
  ).autocorrelation?.[0]
  for (let dx = -mostLag; dx <= mostLag; dx++)
    expect(wave?.[0][dx + mostLag]).toBeCloseTo(Math.cos((2 * Math.PI * dx) / 16), 1)
  const noise = noiseOf(5)
  const white = measureWindow(
    lightOf(() => [noise(), 0, 0, 1]),
    window,
    { autocorrelation: true },
  ).autocorrelation?.[0]
  expect(white?.[0][mostLag]).toBe(1)
  // one over the square root of the pixels is 0.018
  const others = (white ?? []).flat().filter((_, i) => i !== mostLag)
  expect(others.every((value) => Math.abs(value) < 0.075)).toBe(true)
})

test('a slope has the same gradient a pixel in every octave, noise ever less', () => {
  const slope = measureWindow(
    lightOf((x, y) => [0.5 * x + 0.25 * y, 0, 0, 1]),
    window,
    { gradients: true },
  )
  // Half the size: neighbours are twice as far apart.
  slope.gradients?.[0].forEach((energy, octave) => expect(energy).toBeCloseTo((0.25 + 0.0625) * 4 ** octave, 6))
  expect(slope.gradients?.[0]).toHaveLength(4)
  const noise = noiseOf(11)
  const grain =
    measureWindow(
      lightOf(() => [noise(), 0, 0, 1]),
      window,
      { gradients: true },
    ).gradients?.[0] ?? []
  // White noise of variance 1 has 2 across and 2 down; each halving of the size takes three quarters of the variance.
  expect(Math.abs(grain[0] - 4)).toBeLessThan(0.4)
  expect(Math.abs(grain[1] - 1)).toBeLessThan(0.2)
})

test('an empty window has no pixels, and says so', () => {
  const nothing = { x: 0, y: 0, width: 0, height: 0 }
  const { moments } = measureWindow(new Float32Array(0), nothing, { percentiles: [0.5] })
  expect(moments[0]).toMatchObject({ count: 0, notNumbers: 0, variance: 0 })
  expect(moments[0].mean).toBeNaN()
})
