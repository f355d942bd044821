import { shadowRatio } from './shadow-ratio'
import { randomOf } from '../test/random'
import { darkLight, usualTau } from './unlikeness'
import { unlikeOfSame } from './pair'
import type { Rgb, SideReading } from './side-reading'

/** The ratio that a shadow leaves, from the same ground twice. */

const side = (light: Rgb, error = 0): SideReading => ({ light, error: [error, error, error], coverage: 1 })
const noVeil = { light: [0, 0, 0], error: [0, 0, 0] } as const
const veil: Rgb = [0.02, 0.025, 0.03]
const through = (light: Rgb, by: Rgb): Rgb => [
  veil[0] + by[0] * (light[0] - veil[0]),
  veil[1] + by[1] * (light[1] - veil[1]),
  veil[2] + by[2] * (light[2] - veil[2]),
]

test('the veil is taken from both before the ratio is', () => {
  const lit: Rgb = [0.2, 0.18, 0.15]
  const found = shadowRatio(side(lit), side(through(lit, [0.3, 0.4, 0.5])), { light: veil, error: [0, 0, 0] })
  expect(found?.ratio.map(({ value }) => value)).toEqual([0.3, 0.4, 0.5].map((one) => expect.closeTo(one, 9) as number))
  const without = shadowRatio(side(lit), side(through(lit, [0.3, 0.4, 0.5])), noVeil)
  expect(without?.ratio[0].value).toBeGreaterThan(0.36)
})

test('where the light is not told from the veil any ratio may be, and none is given', () => {
  expect(
    shadowRatio(side([0.021, 0.2, 0.2], 0.002), side([0.02, 0.1, 0.1], 0.002), { light: veil, error: [0, 0, 0] }),
  ).toBeNull()
  expect(shadowRatio(side([0.01, 0.2, 0.2]), side([0.01, 0.1, 0.1]), { light: veil, error: [0, 0, 0] })).toBeNull()
})

test('a veil that is not known well makes it less sure', () => {
  const [lit, dark] = [side([0.1, 0.1, 0.1]), side([0.05, 0.05, 0.05])]
  const bar = (error: number) =>
    shadowRatio(lit, dark, { light: veil, error: [error, error, error] })?.ratio[0].bar ?? NaN
  expect(bar(0.004)).toBeGreaterThan(2 * bar(0))
})

test('the 90 % bars hold the truth in 88 to 93 %, 4,000 sets, from weak light to strong', () => {
  let held = 0
  const sets = 4000
  for (let set = 1; set <= sets; set++) {
    const { uniform, normal } = randomOf(set * 104729)
    const [level, truth] = [0.06 * 8 ** uniform(), 0.1 + 0.8 * uniform()]
    const light: Rgb = [level, level, level]
    const dark = through(light, [truth, truth, truth])
    const noise = 0.002
    const read = (of: Rgb): SideReading =>
      side(
        of.map(
          (one) => one + noise * normal() + unlikeOfSame * usualTau * (one + darkLight) * normal(),
        ) as unknown as Rgb,
        noise,
      )
    const off = 0.0008
    const common = off * normal()
    const known = { light: veil.map((one) => one + common) as unknown as Rgb, error: [off, off, off] as const }
    const found = shadowRatio(read(light), read(dark), known)
    if (found && Math.abs(found.ratio[0].value - truth) <= found.ratio[0].bar) held++
  }
  expect(held / sets).toBeGreaterThan(0.88)
  expect(held / sets).toBeLessThan(0.93)
})
