import { randomOf } from '../test/random'
import { fitGamma, triedGammas, type PairAtGammas } from './fit-gamma'
import { ninetyPercent } from './students-t'
import { darkLight, usualTau } from './unlikeness'

/** A power, a gain and a veil from pairs that were read at several powers, and how well they know themselves. */

interface Truth {
  readonly gamma: number
  readonly gain: number
  readonly veil: number
}

const read = (light: number, error: number, reference: number, referenceError: number): PairAtGammas => ({
  reference,
  referenceVariance: referenceError ** 2,
  adjusted: triedGammas.map((gamma) => Math.max(1e-5, light) ** (1 / gamma)),
  adjustedVariance: triedGammas.map((gamma) => ((error / gamma) * Math.max(1e-5, light) ** (1 / gamma - 1)) ** 2),
})

const made = (lights: readonly number[], { gamma, gain, veil }: Truth) =>
  lights.map((light) => read(light, 1e-5, gain * light ** (1 / gamma) + veil, 1e-5))
const lights = [0.002, 0.02, 0.09, 0.2, 0.6]

test.each([
  { gamma: 1, gain: 1.3, veil: 0.02 },
  { gamma: 0.7, gain: 0.8, veil: 0 },
  { gamma: 1.9, gain: 1.1, veil: 0.03 },
])('pairs that were made with $gamma, $gain and $veil give these', (truth) => {
  const found = fitGamma(made(lights, truth))
  expect(found?.gamma).toBeCloseTo(truth.gamma, 3)
  expect(found?.gain).toBeCloseTo(truth.gain, 3)
  expect(found?.veil).toBeCloseTo(truth.veil, 3)
})

test('where the gamma would lie beyond what was tried nothing is found; from three pairs it is not asked for', () => {
  expect(fitGamma(made(lights, { gamma: 3.5, gain: 1, veil: 0 }))).toBeNull()
  expect(() => fitGamma(made(lights.slice(0, 3), { gamma: 1, gain: 1, veil: 0 }))).toThrow('from 3 pairs')
})

test.each([6, 20])(
  '%d pairs of materials that are 5 %% unlike: the stated 90 %% bars hold the truth in 88 to 92 %%, 2,000 sets',
  (count) => {
    const held = { gamma: 0, gain: 0, veil: 0 }
    let sets = 0
    for (let seed = 1; seed <= 2000; seed++) {
      const { uniform, normal } = randomOf(seed * 104_729 + count)
      const truth = { gamma: 0.75 + 0.6 * uniform(), gain: 0.7 + 0.8 * uniform(), veil: 0.005 + 0.03 * uniform() }
      const pairs = Array.from({ length: count }, (_, i) => {
        const share = i === 0 ? 0 : i === count - 1 ? 1 : uniform()
        const x = 0.004 * 150 ** share
        const y = truth.gain * x ** (1 / truth.gamma) + truth.veil
        const [sx, sy] = [0.0004, 0.0006 + 0.002 * y]
        return read(x + sx * normal(), sx, y + sy * normal() + usualTau * (y + darkLight) * normal(), sy)
      })
      const found = fitGamma(pairs)
      if (!found) continue
      sets++
      const reach = ninetyPercent(found.freedom)
      const off = {
        gamma: Math.abs(Math.log(found.gamma / truth.gamma)) / Math.sqrt(found.logGammaVariance),
        gain: Math.abs(found.gain - truth.gain) / Math.sqrt(found.gainVariance),
        veil: Math.abs(found.veil - truth.veil) / Math.sqrt(found.veilVariance),
      }
      for (const name of ['gamma', 'gain', 'veil'] as const) if (off[name] <= reach) held[name]++
    }
    expect(sets).toBeGreaterThan(1990)
    for (const name of ['gamma', 'gain', 'veil'] as const) {
      expect(held[name] / sets).toBeGreaterThan(0.88)
      expect(held[name] / sets).toBeLessThan(0.92)
    }
  },
)
