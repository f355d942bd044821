import fc from 'fast-check'
import { levelBegins, levelCount } from '../kernels/counting'
import {
  leastStops,
  levelBand,
  levelHistogram,
  mostStops,
  regionValues,
  scopeCounting,
  scopeTraces,
  stopsBetween,
  stopsOf,
} from './scopes'

/** @param columns the light of each one's pixels */
function countsOf(...columns: readonly (readonly number[])[]): Uint32Array {
  const counts = new Uint32Array(columns.length * levelCount)
  columns.forEach((lights, column) => {
    for (const light of lights) {
      let level = levelCount - 1
      while (level > 0 && levelBegins(level) > light) level--
      counts[column * levelCount + level]++
    }
  })
  return counts
}

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

test('a band is the 5th, 50th and 95th percentile of its column, to within a level', () => {
  const light = fc.double({ min: 0.001, max: 10, noNaN: true })
  fc.assert(
    fc.property(
      fc.array(fc.array(light, { minLength: 1, maxLength: 50 }), { minLength: 1, maxLength: 4 }),
      (columns) => {
        const band = levelBand(countsOf(...columns))
        columns.forEach((lights, column) => {
          const sorted = [...lights].sort((a, b) => a - b)
          ;[0.05, 0.5, 0.95].forEach((share, i) => {
            const exact = stopsOf(sorted[Math.floor(share * lights.length)])
            expect(Math.abs(band[column * 3 + i] - exact)).toBeLessThan(1 / 32)
          })
        })
      },
    ),
  )
})

test('a column with nothing in it has no band', () => {
  const band = levelBand(countsOf([], [0.18]))
  expect([...band.slice(0, 3)]).toEqual([NaN, NaN, NaN])
  expect(Math.abs(band[4])).toBeLessThan(1 / 32)
})

test('a histogram’s shares sum to 1, and lie where the light lies', () => {
  const light = fc.double({ min: 0, max: 40, noNaN: true })
  fc.assert(
    fc.property(fc.array(light, { minLength: 1, maxLength: 40 }), fc.integer({ min: 1, max: 200 }), (lights, steps) => {
      const shares = levelHistogram(countsOf(lights), steps)
      expect(shares.reduce((a, b) => a + b)).toBeCloseTo(1, 5)
    }),
  )
  const shares = levelHistogram(countsOf([0.19, 0.2]), 15)
  expect(shares.indexOf(1)).toBe(9)
  expect(levelHistogram(countsOf([]), 15).every((share) => share === 0)).toBe(true)
})

test('what every scope counts, and what is drawn of it', () => {
  const luma = [0.2, 0.7, 0.1] as const
  expect(scopeCounting('waveform', luma, 350, 640)).toEqual({ counts: 'luma', weights: luma, columns: 350 })
  // No more columns than pixels.
  expect(scopeCounting('waveform', luma, 350, 10)).toMatchObject({ columns: 10 })
  const parade = scopeCounting('parade', luma, 6, 640)
  expect(parade).toEqual({ counts: 'channels', columns: 2 })
  const counts = new Uint32Array([...countsOf([0.18], [0.18]), ...countsOf([0.36], []), ...countsOf([], [0.09])])
  const [red, green, blue] = scopeTraces('parade', parade, counts)
  const near = (stops: number): unknown => expect.closeTo(stops, 1)
  expect([...red]).toEqual([0, 0, 0, 0, 0, 0].map(near))
  expect([...green]).toEqual([...[1, 1, 1].map(near), NaN, NaN, NaN])
  expect([...blue]).toEqual([NaN, NaN, NaN, ...[-1, -1, -1].map(near)])
  const colours = scopeCounting('vectorscope', luma, 350, 640)
  expect([...scopeTraces('vectorscope', colours, new Uint32Array([1, 0, 3, 0]))[0]]).toEqual([0.25, 0, 0.75, 0])
  const levels = scopeCounting('histogram', luma, 350, 640)
  const three = new Uint32Array([...countsOf([0.18]), ...countsOf([1]), ...countsOf([2])])
  expect(scopeTraces('histogram', levels, three).map((trace) => trace.length)).toEqual([150, 150, 150])
})

test('values of a region, and the stops between two', () => {
  const light = new Float32Array([0, 0, 0.5, 1, 1, 0, 0.5, 1, 0, 2, 0.5, 1, 1, 2, 0.5, 1])
  const values = regionValues({ light, width: 2, height: 2 })
  expect(values).toEqual({ least: [0, 0, 0.5], most: [1, 2, 0.5], mean: [0.5, 1, 0.5], spread: [0.5, 1, 0] })
  expect(stopsBetween([1, 2, 0], [4, 1, 1])).toEqual([2, -1, NaN])
  const odd = regionValues({ light: new Float32Array([NaN, 1, 1, 1]), width: 1, height: 1 })
  expect(odd.mean[0]).toBeNaN()
})
