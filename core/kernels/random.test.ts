import fc from 'fast-check'
import { expectClose, getStrip, kernelBench, putStrip } from '../test/kernels'
import { stripBytes } from './kernels'

const bench = kernelBench()
const { kernels } = bench
const words = new Uint32Array(kernels.memory)
const [strip, noise] = [bench.free, bench.free + stripBytes]

test.each([
  // known answers of Philox4x32-10, from the authors' Random123 distribution
  [
    [0, 0, 0, 0],
    [0, 0],
    ['6627e8d5', 'e169c58d', 'bc57ac4c', '9b00dbd8'],
  ],
  [
    [0xffffffff, 0xffffffff, 0xffffffff, 0xffffffff],
    [0xffffffff, 0xffffffff],
    ['408f276d', '41c83b0e', 'a20bc7c6', '6d5451fd'],
  ],
  [
    [0x243f6a88, 0x85a308d3, 0x13198a2e, 0x03707344],
    [0xa4093822, 0x299f31d0],
    ['d16cfe09', '94fdcceb', '5001e420', '24126ea1'],
  ],
])('the generator at counter %p, key %p', ([c0, c1, c2, c3], [low, high], expected) => {
  kernels.philoxWords(strip, c0, c1, c2, c3, low, high)
  expect([...words.slice(strip / 4, strip / 4 + 4)].map((w) => w.toString(16).padStart(8, '0'))).toEqual(expected)
})

test('deviates are those of Box and Muller in double precision', () => {
  fc.assert(
    fc.property(fc.nat(8000), fc.nat(4000), fc.nat(2000), (x, y, frame) => {
      kernels.normals(strip, 5, x, y, frame, 1, 12, 34)
      const found = getStrip(bench, strip, 5)
      for (let i = 0; i < 5; i++) {
        kernels.philoxWords(noise, x + i, y, frame, 1, 12, 34)
        const u = [...words.slice(noise / 4, noise / 4 + 4)].map((w) => ((w >>> 8) + 1) / 2 ** 24)
        const [ra, rb] = [Math.sqrt(-2 * Math.log(u[0])), Math.sqrt(-2 * Math.log(u[2]))]
        const turn = 2 * Math.PI
        const expected = [
          ra * Math.cos(turn * u[1]),
          ra * Math.sin(turn * u[1]),
          rb * Math.cos(turn * u[3]),
          rb * Math.sin(turn * u[3]),
        ]
        expected.forEach((value, c) => expectClose(found[i][c], value, 6))
      }
    }),
  )
})

test('they are normal: moments of a million, no correlation with neighbours, channels or frames', () => {
  const rows = 512
  const at = (frame: number) =>
    Array.from({ length: rows }, (_, y) => {
      kernels.normals(strip, 512, 0, y, frame, 1, 5, 6)
      return getStrip(bench, strip, 512)
    }).flat()
  const [now, next] = [at(1), at(2)]
  const all = now.flat()
  const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length
  const moment = (n: number) => mean(all.map((v) => v ** n))
  expect(Math.abs(moment(1))).toBeLessThan(0.005)
  expect(moment(2)).toBeCloseTo(1, 2)
  expect(Math.abs(moment(3))).toBeLessThan(0.02)
  expect(Math.abs(moment(4) - 3)).toBeLessThan(0.05)
  const correlation = (other: (i: number) => number) => mean(now.map((p, i) => p[0] * other(i)))
  for (const other of [
    (i: number) => now[(i + 1) % now.length][0],
    (i: number) => now[(i + 512) % now.length][0],
    (i: number) => now[i][1],
    (i: number) => now[i][2],
    (i: number) => next[i][0],
  ])
    expect(Math.abs(correlation(other))).toBeLessThan(0.01)
})

test('any piece of a row is the same as in the whole row, bit for bit', () => {
  kernels.normals(strip, 512, 0, 9, 1001, 1, 5, 6)
  const row = getStrip(bench, strip, 512)
  fc.assert(
    fc.property(fc.nat(500), fc.integer({ min: 1, max: 12 }), (x, count) => {
      kernels.normals(strip, count, x, 9, 1001, 1, 5, 6)
      expect(getStrip(bench, strip, count)).toEqual(row.slice(x, x + count))
    }),
  )
})

test('grain: the deviation follows light and coverage; where it is 0 no bit changes; alpha stays', () => {
  const pixels = [[0.5, -1, 0, 0.25]]
  putStrip(bench, strip, pixels)
  putStrip(bench, noise, [[2, 3, 4, 5]])
  kernels.addGrain(strip, noise, 1, 0.02, 0.5, 0, 0.01, 0.04, 0)
  const [r, g, b, a] = getStrip(bench, strip, 1)[0]
  // a sigma(C / a): of straight light 2 and -4, times the coverage.
  expectClose(r, 0.5 + 2 * 0.25 * Math.sqrt(0.02 * 2 + 0.01))
  expectClose(g, -1 + 3 * 0.25 * Math.sqrt(0.04), 2)
  expect([b, a]).toEqual([0, 0.25])
  putStrip(bench, strip, [[0.5, 2, 3, 0]])
  kernels.addGrain(strip, noise, 1, 0.02, 0.5, 0.1, 0.01, 0.04, 0.1)
  expect(getStrip(bench, strip, 1)[0]).toEqual([0.5, 2, 3, 0])
  words[strip / 4] = 0x7fc12345
  kernels.addGrain(strip, noise, 1, 0, 0, 0, 0, 0, 0)
  expect(words[strip / 4]).toBe(0x7fc12345)
})
