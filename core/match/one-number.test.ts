import { numberNames, oneNumber, triedOf, type NumberName, type PairTried } from './one-number'
import { randomOf } from '../test/random'
import { darkLight, usualTau } from './unlikeness'
import type { Rgb, SideReading } from './side-reading'

/** Exposure, white balance and saturation from pairs, each told by the pair itself. */

const luma: Rgb = [0.2126, 0.7152, 0.0722]
const side = (light: readonly number[], error: readonly number[] = [0, 0, 0], coverage = 1): SideReading => ({
  light: light as unknown as Rgb,
  error: error as unknown as Rgb,
  coverage,
})
/** What the treatments do to a light. */
const made: Readonly<Record<NumberName, (light: readonly number[], value: number) => number[]>> = {
  exposure: (light, stops) => light.map((one) => one * 2 ** stops),
  // A stand-in for a change of white: red falls and blue rises with the temperature.
  'white balance': ([r, g, b], kelvin) => {
    const by = (1e6 / kelvin - 1e6 / 6500) / 1000
    return [r * Math.exp(1.4 * by), g, b * Math.exp(-2.2 * by)]
  },
  saturation: (light, amount) => {
    const grey = light.reduce((sum, one, c) => sum + luma[c] * one, 0)
    return light.map((one) => grey + amount * (one - grey))
  },
  // Towards one colour of the same luma.
  tint: (light, amount) => {
    const grey = light.reduce((sum, one, c) => sum + luma[c] * one, 0)
    const warm = [1.4, 0.95, 0.45]
    const own = warm.reduce((sum, one, c) => sum + luma[c] * one, 0)
    return light.map((one, c) => one + amount * ((grey * warm[c]) / own - one))
  },
}
const lights = [
  [0.05, 0.06, 0.08],
  [0.3, 0.2, 0.1],
  [0.5, 0.55, 0.45],
  [0.12, 0.05, 0.04],
]
const pairOf = (name: NumberName, light: readonly number[], reference: readonly number[], error = 0): PairTried => ({
  name: light.join(),
  reference: side(
    reference,
    reference.map(() => error),
  ),
  adjusted: triedOf(name).map((value) => side(made[name](light, value))),
})
const truths: Readonly<Record<NumberName, number>> = {
  exposure: 1.7,
  'white balance': 4321,
  saturation: 1.35,
  tint: 0.6,
}

describe.each(numberNames)('%s', (name) => {
  const truth = truths[name]
  const pairs = lights.map((light) => pairOf(name, light, made[name](light, truth)))

  test('is found where both sides are the same thing, from one pair and from several', () => {
    expect((oneNumber(name, pairs, luma)?.value ?? NaN) / truth).toBeCloseTo(1, 3)
    expect((oneNumber(name, pairs.slice(1, 2), luma)?.value ?? NaN) / truth).toBeCloseTo(1, 3)
    expect(oneNumber(name, pairs, luma)?.rests).toHaveLength(4)
  })

  test('more pairs make it surer; a pair of other material is named', () => {
    const bar = (of: readonly PairTried[]) => oneNumber(name, of, luma)?.bar ?? NaN
    expect(bar(pairs)).toBeLessThan(0.8 * Math.max(...pairs.map((one) => bar([one]))))
    const [r, g, b] = made[name]([0.4, 0.3, 0.25], truth)
    const [lighter, middle, darker] = name === 'tint' ? [1.6, 2.5, 4.4] : [4.4, 2.5, 1.6]
    const other = pairOf(name, [0.4, 0.3, 0.25], [r * lighter, g * middle, b * darker])
    expect(oneNumber(name, [...pairs, other], luma)?.against).toBe(other.name)
    expect(oneNumber(name, pairs, luma)?.against).toBeNull()
  })

  test('what one side does not cover says nothing, and without any pair nothing is said', () => {
    const bare = pairs.map((one) => ({ ...one, reference: side(one.reference.light, one.reference.error, 0.5) }))
    expect(oneNumber(name, bare, luma)).toBeNull()
    expect(oneNumber(name, [], luma)).toBeNull()
  })
})

test('grey says nothing of saturation, and what is darker than its noise nothing of colour', () => {
  const grey = pairOf('saturation', [0.2, 0.2, 0.2], [0.25, 0.25, 0.25])
  expect(oneNumber('saturation', [grey], luma)).toBeNull()
  const dark = pairOf('white balance', [0.001, 0.001, 0.001], [0.001, 0.001, 0.001], 0.002)
  expect(oneNumber('white balance', [dark], luma)).toBeNull()
})

test('an exposure does not change what is found of saturation', () => {
  const [light] = lights.slice(1)
  const brighter = made.exposure(made.saturation(light, 0.7), 1.2)
  expect(oneNumber('saturation', [pairOf('saturation', light, brighter)], luma)?.value).toBeCloseTo(0.7, 6)
})

test.each([3, 6, 20])(
  '%d pairs of materials that are 5 %% unlike: the stated 90 %% bars of exposure and saturation hold the truth in 88 to 92 %%',
  (count) => {
    const held = { exposure: 0, saturation: 0 }
    const lengths = { exposure: 0 }
    const sets = count < 20 ? 4000 : 2000
    for (let set = 1; set <= sets; set++) {
      const { uniform, normal } = randomOf(set * 7919 + count)
      for (const name of ['exposure', 'saturation'] as const) {
        const truth = name === 'exposure' ? 2 * uniform() - 1 : 0.5 + uniform()
        let known = 0
        const pairs = Array.from({ length: count }, () => {
          const level = 0.02 * 30 ** uniform()
          const light = [1 + 0.8 * uniform(), 1, 0.3 + 0.5 * uniform()].map((one) => one * level)
          const whole = made[name](light, truth)
          const common = normal()
          const noise = 0.0004
          const reference = whole.map(
            (one) => one + noise * normal() + usualTau * (one + darkLight) * (name === 'exposure' ? common : normal()),
          )
          if (name === 'exposure') {
            // An oracle's variance of the factor, by all channels together.
            const weights = whole.map((one) => 1 / (noise ** 2 + (usualTau * (one + darkLight)) ** 2))
            const squares = light.reduce((sum, one, c) => sum + weights[c] * one * one, 0)
            const apart = light.reduce((sum, one, c) => sum + weights[c] * one * (whole[c] + darkLight), 0) / squares
            known += 1 / (1 / squares / 1e3 + (usualTau * apart) ** 2)
          }
          return pairOf(name, light, reference, noise)
        })
        const found = oneNumber(name, pairs, luma)
        if (!found) throw new Error('nothing was found')
        if (Math.abs(found.value - truth) <= found.bar) held[name]++
        if (name === 'exposure')
          lengths.exposure += found.bar / ((1.6449 / Math.sqrt(known)) * (1 / (2 ** truth * Math.LN2)))
      }
    }
    for (const name of ['exposure', 'saturation'] as const) {
      expect(held[name] / sets).toBeGreaterThan(0.88)
      expect(held[name] / sets).toBeLessThan(0.92)
    }
    expect(lengths.exposure / sets).toBeLessThan(1.25)
  },
)
