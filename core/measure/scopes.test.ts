import fc from 'fast-check'
import { encoder } from '../colour'
import {
  colourPlane,
  leastStops,
  levelBand,
  levelHistogram,
  mostStops,
  regionValues,
  stopsBetween,
  stopsOf,
  type LightWindow,
} from './scopes'

function picture(width: number, height: number, pixel: (x: number, y: number) => readonly number[]): LightWindow {
  const light = new Float32Array(width * height * 4)
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) light.set(pixel(x, y), (y * width + x) * 4)
  return { light, width, height }
}
const red = [1, 0, 0] as const

test('levels are stops around mid grey, held to the axis', () => {
  expect(stopsOf(0.18)).toBe(0)
  expect(stopsOf(0.72)).toBeCloseTo(2, 10)
  expect([stopsOf(0), stopsOf(-1), stopsOf(NaN), stopsOf(Infinity)]).toEqual([
    leastStops,
    leastStops,
    leastStops,
    mostStops,
  ])
})

test('the band of a column is where its own pixels lie', () => {
  const band = levelBand(
    picture(4, 100, (x, y) => [0.18 * 2 ** (x - 1 + (y - 50) / 50), 0, 0, 1]),
    red,
    2,
  )
  // Columns 0 and 1 together, then 2 and 3.
  expect(band[1]).toBeCloseTo(-0.5, 1)
  expect(band[4]).toBeCloseTo(1.5, 1)
  expect(band[0]).toBeLessThan(band[1])
  expect(band[2]).toBeGreaterThan(band[1])
})

test('what an element does not cover says nothing', () => {
  const band = levelBand(
    picture(2, 10, (x) => [0.18, 0.18, 0.18, x]),
    red,
    2,
  )
  expect(band[1]).toBeNaN()
  expect(Math.abs(band[4])).toBeLessThan(1 / 32)
  expect(
    levelHistogram(
      picture(2, 2, () => [1, 1, 1, 0]),
      red,
      10,
    ).every((share) => share === 0),
  ).toBe(true)
})

test('a histogram’s shares sum to 1, and lie where the light lies', () => {
  const level = fc.float({ min: Math.fround(0.001), max: 5, noNaN: true })
  fc.assert(
    fc.property(fc.array(level, { minLength: 1, maxLength: 40 }), (levels) => {
      const shares = levelHistogram(
        picture(levels.length, 1, (x) => [levels[x], 0, 0, 1]),
        red,
        30,
      )
      expect(shares.reduce((a, b) => a + b)).toBeCloseTo(1, 5)
    }),
  )
  const shares = levelHistogram(
    picture(4, 1, () => [0.18, 0, 0, 1]),
    red,
    15,
  )
  expect(shares.indexOf(1)).toBe(9)
})

test('grey lies in the middle of the plane of colour, red above, blue to the right', () => {
  const encode = encoder('srgb')
  const place = (rgb: readonly number[]) => {
    const shares = colourPlane(
      picture(1, 1, () => [...rgb, 1]),
      encode,
      101,
    )
    const at = shares.indexOf(1)
    return [at % 101, Math.floor(at / 101)]
  }
  expect(place([0.3, 0.3, 0.3])).toEqual([50, 50])
  expect(place([0.5, 0.1, 0.1])[1]).toBeLessThan(50)
  expect(place([0.1, 0.1, 0.5])[0]).toBeGreaterThan(50)
})

test('values of a region, and the stops between two', () => {
  const values = regionValues(picture(2, 2, (x, y) => [x, y * 2, 0.5, 1]))
  expect(values).toEqual({ least: [0, 0, 0.5], most: [1, 2, 0.5], mean: [0.5, 1, 0.5], spread: [0.5, 1, 0] })
  expect(stopsBetween([1, 2, 0], [4, 1, 1])).toEqual([2, -1, NaN])
  expect(regionValues(picture(1, 1, () => [NaN, 1, 1, 1])).mean[0]).toBeNaN()
})
