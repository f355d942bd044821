import fc from 'fast-check'
import type { Matrix3 } from '../graph/steps'
import { expectClose, kernelBench } from '../test/kernels'
import { resampling, type Resampling } from './kernels'

/** Pixels between pixels, against double-precision sums over the definitions of the filters. */

const { kernels, floats, free } = kernelBench(8)
const [source, offsets, target, matrixAt] = [free, free + 2 ** 20, free + 2 ** 21, free + 2 ** 22]
const [width, height] = [23, 17]
const filters = Object.keys(resampling) as Resampling[]

const sinc = (x: number) => (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x))
const lanczos = (x: number) => (Math.abs(x) < 3 ? sinc(x) * sinc(x / 3) : 0)
const catmullRom = (signed: number) => {
  const x = Math.abs(signed)
  if (x < 1) return 1.5 * x ** 3 - 2.5 * x ** 2 + 1
  return x < 2 ? -0.5 * x ** 3 + 2.5 * x ** 2 - 4 * x + 2 : 0
}
const definitions: Record<Resampling, { reach: number; weight: (x: number) => number; normalized: boolean }> = {
  bilinear: { reach: 1, weight: (x) => Math.max(0, 1 - Math.abs(x)), normalized: false },
  'catmull-rom': { reach: 2, normalized: false, weight: catmullRom },
  // Areas are for what shrinks.
  area: { reach: 2, normalized: false, weight: catmullRom },
  'lanczos-3': { reach: 3, weight: lanczos, normalized: true },
}

/** Colours of both signs; alpha above what any weight could make negative. */
for (let i = 0; i < width * height * 4; i++)
  floats[source / 4 + i] = Math.fround(i % 4 === 3 ? 100 : Math.sin(i * 12.9898) * 3)
const at = (x: number, y: number, c: number) =>
  x < 0 || y < 0 || x >= width || y >= height ? 0 : floats[source / 4 + (y * width + x) * 4 + c]

function expected(filter: Resampling, x: number, y: number, c: number): number {
  const { reach, weight, normalized } = definitions[filter]
  const [ix, iy] = [Math.floor(x), Math.floor(y)]
  const taps = Array.from({ length: 2 * reach }, (_, k) => k - reach + 1)
  const axis = (place: number, integer: number) => {
    const weights = taps.map((k) => weight(place - integer - k))
    const sum = normalized ? weights.reduce((a, b) => a + b, 0) : 1
    return weights.map((w) => w / sum)
  }
  const [wx, wy] = [axis(x, ix), axis(y, iy)]
  let total = 0
  taps.forEach((dy, j) => taps.forEach((dx, i) => (total += wx[i] * wy[j] * at(ix + dx, iy + dy, c))))
  return total
}

const out = (i: number, c: number) => floats[target / 4 + i * 4 + c]
/** Weights of both signs meet: the precision is that of the terms; places are rounded to 2^-24 of a pixel. */
const magnitude = 6

interface Row {
  readonly count: number
  readonly x?: number
  readonly y?: number
  readonly matrix: Matrix3
  readonly offset?: readonly (readonly number[])[]
  readonly filter: Resampling
  readonly from?: {
    readonly address: number
    readonly left: number
    readonly top: number
    readonly size: readonly [number, number]
  }
}

function run({ count, x = 0, y = 0, matrix, offset, filter, from }: Row): void {
  new Float64Array(kernels.memory, matrixAt, 9).set(matrix)
  offset?.forEach((pair, i) => floats.set([...pair, 9, 9], offsets / 4 + i * 4))
  const { address, left, top, size } = from ?? { address: source, left: 0, top: 0, size: [width, height] }
  const given = offset ? offsets : 0
  kernels.resample(target, count, x, y, given, matrixAt, address, left, top, size[0], size[1], resampling[filter])
}

/** The place in the source, its first pixel's middle at 0, 0, of a row's pixel; null behind the eye. */
function placeOf({ x = 0, y = 0, matrix: m, offset }: Row, i: number): readonly [number, number] | null {
  const [dx, dy] = offset?.[i] ?? [0, 0]
  const [px, py] = [x + i + 0.5 + Math.fround(dx), y + 0.5 + Math.fround(dy)]
  const w = m[6] * px + m[7] * py + m[8]
  return w > 0 ? [(m[0] * px + m[1] * py + m[2]) / w - 0.5, (m[3] * px + m[4] * py + m[5]) / w - 0.5] : null
}

function check(row: Row): void {
  run(row)
  for (let i = 0; i < row.count; i++) {
    const place = placeOf(row, i)
    for (let c = 0; c < 3; c++) {
      const wanted = place ? expected(row.filter, place[0], place[1], c) : 0
      // Where coverage would come out negative there is nothing.
      if (place && expected(row.filter, place[0], place[1], 3) < 1) continue
      expectClose(out(i, c), wanted, magnitude)
    }
  }
}

const shift = fc.tuple(fc.double({ min: -8, max: 24, noNaN: true }), fc.double({ min: -8, max: 18, noNaN: true }))
const small = fc.double({ min: -0.5, max: 0.5, noNaN: true })

test.each(filters)('%s through an affine that does not shrink', (filter) => {
  fc.assert(
    fc.property(shift, small, small, ([dx, dy], a, b) => {
      // A turn and an enlargement: no step of a pixel passes more than one.
      const scale = 0.9 / Math.max(1, Math.hypot(1, a))
      const matrix: Matrix3 = [scale * 0.7, -scale * a * 0.7, dx, scale * a * 0.7, scale * 0.7 + b * 0.1, dy, 0, 0, 1]
      check({ count: 9, matrix, filter })
    }),
    { numRuns: 200 },
  )
})

test.each(filters)('%s through a homography; behind the eye there is nothing', (filter) => {
  fc.assert(
    fc.property(shift, fc.double({ min: -0.3, max: 0.02, noNaN: true }), ([dx, dy], g) => {
      const matrix: Matrix3 = [0.3, 0.05, dx * 0.3, 0.02, 0.3, dy * 0.3, g * 0.1, 0, 1]
      const row = { count: 9, x: 3, matrix, filter }
      run(row)
      for (let i = 0; i < 9; i++) if (!placeOf(row, i)) expect([0, 1, 2, 3].map((c) => out(i, c))).toEqual([0, 0, 0, 0])
    }),
    { numRuns: 100 },
  )
  const away: Matrix3 = [1, 0, 0, 0, 1, 0, -1, 0, 1]
  run({ count: 9, x: 3, matrix: away, filter })
  for (let i = 0; i < 9; i++) expect(out(i, 0)).toBe(0)
})

test.each(filters)('%s through offsets', (filter) => {
  fc.assert(
    fc.property(fc.array(shift, { minLength: 1, maxLength: 12 }), (places) => {
      const offset = places.map(([x, y], i) => [x - i, y])
      check({ count: places.length, matrix: [1, 0, 0, 0, 1, 0, 0, 0, 1], offset, filter })
      check({ count: places.length, matrix: [0.9, 0, 1, 0, 0.8, -0.5, 0, 0, 1], offset, filter })
    }),
    { numRuns: 200 },
  )
})

test.each(filters)('%s: an identity move changes no bit, whatever the pixels are', (filter) => {
  const words = new Uint32Array(kernels.memory)
  const before = words.slice(source / 4, source / 4 + 40)
  words.set([0x7fc12345, 0x80000000, 0xff800000, 1], source / 4)
  for (const [left, top] of [
    [0, 0],
    [-1000, 77],
  ]) {
    const from = { address: source, left, top, size: [width, height] } as const
    run({ count: 8, x: left, y: top, matrix: [1, 0, 0, 0, 1, 0, 0, 0, 1], filter, from })
    expect([...words.slice(target / 4, target / 4 + 32)]).toEqual([...words.slice(source / 4, source / 4 + 32)])
  }
  words.set(before, source / 4)
})

test.each(filters)('%s: the same bits whatever part of the source lies in the buffer', (filter) => {
  const padded = offsets
  const pad = 5
  const wide = width + 2 * pad
  floats.fill(0, padded / 4, padded / 4 + wide * (height + 2 * pad) * 4)
  for (let y = 0; y < height; y++)
    for (let i = 0; i < width * 4; i++)
      floats[padded / 4 + ((y + pad) * wide + pad) * 4 + i] = floats[source / 4 + y * width * 4 + i]
  const matrices: fc.Arbitrary<Matrix3> = fc
    .tuple(shift, fc.double({ min: 0.2, max: 4, noNaN: true }), small)
    .map(([[dx, dy], scale, turn]) => [scale, turn, dx, -turn, scale * 0.7, dy, 0.001, 0, 1])
  fc.assert(
    fc.property(matrices, (matrix) => {
      run({ count: 6, matrix, filter })
      const plain = floats.slice(target / 4, target / 4 + 24)
      const from = { address: padded, left: -pad, top: -pad, size: [wide, height + 2 * pad] } as const
      run({ count: 6, matrix, filter, from })
      expect(floats.slice(target / 4, target / 4 + 24)).toEqual(plain)
    }),
  )
})

test('places that are not numbers, or far away, give nothing', () => {
  for (const filter of filters)
    for (const [x, y] of [
      [NaN, 3],
      [3, NaN],
      [Infinity, 3],
      [1e12, -1e12],
      [-100, 3],
    ]) {
      floats.fill(5, target / 4, target / 4 + 4)
      run({ count: 1, matrix: [1, 0, x, 0, 1, y, 0, 0, 1], filter })
      expect([0, 1, 2, 3].map((c) => out(0, c))).toEqual([0, 0, 0, 0])
    }
})

describe('shrinking', () => {
  /** Lanczos-3 widened by the footprint: the sum over all pixels, in the filter's own coordinates. */
  function wide(inverse: readonly number[], u: number, v: number, c: number): number {
    let [sum, total] = [0, 0]
    for (let y = -40; y < height + 40; y++)
      for (let x = -40; x < width + 40; x++) {
        const [dx, dy] = [x - u, y - v]
        const w = lanczos(inverse[0] * dx + inverse[1] * dy) * lanczos(inverse[2] * dx + inverse[3] * dy)
        total += w
        sum += w * at(x, y, c)
      }
    return sum / total
  }

  test('along the axes it is a product of widened filters', () => {
    const row: Row = { count: 3, x: 1, y: 2, matrix: [2.7, 0, 0.3, 0, 1.6, -0.2, 0, 0, 1], filter: 'catmull-rom' }
    run(row)
    for (let i = 0; i < 3; i++) {
      const [u, v] = placeOf(row, i) ?? [0, 0]
      for (let c = 0; c < 3; c++) expectClose(out(i, c), wide([1 / 2.7, 0, 0, 1 / 1.6], u, v, c), 4)
    }
  })

  test('a direction that does not shrink keeps the filter’s own width, also on a slant', () => {
    const turn = 0.6
    const [cos, sin] = [Math.cos(turn), Math.sin(turn)]
    // Shrinks 3 times along one slanted direction, enlarges twice along the other.
    const along = (s1: number, s2: number) => [
      s1 * cos * cos + s2 * sin * sin,
      (s1 - s2) * cos * sin,
      (s1 - s2) * cos * sin,
      s1 * sin * sin + s2 * cos * cos,
    ]
    const [a, b, c2, d] = along(3, 0.5)
    const row: Row = { count: 2, x: 3, y: 2, matrix: [a, b, -2, c2, d, 3, 0, 0, 1], filter: 'lanczos-3' }
    run(row)
    const inverse = along(1 / 3, 1)
    for (let i = 0; i < 2; i++) {
      const [u, v] = placeOf(row, i) ?? [0, 0]
      for (let c = 0; c < 3; c++) expectClose(out(i, c), wide(inverse, u, v, c), 4)
    }
  })

  test('mirrored it is the same, mirrored', () => {
    const row: Row = { count: 3, x: 1, y: 2, matrix: [-2.7, 0, 20.3, 0, 1.6, -0.2, 0, 0, 1], filter: 'catmull-rom' }
    run(row)
    for (let i = 0; i < 3; i++) {
      const [u, v] = placeOf(row, i) ?? [0, 0]
      for (let c = 0; c < 3; c++) expectClose(out(i, c), wide([-1 / 2.7, 0, 0, 1 / 1.6], u, v, c), 4)
    }
  })

  test('a wave of 2.7 times too few pixels does not come through; one that is half as fine as can be shown keeps 95 %', () => {
    const [long, tall] = [2000, 40]
    const wave = offsets
    /** Cycles a pixel of the source; the picture is 2.7 times smaller, so its finest wave has 1 / (2 x 2.7). */
    const contrast = (cycles: number) => {
      for (let y = 0; y < tall; y++)
        for (let x = 0; x < long; x++) {
          const value = 0.5 + 0.5 * Math.sin(2 * Math.PI * cycles * x)
          floats.set([value, value, value, 1], wave / 4 + (y * long + x) * 4)
        }
      const from = { address: wave, left: 0, top: 0, size: [long, tall] } as const
      run({ count: 500, x: 20, y: 7, matrix: [2.7, 0, 0, 0, 2.7, 0, 0, 0, 1], filter: 'catmull-rom', from })
      const values = Array.from({ length: 500 }, (_, i) => out(i, 0))
      // Of what must not come through: how far from grey it takes a pixel.
      if (cycles > 1 / (2 * 2.7)) return Math.max(...values.map((v) => Math.abs(v - 0.5)))
      // Where the crests lie between samples the amplitude is found by correlation.
      const turn = (i: number) => 2 * Math.PI * cycles * 2.7 * (20 + i)
      const [sines, cosines] = [Math.sin, Math.cos].map(
        (f) => (2 / 500) * values.reduce((sum, v, i) => sum + (v - 0.5) * f(turn(i)), 0),
      )
      return 2 * Math.hypot(sines, cosines)
    }
    const nyquist = 1 / (2 * 2.7)
    for (const share of [0.1, 0.25, 0.4, 0.5]) expect(contrast(nyquist * share)).toBeGreaterThan(0.95)
    for (const share of [1.7, 1.9, 2.2, 2.6]) expect(contrast(nyquist * share)).toBeLessThan(1 / 255)
  })
})

test('overshoot leaves no negative coverage, and takes no light away beside an edge', () => {
  const edge = offsets
  for (let y = 0; y < 9; y++)
    for (let x = 0; x < 20; x++) {
      const on = x < 10 ? 1 : 0
      floats.set([on, on * 0.5, on * 0.1, on], edge / 4 + (y * 20 + x) * 4)
    }
  const from = { address: edge, left: 0, top: 0, size: [20, 9] } as const
  for (const filter of ['catmull-rom', 'lanczos-3'] as const)
    for (const scale of [0.37, 2.3]) {
      run({ count: 40, x: 0, y: 1, matrix: [scale, 0, 0.13, 0, 1, 0.4, 0, 0, 1], filter, from })
      for (let i = 0; i < 40; i++) for (let c = 0; c < 4; c++) expect(out(i, c)).toBeGreaterThanOrEqual(0)
    }
})

describe('areas', () => {
  /** The mean of source pixels over the rectangle that a pixel of the picture stands for. */
  function mean(x0: number, x1: number, y0: number, y1: number, c: number): number {
    let [sum, total] = [0, 0]
    for (let y = Math.floor(y0); y < y1; y++)
      for (let x = Math.floor(x0); x < x1; x++) {
        const part = (Math.min(x + 1, x1) - Math.max(x, x0)) * (Math.min(y + 1, y1) - Math.max(y, y0))
        sum += part * at(x, y, c)
        total += part
      }
    return sum / total
  }

  test.each([2, 2.5, 3, 4.75])('shrunk %d times a pixel is the mean of what it stands for', (shrink) => {
    const matrix = [shrink, 0, 0.3, 0, shrink, 0.1, 0, 0, 1]
    new Float64Array(kernels.memory, matrixAt, 9).set(matrix)
    const count = Math.floor(width / shrink)
    kernels.resample(target, count, 0, 1, 0, matrixAt, source, 0, 0, width, height, resampling.area)
    for (let x = 1; x < count - 1; x++)
      for (let c = 0; c < 3; c++) {
        const [left, top] = [x * shrink + 0.3, shrink + 0.1]
        const want = mean(left, left + shrink, top, top + shrink, c)
        // Places are rounded to a part in 2^24 of a pixel.
        expect(floats[target / 4 + x * 4 + c]).toBeCloseTo(want, 4)
      }
  })
})
