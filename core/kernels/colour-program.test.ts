import fc from 'fast-check'
import { expectClose, getStrip, kernelBench, putStrip, throughProgram } from '../test/kernels'
import { programBytes, writeProgram, type ColourStep, type Rgb } from './colour-program'
import { exp2, log2, power } from './power'
import { linearFromSrgb, srgbFromLinear } from './srgb'

/** Every step against its formula in double precision. */

const bench = kernelBench()
type Pixel = readonly number[]

const single = (least: number, most: number) =>
  fc.float({ min: Math.fround(least), max: Math.fround(most), noNaN: true })
const alpha = fc.oneof(fc.constant(1), single(1e-4, 1), fc.constant(0))
const pixel: fc.Arbitrary<Pixel> = fc.tuple(single(-2, 60), single(-2, 60), single(-2, 60), alpha)
const pixels = fc.array(pixel, { minLength: 1, maxLength: 13 })
const rgb = (least: number, most: number): fc.Arbitrary<Rgb> =>
  fc.tuple(single(least, most), single(least, most), single(least, most))

/** What the steps make of a channel, and the magnitude that its precision is measured by. */
type Reference = (pixel: Pixel, channel: number) => { value: number; magnitude?: number }

const divisor = (a: number) => (a > 1e-6 ? a : 1)

function agree(
  steps: readonly ColourStep[],
  given: readonly Pixel[],
  reference: Reference,
  alphaOf = (p: Pixel) => p[3],
) {
  const found = throughProgram(bench, steps, given)
  given.forEach((p, i) => {
    for (let c = 0; c < 3; c++) {
      const { value, magnitude } = reference(p, c)
      expectClose(found[i][c], value, magnitude)
    }
    expect(found[i][3]).toBe(alphaOf(p))
  })
}

test('affine: gain c + veil a', () => {
  fc.assert(
    fc.property(pixels, rgb(-4, 8), rgb(-1, 1), (given, gain, veil) =>
      agree([{ do: 'affine', gain, veil }], given, (p, c) => ({
        value: gain[c] * p[c] + veil[c] * p[3],
        magnitude: Math.abs(gain[c] * p[c]) + Math.abs(veil[c]),
      })),
    ),
  )
})

test('power: on colour over alpha, and back; what is not above 0 stays', () => {
  fc.assert(
    fc.property(pixels, rgb(0.2, 5), (given, exponent) =>
      agree([{ do: 'power', exponent }], given, (p, c) => {
        const a = divisor(p[3])
        // beyond 2^126 results are held; a premultiplied 60 over 1e-4 to the fifth stays below
        return { value: p[c] > 0 ? Math.pow(p[c] / a, exponent[c]) * a : p[c] }
      }),
    ),
    { numRuns: 1000 },
  )
})

test('power with an exponent of 1 changes no bit, and 1 stays 1 whatever the exponent', () => {
  const odd = [0.1, -0, 7e-42, 0.3]
  expect(throughProgram(bench, [{ do: 'power', exponent: [1, 1, 1] }], [odd])[0]).toEqual(odd.map(Math.fround))
  for (const p of [0.2, 0.45, 2.2, 5])
    expect(throughProgram(bench, [{ do: 'power', exponent: [p, p, p] }], [[1, 1, 1, 1]])[0]).toEqual([1, 1, 1, 1])
})

test('matrix: rows by columns', () => {
  fc.assert(
    fc.property(pixels, fc.tuple(rgb(-2, 2), rgb(-2, 2), rgb(-2, 2)), (given, rows) =>
      agree([{ do: 'matrix', rows }], given, (p, c) => ({
        value: rows[c][0] * p[0] + rows[c][1] * p[1] + rows[c][2] * p[2],
        magnitude: [0, 1, 2].reduce((sum, k) => sum + Math.abs(rows[c][k] * p[k]), 0),
      })),
    ),
  )
})

test('sRGB both ways, mirrored for negatives, going on above 1', () => {
  fc.assert(
    fc.property(pixels, (given) => {
      agree([{ do: 'linear-from-srgb' }], given, (p, c) => ({ value: linearFromSrgb(p[c]) }))
      agree([{ do: 'srgb-from-linear' }], given, (p, c) => ({ value: srgbFromLinear(p[c]) }))
    }),
    { numRuns: 500 },
  )
  expect(throughProgram(bench, [{ do: 'srgb-from-linear' }], [[0.18, 0, 1, 1]])[0][0]).toBeCloseTo(0.461356, 5)
})

test('complement: 1 - c of every channel', () => {
  fc.assert(
    fc.property(pixels, (given) =>
      agree(
        [{ do: 'complement' }],
        given,
        (p, c) => ({ value: 1 - p[c], magnitude: 1 + Math.abs(p[c]) }),
        (p) => Math.fround(1 - p[3]),
      ),
    ),
  )
})

test('premultiply and back', () => {
  fc.assert(
    fc.property(pixels, (given) => {
      agree([{ do: 'premultiply' }], given, (p, c) => ({ value: p[c] * p[3] }))
      agree([{ do: 'unpremultiply' }], given, (p, c) => ({ value: p[c] / divisor(p[3]) }))
    }),
  )
})

test('log2 and exp2, over the whole range of floats', () => {
  const positive = fc
    .integer({ min: 1, max: 0x7f7fffff })
    .map((bits) => new Float32Array(new Uint32Array([bits]).buffer)[0])
  fc.assert(
    fc.property(positive, single(-148, 127), (x, y) => {
      agree([{ do: 'log2' }], [[x, x, x, 1]], (p, c) => ({ value: Math.log2(p[c]) }))
      agree([{ do: 'exp2' }], [[y, y, y, 1]], (p, c) => ({ value: 2 ** p[c] }))
    }),
    { numRuns: 1000 },
  )
})

test('light above a threshold: nothing below the knee, all above it, smooth between; alpha is gone', () => {
  fc.assert(
    fc.property(pixels, single(0, 4), single(0, 1), (given, threshold, knee) =>
      agree(
        [{ do: 'light-above', threshold, knee }],
        given,
        (p, c) => {
          const over = p[c] - threshold
          const hard = knee <= 1e-6
          const soft = Math.max(0, over + knee) ** 2 / (4 * knee)
          const value = hard ? Math.max(0, over) : over >= knee ? over : soft
          return { value, magnitude: Math.abs(p[c]) + threshold + knee }
        },
        () => 0,
      ),
    ),
  )
})

test('a program of many steps is the steps one after the other, bit for bit', () => {
  const step: fc.Arbitrary<ColourStep> = fc.oneof(
    fc.record({ do: fc.constant('affine' as const), gain: rgb(0, 2), veil: rgb(0, 1) }),
    fc.record({ do: fc.constant('power' as const), exponent: rgb(0.3, 3) }),
    fc.record({ do: fc.constant('matrix' as const), rows: fc.tuple(rgb(0, 1), rgb(0, 1), rgb(0, 1)) }),
    fc.constantFrom<ColourStep>({ do: 'premultiply' }, { do: 'unpremultiply' }, { do: 'srgb-from-linear' }),
  )
  fc.assert(
    fc.property(pixels, fc.array(step, { minLength: 1, maxLength: 6 }), (given, steps) => {
      const apart = steps.reduce<readonly Pixel[]>((sum, one) => throughProgram(bench, [one], sum), given)
      expect(throughProgram(bench, steps, given)).toEqual(apart)
    }),
  )
})

describe('what is not a number, infinite or denormal', () => {
  const odd = [NaN, Infinity, -Infinity, 1e-42, -1e-42, -0, 0]
  const asPixels = odd.map((v): Pixel => [v, v, v, 1])
  const channel = (steps: readonly ColourStep[]) => throughProgram(bench, steps, asPixels).map((p) => p[0])

  test('a NaN that is computed has all bits set', () => {
    const words = new Uint32Array(bench.kernels.memory)
    for (const step of ['linear-from-srgb', 'log2', 'exp2', 'unpremultiply'] as const) {
      putStrip(bench, bench.free, [[NaN, 1, 1, 1]])
      words[bench.free / 4] = 0x7fc12345
      writeProgram(bench.kernels.memory, bench.free + 8448, [{ do: step }])
      bench.kernels.colourProgram(bench.free, 1, bench.free + 8448)
      expect(words[bench.free / 4].toString(16)).toBe('ffffffff')
    }
  })

  test('affine takes them as IEEE 754 does', () => {
    expect(channel([{ do: 'affine', gain: [2, 2, 2], veil: [0, 0, 0] }])).toEqual(
      odd.map((v) => Math.fround(Math.fround(v) * 2 + 0)),
    )
  })

  test('powers leave infinities, negatives, zeros and NaN as they are', () => {
    const found = channel([{ do: 'power', exponent: [2, 2, 2] }])
    expect(found.slice(0, 3)).toEqual([NaN, Infinity, -Infinity])
    expect(Math.abs(found[3])).toBeLessThan(1e-37)
    expect(found.slice(4)).toEqual([Math.fround(-1e-42), -0, 0])
  })

  test('logarithms and exponentials', () => {
    const logs = channel([{ do: 'log2' }])
    expect([...logs.slice(0, 3), ...logs.slice(4)]).toEqual([NaN, Infinity, NaN, NaN, -Infinity, -Infinity])
    expect(logs[3]).toBeCloseTo(Math.log2(Math.fround(1e-42)), 4)
    expect(channel([{ do: 'exp2' }])).toEqual([NaN, Infinity, 0, 1, 1, 1, 1])
  })

  test('infinite alpha and alpha that is not a number do not reach colour through powers', () => {
    const [a, b] = throughProgram(
      bench,
      [{ do: 'power', exponent: [2, 2, 2] }],
      [
        [0.5, 0.5, 0.5, NaN],
        [0.5, 0.5, 0.5, 0],
      ],
    )
    expect([a[0], b[0]]).toEqual([0.25, 0.25])
  })
})

test('a strip of no pixels is left alone', () => {
  putStrip(bench, bench.free, [[5, 5, 5, 5]])
  writeProgram(bench.kernels.memory, bench.free + 8448, [{ do: 'affine', gain: [0, 0, 0], veil: [0, 0, 0] }])
  bench.kernels.colourProgram(bench.free, 0, bench.free + 8448)
  expect(getStrip(bench, bench.free, 1)).toEqual([[5, 5, 5, 5]])
})

test('a program says how long it is', () => {
  const steps: ColourStep[] = [{ do: 'affine', gain: [1, 2, 3], veil: [4, 5, 6] }, { do: 'log2' }]
  const words = new Int32Array(bench.kernels.memory)
  words.fill(77, bench.free / 4, bench.free / 4 + 20)
  writeProgram(bench.kernels.memory, bench.free, steps)
  const length = programBytes(steps) / 4
  expect(words[bench.free / 4 + length - 1]).toBe(0)
  expect(words[bench.free / 4 + length]).toBe(77)
})

describe('powers in double precision, which tables are made with', () => {
  test('agree with the platform’s to 1e-13', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1e-30, max: 1e30, noNaN: true }),
        fc.double({ min: -3, max: 3, noNaN: true }),
        (x, p) => {
          const expected = Math.pow(x, p)
          expect(Math.abs(power(x, p) - expected)).toBeLessThanOrEqual(1e-12 * expected)
          expect(Math.abs(log2(x) - Math.log2(x))).toBeLessThanOrEqual(1e-13 * Math.max(1, Math.abs(Math.log2(x))))
        },
      ),
    )
  })

  test('powers of two are exact', () => {
    for (let n = -1000; n <= 1000; n += 37) expect(exp2(n)).toBe(2 ** n)
    expect(log2(2 ** -1050)).toBe(-1050)
  })
})
