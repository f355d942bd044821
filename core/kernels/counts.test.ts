import fc from 'fast-check'
import { kernelBench, putStrip } from '../test/kernels'
import { countWords, levelBegins, levelCount } from './counting'
import { planeBytes, stripBytes } from './kernels'
import { srgbFromLinear } from './srgb'

const bench = kernelBench()
const { kernels, free: strip } = bench
const counts = strip + stripBytes
const [red, alpha] = [strip, strip + 3 * planeBytes]

function cleared(words: number): Uint32Array {
  return new Uint32Array(kernels.memory, counts, words).fill(0)
}

/** The level by its definition: the last one that begins at or below the light. */
function levelOf(light: number): number {
  for (let level = levelCount - 1; level > 0; level--) if (light >= levelBegins(level)) return level
  return 0
}

/** Counts of the first channel. */
function counted(pixels: readonly (readonly number[])[], width: number, columns: number): number[][] {
  const found = cleared(columns * levelCount)
  putStrip(bench, strip, pixels)
  kernels.countLevels(counts, red, alpha, pixels.length, 0, width, columns)
  return Array.from({ length: columns }, (_, c) => [...found.subarray(c * levelCount, (c + 1) * levelCount)])
}

test('levels begin at 2^-12, with 32 evenly spaced in every doubling', () => {
  expect(levelBegins(0)).toBe(2 ** -12)
  expect(levelBegins(32)).toBe(2 ** -11)
  expect(levelBegins(16)).toBe(1.5 * 2 ** -12)
  expect(levelBegins(levelCount)).toBe(16)
})

test('every pixel is counted once, at its level, if it is covered by half or more', () => {
  const light = fc.oneof(
    fc.float({ min: Math.fround(-0.1), max: 30, noNaN: true }),
    fc.float({ min: 0, max: Math.fround(0.01), noNaN: true }),
  )
  const coverage = fc.constantFrom(0, Math.fround(0.49), 0.5, 1)
  fc.assert(
    fc.property(fc.array(fc.tuple(light, coverage), { minLength: 1, maxLength: 30 }), (pixels) => {
      const [found] = counted(
        pixels.map(([v, a]) => [v, 0, 0, a]),
        pixels.length,
        1,
      )
      const expected = new Array<number>(levelCount).fill(0)
      for (const [v, a] of pixels) if (a >= 0.5) expected[levelOf(v)]++
      expect(found).toEqual(expected)
    }),
  )
})

test('NaN and negatives lie lowest, infinity highest', () => {
  const [found] = counted(
    [NaN, -1, -Infinity, 0, Infinity, 1e30].map((v) => [v, 0, 0, 1]),
    6,
    1,
  )
  expect(found[0]).toBe(4)
  expect(found[levelCount - 1]).toBe(2)
})

test('columns share the width, wherever a strip begins', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 500 }), fc.integer({ min: 1, max: 500 }), fc.nat(499), (w, c, cut) => {
      const [columns, from] = [Math.min(w, c), Math.min(w, cut)]
      const found = cleared(columns * levelCount)
      putStrip(bench, strip, Array(w).fill([1, 0, 0, 1]))
      kernels.countLevels(counts, red, alpha, from, 0, w, columns)
      kernels.countLevels(counts, red, alpha, w - from, from, w, columns)
      const each = Array.from({ length: columns }, (_, i) => found[i * levelCount + levelOf(1)])
      const expected = new Array<number>(columns).fill(0)
      for (let x = 0; x < w; x++) expected[Math.floor((x * columns) / w)]++
      expect(each).toEqual(expected)
    }),
  )
})

/** Rec. ITU-R BT.709, 3.3, in double precision. */
function cellOf(rgb: readonly number[], size: number): [number, number] {
  const [r, g, b] = rgb.map((v) => Math.min(1, Math.max(0, srgbFromLinear(v))))
  const y = 0.2126 * r + 0.7152 * g + 0.0722 * b
  const cell = (difference: number) => ((difference / 0.25 + 1) / 2) * size
  return [cell((b - y) / 1.8556), size - cell((r - y) / 1.5748)]
}

test('colours lie by their differences from luma, as sRGB shows them', () => {
  const size = 128
  const light = fc.float({ min: Math.fround(-0.1), max: Math.fround(1.3), noNaN: true })
  fc.assert(
    fc.property(light, light, light, (r, g, b) => {
      const found = cleared(countWords({ counts: 'colours', size }))
      putStrip(bench, strip, [[r, g, b, 1]])
      kernels.countColours(counts, strip, 1, size)
      const at = found.indexOf(1)
      const [x, y] = cellOf([r, g, b], size)
      const inside = (v: number) => Math.min(size - 0.5, Math.max(0.5, v))
      // The middle of the cell is at most half a cell from the place, rounding aside.
      expect(Math.abs((at % size) + 0.5 - inside(x))).toBeLessThan(0.501)
      expect(Math.abs(Math.floor(at / size) + 0.5 - inside(y))).toBeLessThan(0.501)
    }),
  )
})

test('what is not covered has no colour', () => {
  const found = cleared(16 ** 2)
  putStrip(bench, strip, [
    [1, 0, 0, 0],
    [1, 0, 0, NaN],
  ])
  kernels.countColours(counts, strip, 2, 16)
  expect(found.every((count) => count === 0)).toBe(true)
})
