import { chooseRegions } from './choose-regions'

/** Regions of patches that differ. */

const window = { x: -20, y: 7, width: 60, height: 40 }

/** Patches of ten pixels a side, each lighter than the one before; transparent at the right. */
function patches(): Float32Array {
  const light = new Float32Array(window.width * window.height * 4)
  for (let y = 0; y < window.height; y++)
    for (let x = 0; x < window.width; x++) {
      const i = (y * window.width + x) * 4
      const value = 0.01 * 1.3 ** (Math.floor(x / 10) + 6 * Math.floor(y / 10))
      light.set(x < 50 ? [value, 2 * value, value, 1] : [0, 0, 0, 0], i)
    }
  return light
}
const how = { side: 4, margin: 2, most: 8 }

test('the darkest is first, and the lightest next, where the file says that they lie', () => {
  const [first, second] = chooseRegions(patches(), window, how)
  expect(first).toMatchObject({ width: 4, height: 4 })
  expect([first.x, first.y].map((at, i) => at >= [-20, 7][i] && at < [-10, 17][i])).toEqual([true, true])
  expect(first.light[0]).toBeCloseTo(0.01, 6)
  expect(first.light[1]).toBeCloseTo(0.02, 6)
  expect(second.y).toBeGreaterThanOrEqual(37)
})

test('each differs most from all that were chosen before it', () => {
  const logs = chooseRegions(patches(), window, how).map(({ light }) => light.map((value) => Math.log(value + 0.01)))
  const apart = (a: readonly number[], b: readonly number[]) => Math.hypot(...a.map((value, c) => value - b[c]))
  const nearest = logs.slice(1).map((one, i) => Math.min(...logs.slice(0, i + 1).map((other) => apart(one, other))))
  expect(nearest).toHaveLength(7)
  nearest.slice(1).forEach((one, i) => expect(one).toBeLessThanOrEqual(nearest[i] + 1e-6))
  // The third halves what lies between the first two.
  expect(nearest[1] / nearest[0]).toBeGreaterThan(0.4)
})

test('no two lie on each other, and all is covered as far as the margin reaches', () => {
  const chosen = chooseRegions(patches(), window, { ...how, most: 40 })
  expect(chosen.length).toBeGreaterThan(20)
  for (const [i, a] of chosen.entries()) {
    expect(a.x + a.width + how.margin).toBeLessThanOrEqual(window.x + 50)
    for (const b of chosen.slice(i + 1))
      expect(Math.abs(a.x - b.x) >= a.width || Math.abs(a.y - b.y) >= a.height).toBe(true)
  }
})

test('what is no number is not covered, and where nothing is covered nothing is chosen', () => {
  const light = patches()
  light[0] = NaN
  for (const { x, y } of chooseRegions(light, window, { ...how, most: 40 })) expect(x > -18 || y > 9).toBe(true)
  expect(chooseRegions(new Float32Array(light.length), window, how)).toEqual([])
})
