import fc from 'fast-check'
import { expectClose, kernelBench } from '../test/kernels'
import { resampling, type Resampling } from './kernels'

/** Pixels between pixels, against double-precision sums over the definitions of the filters. */

const { kernels, floats, free } = kernelBench(4)
const [source, map, target] = [free, free + 2 ** 19, free + 2 ** 20]
const [width, height] = [23, 17]
const filters = Object.keys(resampling) as Resampling[]

const sinc = (x: number) => (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x))
const definitions: Record<Resampling, { reach: number; weight: (x: number) => number; normalized: boolean }> = {
  bilinear: { reach: 1, weight: (x) => Math.max(0, 1 - Math.abs(x)), normalized: false },
  'catmull-rom': {
    reach: 2,
    normalized: false,
    weight: (signed) => {
      const x = Math.abs(signed)
      if (x < 1) return 1.5 * x ** 3 - 2.5 * x ** 2 + 1
      return x < 2 ? -0.5 * x ** 3 + 2.5 * x ** 2 - 4 * x + 2 : 0
    },
  },
  'lanczos-3': { reach: 3, weight: (x) => (Math.abs(x) < 3 ? sinc(x) * sinc(x / 3) : 0), normalized: true },
}

for (let i = 0; i < width * height * 4; i++) floats[source / 4 + i] = Math.fround(Math.sin(i * 12.9898) * 3)
const at = (x: number, y: number, c: number) =>
  x < 0 || y < 0 || x >= width || y >= height ? 0 : floats[source / 4 + (y * width + x) * 4 + c]

function expected(filter: Resampling, x: number, y: number, c: number): number {
  const { reach, weight, normalized } = definitions[filter]
  const [ix, iy] = [Math.floor(x), Math.floor(y)]
  const offsets = Array.from({ length: 2 * reach }, (_, k) => k - reach + 1)
  const axis = (place: number, whole: number) => {
    const weights = offsets.map((k) => weight(place - whole - k))
    const sum = normalized ? weights.reduce((a, b) => a + b, 0) : 1
    return weights.map((w) => w / sum)
  }
  const [wx, wy] = [axis(x, ix), axis(y, iy)]
  let total = 0
  offsets.forEach((dy, j) => offsets.forEach((dx, i) => (total += wx[i] * wy[j] * at(ix + dx, iy + dy, c))))
  return total
}

const place = fc.tuple(
  fc.double({ min: -6, max: width + 6, noNaN: true }),
  fc.double({ min: -6, max: height + 6, noNaN: true }),
)
const out = (i: number, c: number) => floats[target / 4 + i * 4 + c]
/** Weights of both signs meet: the precision is that of the terms, which are up to 3. */
const magnitude = 3

test.each(filters)('%s along a row of an affine', (filter) => {
  fc.assert(
    fc.property(place, place, ([x, y], [dx, dy]) => {
      const step = [dx / 20, dy / 20]
      kernels.resampleAlong(target, 9, x, y, step[0], step[1], source, width, height, resampling[filter])
      for (let i = 0; i < 9; i++)
        for (let c = 0; c < 4; c++)
          expectClose(out(i, c), expected(filter, x + i * step[0], y + i * step[1], c), magnitude)
    }),
    { numRuns: 200 },
  )
})

test.each(filters)('%s across a row of a homography; behind the eye there is nothing', (filter) => {
  fc.assert(
    fc.property(
      place,
      fc.double({ min: 0.5, max: 2, noNaN: true }),
      fc.double({ min: -0.3, max: 0.1, noNaN: true }),
      ([x, y], w, dw) => {
        kernels.resampleAcross(target, 9, x, y, w, 1, 0.25, dw, source, width, height, resampling[filter])
        for (let i = 0; i < 9; i++) {
          const n = w + i * dw
          for (let c = 0; c < 4; c++)
            expectClose(out(i, c), n > 0 ? expected(filter, (x + i) / n, (y + i * 0.25) / n, c) : 0, magnitude)
        }
      },
    ),
    { numRuns: 200 },
  )
})

test.each(filters)('%s through a map', (filter) => {
  fc.assert(
    fc.property(fc.array(place, { minLength: 1, maxLength: 12 }), (places) => {
      places.forEach(([x, y], i) => floats.set([x / width, y / height, 9, 9], map / 4 + i * 4))
      kernels.resampleMapped(
        target,
        places.length,
        map,
        width,
        -0.5,
        height,
        -0.5,
        source,
        width,
        height,
        resampling[filter],
      )
      places.forEach((_, i) => {
        const [x, y] = [floats[map / 4 + i * 4] * width - 0.5, floats[map / 4 + i * 4 + 1] * height - 0.5]
        for (let c = 0; c < 4; c++) expectClose(out(i, c), expected(filter, x, y, c), magnitude)
      })
    }),
    { numRuns: 200 },
  )
})

test.each(filters)('%s: an identity move changes no bit, whatever the pixels are', (filter) => {
  const words = new Uint32Array(kernels.memory)
  const before = words.slice(source / 4, source / 4 + 40)
  words.set([0x7fc12345, 0x80000000, 0xff800000, 1], source / 4)
  kernels.resampleAlong(target, 8, 0, 0, 1, 0, source, width, height, resampling[filter])
  expect([...words.slice(target / 4, target / 4 + 32)]).toEqual([...words.slice(source / 4, source / 4 + 32)])
  words.set(before, source / 4)
})

test.each(filters)('%s: a buffer with zeros around it gives the same bits as one without', (filter) => {
  const padded = map
  const pad = 5
  const wide = width + 2 * pad
  floats.fill(0, padded / 4, padded / 4 + wide * (height + 2 * pad) * 4)
  for (let y = 0; y < height; y++)
    for (let i = 0; i < width * 4; i++)
      floats[padded / 4 + ((y + pad) * wide + pad) * 4 + i] = floats[source / 4 + y * width * 4 + i]
  fc.assert(
    fc.property(place, ([x, y]) => {
      kernels.resampleAlong(target, 6, x, y, 0.37, 0.21, source, width, height, resampling[filter])
      const plain = [...floats.slice(target / 4, target / 4 + 24)]
      kernels.resampleAlong(target, 6, x + pad, y + pad, 0.37, 0.21, padded, wide, height + 2 * pad, resampling[filter])
      floats.slice(target / 4, target / 4 + 24).forEach((v, i) => expectClose(v, plain[i], magnitude))
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
      kernels.resampleAlong(target, 1, x, y, 0, 0, source, width, height, resampling[filter])
      expect([0, 1, 2, 3].map((c) => out(0, c))).toEqual([0, 0, 0, 0])
    }
})
