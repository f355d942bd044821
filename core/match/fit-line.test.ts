import fc from 'fast-check'
import { fitLine, type PairOfReadings } from './fit-line'
import { darkLight, usualTau } from './unlikeness'
import { ninetyPercent } from './students-t'
import { randomOf } from '../test/random'

/** The line that veil and gain are read from, and how well it knows itself. */

const exact = (adjusted: number, gain: number, veil: number): PairOfReadings => ({
  adjusted,
  reference: gain * adjusted + veil,
  adjustedVariance: 1e-8,
  referenceVariance: 1e-8,
})

test('pairs on a line give that line, whatever their errors', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 0.2, max: 4, noNaN: true }),
      fc.double({ min: 0, max: 0.1, noNaN: true }),
      (gain, veil) => {
        const line = fitLine([0.001, 0.05, 0.3, 1.2].map((x) => exact(x, gain, veil)))
        expect(line.gain).toBeCloseTo(gain, 8)
        expect(line.veil).toBeCloseTo(veil, 8)
      },
    ),
  )
})

test('it is the line of York’s equations: Pearson’s data with York’s weights', () => {
  // York (1966); slope and intercept as published: -0.4805, 5.4799.
  const x = [0, 0.9, 1.8, 2.6, 3.3, 4.4, 5.2, 6.1, 6.5, 7.4]
  const y = [5.9, 5.4, 4.4, 4.6, 3.5, 3.7, 2.8, 2.8, 2.4, 1.5]
  const wx = [1000, 1000, 500, 800, 200, 80, 60, 20, 1.8, 1]
  const wy = [1, 1.8, 4, 8, 20, 20, 70, 70, 100, 500]
  // The share of light is taken out again, so that the variances are those of the paper.
  const pairs = x.map((adjusted, i) => ({
    adjusted,
    reference: y[i],
    adjustedVariance: 1 / wx[i],
    referenceVariance: 1 / wy[i],
  }))
  const line = fitLine(pairs.map((one) => ({ ...one, reference: one.reference - 100 })))
  // With the reference far below zero nothing but `darkLight` is left of that share.
  expect(darkLight * usualTau).toBeLessThan(1e-3)
  expect(line.gain).toBeCloseTo(-0.4805, 3)
  expect(line.veil + 100).toBeCloseTo(5.4799, 2)
})

test('with one of the two known, the other is found from one pair', () => {
  const dark = exact(0.002, 1.3, 0.02)
  expect(fitLine([dark], { gain: 1.3 }).veil).toBeCloseTo(0.02, 10)
  expect(fitLine([exact(0.4, 1.3, 0.02)], { veil: 0.02 }).gain).toBeCloseTo(1.3, 10)
  expect(() => fitLine([dark])).toThrow('2 unknowns cannot be laid through 1 pairs')
})

const simulated = (count: number, seed: number) => {
  const { uniform, normal } = randomOf(seed)
  const truth = { gain: 0.6 + 1.2 * uniform(), veil: 0.005 + 0.04 * uniform() }
  const pairs = Array.from({ length: count }, (_, i) => {
    // From the dark to the light: the first and the last always, the others between, in stops.
    const share = i === 0 ? 0 : i === count - 1 ? 1 : uniform()
    const x = 0.002 * 250 ** share
    const y = truth.gain * x + truth.veil
    const [sx, sy] = [0.0004 * (1 + uniform()), 0.0006 * (1 + uniform()) + 0.002 * y]
    const unlike = usualTau * (y + darkLight) * normal()
    return {
      pair: {
        adjusted: x + sx * normal(),
        reference: y + sy * normal() + unlike,
        adjustedVariance: sx * sx,
        referenceVariance: sy * sy,
      },
      // What an oracle knows: the variance that the pair really has.
      variance: sy * sy + (usualTau * (y + darkLight)) ** 2 + truth.gain ** 2 * sx * sx,
      x,
    }
  })
  return { truth, pairs }
}

/** Half lengths of the 90 % bars of somebody who knows every variance and every true place. */
function oracle(pairs: ReturnType<typeof simulated>['pairs']) {
  let [s, sx, sxx] = [0, 0, 0]
  for (const { variance, x } of pairs) [s, sx, sxx] = [s + 1 / variance, sx + x / variance, sxx + (x * x) / variance]
  const determinant = s * sxx - sx * sx
  return { gain: 1.6449 * Math.sqrt(s / determinant), veil: 1.6449 * Math.sqrt(sxx / determinant) }
}

const medianOf = (values: readonly number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]

test.each([3, 6, 20])(
  '%d pairs of materials that are 5 %% unlike: the stated 90 % bars hold the truth in 88 to 92 %, 4,000 sets',
  (count) => {
    const held = { gain: 0, veil: 0 }
    const lengths = { gain: [] as number[], veil: [] as number[] }
    for (let seed = 1; seed <= 4000; seed++) {
      const { truth, pairs } = simulated(count, seed * 7919 + count)
      const line = fitLine(pairs.map(({ pair }) => pair))
      const reach = ninetyPercent(line.freedom)
      const best = oracle(pairs)
      for (const name of ['gain', 'veil'] as const) {
        const bar = reach * Math.sqrt(line[`${name}Variance`])
        if (Math.abs(line[name] - truth[name]) <= bar) held[name]++
        lengths[name].push(bar / best[name])
      }
    }
    for (const name of ['gain', 'veil'] as const) {
      expect(held[name] / 4000).toBeGreaterThan(0.88)
      expect(held[name] / 4000).toBeLessThan(0.92)
      expect(medianOf(lengths[name])).toBeLessThan(1.25)
    }
  },
)

test('a pair of unlike material widens the bars, and is the one that is left farthest from the line', () => {
  const plain = [0.002, 0.02, 0.08, 0.15, 0.3, 0.5].map((x) => ({
    ...exact(x, 1.2, 0.02),
    referenceVariance: 1e-6,
  }))
  const planted = plain.map((pair, i) => (i === 3 ? { ...pair, reference: pair.reference * 1.4 } : pair))
  const [before, after] = [fitLine(plain), fitLine(planted)]
  expect(after.tau).toBeGreaterThan(1.5 * before.tau)
  expect(after.gainVariance).toBeGreaterThan(2 * before.gainVariance)
  expect(Math.max(...after.left.map(Math.abs))).toBe(Math.abs(after.left[3]))
})

test('Student’s t is that of the tables', () => {
  // 95 % points.
  for (const [freedom, value] of [
    [5, 2.015],
    [10, 1.812],
    [21, 1.721],
    [40, 1.684],
  ])
    expect(ninetyPercent(freedom)).toBeCloseTo(value, 2)
})
