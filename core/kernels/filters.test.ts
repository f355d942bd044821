import fc from 'fast-check'
import { expectClose, kernelBench, type Bench } from '../test/kernels'

/** Weighted sums over packed pixels, against plain double-precision sums. */

const bench: Bench = kernelBench(8)
const { kernels, floats } = bench
const [source, weightsAt, target] = [bench.free, bench.free + 2 ** 20, bench.free + 2 ** 21]
const width = 64

const value = fc.float({ min: -4, max: 40, noNaN: true })
const weight = fc.float({ min: -1, max: 1, noNaN: true })
const seed = fc.integer({ min: 1, max: 1e9 })

/** Fills `count` packed pixels from a seed and gives the values. */
function fill(from: number, count: number): void {
  let state = from
  for (let i = 0; i < count * 4; i++) {
    state = (Math.imul(state, 1664525) + 1013904223) | 0
    floats[source / 4 + i] = (state >>> 8) / 2 ** 22 - 1
  }
}

const at = (pixel: number, channel: number) => floats[source / 4 + pixel * 4 + channel]
const out = (pixel: number, channel: number) => floats[target / 4 + pixel * 4 + channel]

function expectSum(found: number, terms: readonly (readonly [number, number])[]): void {
  const sum = terms.reduce((total, [w, v]) => total + w * v, 0)
  expectClose(
    found,
    sum,
    terms.reduce((total, [w, v]) => total + Math.abs(w * v), 0),
  )
}

test('rows and columns: symmetric filters of any radius and length', () => {
  fc.assert(
    fc.property(
      fc.array(weight, { minLength: 1, maxLength: 20 }),
      fc.integer({ min: 1, max: 9 }),
      seed,
      (weights, count, from) => {
        fill(from, width * 45)
        floats.set(weights, weightsAt / 4)
        const radius = weights.length - 1
        const middle = 22 * width + 25
        const sides = [...weights.keys()].slice(1).flatMap((k) => [-k, k])
        for (const [stride, run] of [
          [1, () => kernels.filterRow(target, source + middle * 16, count, weightsAt, radius)],
          [width, () => kernels.filterColumn(target, source + middle * 16, count, width * 16, weightsAt, radius)],
        ] as const) {
          floats.fill(-77, target / 4, target / 4 + 80)
          run()
          for (let i = 0; i < count; i++)
            for (let c = 0; c < 4; c++)
              expectSum(out(i, c), [
                [weights[0], at(middle + i, c)],
                ...sides.map((k) => [weights[Math.abs(k)], at(middle + i + k * stride, c)] as const),
              ])
          expect(out(count, 0)).toBe(-77)
        }
      },
    ),
    { numRuns: 60 },
  )
})

test('reducing, and summing rows', () => {
  fc.assert(
    fc.property(
      fc.array(weight, { minLength: 1, maxLength: 28 }),
      fc.integer({ min: 1, max: 9 }),
      fc.constantFrom(2, 4, 8),
      seed,
      (weights, count, step, from) => {
        fill(from, width * 40)
        floats.set(weights, weightsAt / 4)
        kernels.reduceRow(target, source, count, step, weightsAt, weights.length)
        for (let i = 0; i < count; i++)
          for (let c = 0; c < 4; c++)
            expectSum(
              out(i, c),
              weights.map((w, t) => [w, at(i * step + t, c)] as const),
            )
        kernels.sumRows(target, source, count, width * 16, weightsAt, weights.length)
        for (let i = 0; i < count; i++)
          for (let c = 0; c < 4; c++)
            expectSum(
              out(i, c),
              weights.map((w, t) => [w, at(t * width + i, c)] as const),
            )
      },
    ),
    { numRuns: 60 },
  )
})

test('enlarging: each phase has its own weights', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(2, 4, 8),
      fc.nat(30),
      fc.integer({ min: 1, max: 20 }),
      seed,
      (step, phase, count, from) => {
        const taps = 7
        fill(from, width)
        const weights = Array.from({ length: step * taps }, (_, i) => Math.fround(Math.sin(i * 7.3)))
        floats.set(weights, weightsAt / 4)
        kernels.enlargeRow(target, source, count, step, phase, weightsAt, taps)
        for (let i = 0; i < count; i++) {
          const block = Math.floor((phase + i) / step)
          const run = (phase + i) % step
          for (let c = 0; c < 4; c++)
            expectSum(
              out(i, c),
              Array.from({ length: taps }, (_, t) => [weights[run * taps + t], at(block + t, c)] as const),
            )
        }
      },
    ),
    { numRuns: 60 },
  )
})

test('a NaN or an infinity reaches the pixels that have it under a tap, and no others', () => {
  fc.assert(
    fc.property(value, fc.constantFrom(NaN, Infinity), (plain, odd) => {
      floats.fill(plain, source / 4, source / 4 + width * 4)
      floats[source / 4 + 30 * 4] = odd
      floats.set([0.5, 0.25], weightsAt / 4)
      kernels.filterRow(target, source + 20 * 16, 20, weightsAt, 1)
      for (let i = 0; i < 20; i++) expect(Number.isFinite(out(i, 0))).toBe(Math.abs(20 + i - 30) > 1)
    }),
    { numRuns: 10 },
  )
})
