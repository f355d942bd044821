import fc from 'fast-check'
import { expectClose, kernelBench } from '../test/kernels'

const { kernels, floats, free } = kernelBench(4)
const [sums, plane, bins] = [free, free + 4096, free + 2 ** 20]
const doubles = new Float64Array(kernels.memory)

function gathered(rows: readonly (readonly number[])[], shift: number) {
  doubles.set([0, 0, 0, Infinity, -Infinity, 0, 0, shift], sums / 8)
  for (const row of rows) {
    floats.set(row, plane / 4)
    kernels.gather(sums, plane, row.length)
  }
  const [count, sum, squares, least, most, nans, infinities] = doubles.slice(sums / 8, sums / 8 + 7)
  const mean = shift + sum / count
  return { count, mean, variance: squares / count - (sum / count) ** 2, least, most, nans, infinities }
}

const value = fc.float({ min: -100, max: 100, noNaN: true })

test('mean, variance and extremes of rows', () => {
  fc.assert(
    fc.property(fc.array(fc.array(value, { minLength: 1, maxLength: 40 }), { minLength: 1, maxLength: 6 }), (rows) => {
      const all = rows.flat()
      const mean = all.reduce((a, b) => a + b, 0) / all.length
      const found = gathered(rows, all[0])
      expect(found.count).toBe(all.length)
      expectClose(found.mean, mean, 100)
      expectClose(found.variance, all.reduce((sum, v) => sum + (v - mean) ** 2, 0) / all.length, 1e4)
      expect([found.least, found.most]).toEqual([Math.min(...all), Math.max(...all)])
    }),
  )
})

test('a small variance far from 0 is kept, with a shift near the mean', () => {
  const row = Array.from({ length: 400 }, (_, i) => Math.fround(1000 + (i % 2 === 0 ? 0.001 : -0.001)))
  const exact = (row[0] - row[1]) ** 2 / 4
  expectClose(gathered([row], row[0]).variance, exact)
})

test('what is not a number and what is infinite is counted and left out', () => {
  const { count, mean, nans, infinities } = gathered([[1, NaN, 3, Infinity, -Infinity]], 1)
  expect({ count, mean, nans, infinities }).toEqual({ count: 2, mean: 2, nans: 1, infinities: 2 })
})

test('values by rank are those of sorting, infinities in their places, NaN left out', () => {
  const any = fc.oneof(value, fc.constantFrom(Infinity, -Infinity, NaN, -0, 0, 1e-42))
  fc.assert(
    fc.property(fc.array(any, { minLength: 1, maxLength: 60 }), fc.nat(70), (values, rank) => {
      floats.set(values, plane / 4)
      const sorted = Float32Array.from(values.filter((v) => !Number.isNaN(v))).sort()
      const found = kernels.valueOfRank(plane, values.length, rank, bins)
      if (rank < sorted.length) expect(found + 0).toBe(sorted[rank] + 0)
      else expect(found).toBeNaN()
    }),
    { numRuns: 100 },
  )
})
