import { changeOf, couldAgree, madeShadow, ownShadow, ratioToAgree } from './ratios'
import { randomOf } from '../test/random'
import type { Rgb, SideReading } from './side-reading'

/** Ratios of two readings. */

const grey = (value: number): Rgb => [value, value, value]
const side = (light: number, error = 1e-6): SideReading => ({ light: grey(light), error: grey(error), coverage: 1 })

test('what a shadow leaves is told without the veil, which no shadow takes away', () => {
  expect(madeShadow(side(0.01 + 0.4 * 0.2), side(0.01 + 0.2), grey(0.01))?.ratio[0]).toBeCloseTo(0.4, 12)
  expect(ownShadow(side(0.01 + 0.4 * 0.2), side(0.01 + 0.2), grey(0.01))?.ratio[1]).toBeCloseTo(0.4, 12)
})

test('noise of the same pixels falls out; of other ground it does not, and ground differs', () => {
  const [shadowed, lit] = [side(0.08, 0.0004), side(0.2, 0.001)]
  expect(madeShadow(shadowed, lit, grey(0))?.error[0]).toBeCloseTo(0, 12)
  expect(ownShadow(shadowed, lit, grey(0))?.error[0]).toBeGreaterThan(0.0028)
})

test('the error of the plate’s own shadow holds the truth in nine of ten, over a thousand noisy grounds', () => {
  const { normal } = randomOf(11)
  let inside = 0
  for (let i = 0; i < 1000; i++) {
    const noisy = (light: number): SideReading => ({ ...side(light + 0.002 * normal(), 0.002) })
    const found = ownShadow(noisy(0.1), noisy(0.2), grey(0))
    if (found && Math.abs(found.ratio[0] - 0.5) < 1.725 * found.error[0]) inside++
  }
  expect(inside).toBeGreaterThan(880)
  expect(inside).toBeLessThan(985)
})

test('where nothing is lighter than the veil there is no ratio', () => {
  expect(madeShadow(side(0.01), side(0.01), grey(0.01))).toBeNull()
  expect(madeShadow(side(0.01), side(0.013, 0.001), grey(0.01))).toBeNull()
  expect(ownShadow(side(0.01), side(0.01), grey(0.01))).toBeNull()
})

test('light beside that of the frame before, with an error as a share; without light there is none', () => {
  const found = changeOf(side(0.22, 0.002), side(0.2, 0.001))
  expect(found?.ratio[2]).toBeCloseTo(1.1, 12)
  expect(found?.error[2]).toBeCloseTo(Math.hypot(0.002 / 0.22, 0.001 / 0.2), 12)
  expect(changeOf(side(0.2), side(0))).toBeNull()
  expect(changeOf(side(-0.01), side(0.2))).toBeNull()
})

test('with the ratio that makes both agree the shadow leaves what the plate’s own does, where half of it falls too', () => {
  const ratio = (value: number) => ({ ratio: grey(value), error: grey(0.01) })
  for (const falls of [1, 0.5, 0.2]) {
    const left = (of: number) => 1 - falls * (1 - of)
    const found = ratioToAgree(ratio(left(0.35)), ratio(left(0.6)), grey(0.6))
    expect(found?.ratio[0]).toBeCloseTo(0.35, 12)
    expect(found?.error[0]).toBeCloseTo(Math.hypot(0.01, 0.01) / falls, 12)
  }
  // Held to what a shadow can do.
  expect(ratioToAgree(ratio(0.2), ratio(0.8), grey(0.6))?.ratio[0]).toBe(0)
  expect(ratioToAgree(ratio(1.1), ratio(0.6), grey(0.6))?.ratio[0]).toBe(1)
  expect(ratioToAgree(ratio(0.4), ratio(0.99), grey(0.6))).toBeNull()
  // An orange lamp's shadow may take red away and no blue, which is then left as it is set.
  const orange = ratioToAgree(ratio(0.4), { ratio: [0.7, 0.7, 0.99], error: grey(0.01) }, grey(0.6))
  expect(orange?.ratio[0]).toBeCloseTo(0.2, 12)
  expect([orange?.ratio[2], orange?.error[2]]).toEqual([0.6, 0])
  // A shadow that takes a fifth of the light at most is none of iron that is darker by half.
  const weak = { ratio: grey(0.92), error: grey(0.01) }
  expect([0.5, 0.85].map((left) => couldAgree(ratio(left), weak, grey(0.6)))).toEqual([false, true])
  expect(couldAgree(ratio(0.1), ratio(1), grey(1))).toBe(true)
  // One that takes nothing away tells nothing of where it falls.
  expect(ratioToAgree(ratio(0.4), ratio(1), grey(1))).toBeNull()
})
