import fc from 'fast-check'
import { kernelBench, type Bench } from '../test/kernels'
import { shortOne } from './kernels'

/** Planes of whole numbers of 16 bits, against plain sums. */

const { abs, floor, round } = Math
const bench: Bench = kernelBench(4)
const { kernels, floats } = bench
const numbers = new Int16Array(floats.buffer)
const [source, second, weightsAt, target] = [0, 1, 2, 3].map((k) => bench.free + k * 2 ** 16)

/** What coverage can be: from a half below nothing to a half more than all. */
const value = fc.integer({ min: -shortOne / 2, max: (shortOne * 3) / 2 })
const row = fc.array(value, { minLength: 200, maxLength: 200 })
const put = (at: number, values: readonly number[]) => numbers.set(values, at / 2)
const out = (count: number) => [...numbers.subarray(target / 2, target / 2 + count)]

test('a weighted sum of neighbours, along a row and down, is that sum, to half a step for each tap', () => {
  const weights = fc.array(fc.integer({ min: 0, max: 4000 }), { minLength: 1, maxLength: 9 })
  fc.assert(
    fc.property(row, weights, fc.constantFrom(8, 16, 24), fc.constantFrom(2, 32), (values, taps, count, stride) => {
      put(source, values)
      put(weightsAt, taps)
      numbers.fill(-7, target / 2, target / 2 + 64)
      const step = stride / 2
      const fits = (taps.length - 1) * step + count <= values.length
      if (!fits) return
      kernels.sumShorts(target, source, count, stride, weightsAt, taps.length)
      out(count).forEach((found, i) => {
        const ought = taps.reduce((sum, weight, t) => sum + (weight * values[i + t * step]) / 32768, 0)
        expect(abs(found - ought)).toBeLessThanOrEqual(taps.length / 2)
      })
      expect(numbers[target / 2 + count]).toBe(-7)
    }),
    { numRuns: 80 },
  )
})

test('means of two by two are those means, rounded, and what is made wide again lies between', () => {
  fc.assert(
    fc.property(row, row, (upper, lower) => {
      put(source, upper)
      put(second, lower)
      kernels.meanShorts(target, source, second, 64)
      const means = out(64)
      means.forEach((found, i) => {
        const four = [upper[2 * i], upper[2 * i + 1], lower[2 * i], lower[2 * i + 1]]
        expect(found).toBe(floor((four.reduce((sum, one) => sum + one, 0) + 2) / 4))
      })
      put(source, means)
      kernels.widenShorts(target, source + 2, 96)
      out(96).forEach((found, i) => {
        const own = means[1 + floor(i / 2)]
        const next = means[i % 2 === 0 ? floor(i / 2) : 2 + floor(i / 2)]
        expect(found).toBe(own + floor((next - own) / 4))
      })
    }),
    { numRuns: 40 },
  )
})

test('a block is told to be above a limit by its own cells and one on each side, no others', () => {
  for (const size of [32, 64])
    for (let at = 0; at < 2 * size + 2; at++) {
      const values = Array.from({ length: 2 * size + 2 }, (_, i) => (i === at ? 101 : 100))
      put(source, values)
      const inside = (block: number) => at >= block * size && at <= (block + 1) * size + 1
      const ought = (inside(0) ? 1 : 0) + (inside(1) ? 2 : 0)
      expect(kernels.blocksAbove(source, 2, size, 100)).toBe(ought)
      expect(kernels.blocksAbove(source, 2, size, 101)).toBe(0)
    }
})

test('as floats they are shares of all', () => {
  put(source, [0, shortOne, -shortOne / 2, 1, 2, 3, 4, 5])
  kernels.fromShorts(target, source, 8)
  const found = [...floats.subarray(target / 4, target / 4 + 8)]
  expect(found.map((one) => round(one * shortOne))).toEqual([0, shortOne, -shortOne / 2, 1, 2, 3, 4, 5])
})
