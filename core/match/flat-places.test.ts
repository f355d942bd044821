import { darkestOf, flatPlaces, likest, type FlatPlace } from './flat-places'
import type { Rgb } from './side-reading'
import { randomOf } from '../test/random'

/** Flat places, and which of them are worth comparing. */

const window = { x: 100, y: -40, width: 96, height: 64 }
const noise: Rgb = [0.004, 0.004, 0.004]
const options = { side: 8, margin: 2, noise, shading: 0.06 }

/** Dark on the left, shaded in the middle, lit on the right; beyond a line nothing covers. */
function picture({ sigma = 0, coveredTo = 96, alpha = 1 } = {}): Float32Array {
  const { normal } = randomOf(5)
  const light = new Float32Array(window.width * window.height * 4)
  for (let i = 0; i < light.length / 4; i++) {
    const x = i % window.width
    if (x >= coveredTo) continue
    const value = x < 32 ? 0.02 : x < 64 ? 0.02 + ((x - 32) / 32) * 0.18 : 0.2
    for (let c = 0; c < 3; c++) light[4 * i + c] = (value * (1 + 0.1 * c) + sigma * normal()) * alpha
    light[4 * i + 3] = alpha
  }
  return light
}
const within = ({ x, width }: FlatPlace, from: number, to: number) =>
  x - 2 >= window.x + from && x + width + 2 <= window.x + to

test.each([0, 0.004])('places are flat where the light is, margin and all, with noise of %f', (sigma) => {
  const found = flatPlaces(picture({ sigma }), window, options)
  expect(found.length).toBeGreaterThan(20)
  for (const place of found) expect(within(place, 0, 38) || within(place, 56, 96)).toBe(true)
})

test('what is not covered is no place, and light is told straight', () => {
  const light = picture({ coveredTo: 24 })
  for (const place of flatPlaces(light, window, options)) expect(within(place, 0, 24)).toBe(true)
  expect(flatPlaces(picture({ alpha: 0.5 }), window, options)).toEqual([])
  const [one] = flatPlaces(picture({ alpha: 0.9995 }), window, options)
  expect(one.light[0]).toBeCloseTo(0.02, 6)
})

test('light without coverage is no place of an element', () => {
  const glow = picture().map((value, i) => (i % 4 === 3 ? 0 : value))
  expect(flatPlaces(glow, window, options)).toEqual([])
})

test('what is no number is no flat place', () => {
  const light = picture()
  light[4 * (20 * window.width + 10)] = NaN
  for (const { x, y } of flatPlaces(light, window, options))
    expect(Math.abs(x + 4 - window.x - 10) > 4 || Math.abs(y + 4 - window.y - 20) > 4).toBe(true)
})

const place = (x: number, value: number): FlatPlace => ({
  ...{ x, y: 0, width: 8, height: 8 },
  light: [value, value, value],
})

test('the darkest are chosen first, and none lies over another', () => {
  const chosen = darkestOf([place(0, 0.05), place(4, 0.01), place(20, 0.03), place(40, 0.02)], 3)
  expect(chosen.map(({ x }) => x)).toEqual([4, 40, 20])
})

test('of lit places those are paired whose light is most alike', () => {
  const pairs = likest([place(0, 0.1), place(20, 0.3), place(40, 0.01)], [place(0, 0.29), place(20, 0.011)], {
    ...{ least: 0.06, most: 4 },
  })
  expect(pairs.map(({ reference, adjusted }) => [reference.x, adjusted.x])).toEqual([[20, 0]])
})
