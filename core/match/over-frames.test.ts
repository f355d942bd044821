import { pairsOverFrames } from './over-frames'
import type { PairRead } from './pair'
import type { Rgb } from './side-reading'
import { randomOf } from '../test/random'

/** Frames of pairs taken together: their errors are what the line between the sides leaves, not what both share. */

const grey = (value: number): Rgb => [value, value, value]
const side = (value: number) => ({ light: grey(value), error: grey(0.5), coverage: 1 })

/** Lamps flicker by a tenth, on both sides alike; the plate is noisy. */
function framesOf(light: number, sigma: number, seed: number, count = 8): PairRead[] {
  const { normal } = randomOf(seed)
  return Array.from({ length: count }, (_, i) => {
    const now = light * (1 + 0.1 * Math.sin(i))
    return { name: 'a', purpose: 'mid', adjusted: side(now), reference: side(1.3 * now + 0.02 + sigma * normal()) }
  })
}

test('the error of a pair is that of the mean of its frames’ noise, though lamps flicker ten times as much', () => {
  const pairs = Array.from({ length: 40 }, (_, i) => framesOf(0.05 + 0.01 * i, 0.001, i + 1))
  const errors = pairsOverFrames(pairs).map(({ reference }) => reference.error[0])
  for (const error of errors) {
    expect(error / (0.001 / Math.sqrt(8))).toBeGreaterThan(0.7)
    expect(error / (0.001 / Math.sqrt(8))).toBeLessThan(1.4)
  }
})

test('means are those of the frames, and the render has no error of its own', () => {
  const [one] = pairsOverFrames([framesOf(0.1, 0, 1), framesOf(0.4, 0, 2)])
  expect(one.reference.light[1]).toBeCloseTo(1.3 * one.adjusted.light[1] + 0.02, 9)
  expect(one.adjusted.error).toEqual([0, 0, 0])
})

test('of few frames the errors stay those of the regions’ own noise', () => {
  const [one] = pairsOverFrames([framesOf(0.1, 0, 1, 2), framesOf(0.4, 0, 2, 2)])
  expect(one.reference.error[0]).toBeCloseTo(0.5 / Math.SQRT2, 9)
})
