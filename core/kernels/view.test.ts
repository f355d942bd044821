import fc from 'fast-check'
import { kernelBench, putStrip } from '../test/kernels'
import { stripBytes, type ViewSettings } from './kernels'
import { linearFromSrgb, srgbFromLinear } from './srgb'

const bench = kernelBench()
const bytes = new Uint8Array(bench.kernels.memory)
const [strip, work, target] = [bench.free, bench.free + stripBytes, bench.free + 2 * stripBytes]

function seen(pixels: readonly (readonly number[])[], settings: Partial<ViewSettings> = {}, x = 0, y = 0): number[][] {
  putStrip(bench, strip, pixels)
  bytes.fill(7, target, target + pixels.length * 4 + 16)
  bench.kernels.view(
    target,
    strip,
    pixels.length,
    { exposure: 1, channel: 'all', encoding: 'srgb', ...settings },
    work,
    x,
    y,
  )
  expect(bytes[target + pixels.length * 4]).toBe(7)
  return pixels.map((_, i) => [...bytes.slice(target + i * 4, target + i * 4 + 4)])
}

const light = fc.float({ min: Math.fround(-0.1), max: Math.fround(1.2), noNaN: true })

test('codes are the curve, rounded to nearest, but within a fiftieth of halfway either', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(light, light, light), { minLength: 1, maxLength: 9 }), (pixels) => {
      seen(pixels.map((p) => [...p, 0.5])).forEach((found, i) => {
        expect(found[3]).toBe(255)
        pixels[i].forEach((v, c) => {
          const exact = Math.min(1, Math.max(0, srgbFromLinear(v))) * 255
          expect(Math.abs(found[c] - exact)).toBeLessThanOrEqual(0.52)
        })
      })
    }),
    { numRuns: 1000 },
  )
})

test('every code is what its own light shows as', () => {
  for (let code = 0; code < 256; code++) {
    const v = linearFromSrgb(code / 255)
    expect(seen([[v, v, v, 1]])[0]).toEqual([code, code, code, 255])
  }
})

test('NaN is black, infinity white, negatives black', () => {
  expect(seen([[NaN, Infinity, -Infinity, 1]])[0]).toEqual([0, 255, 0, 255])
})

test('exposure and channels', () => {
  const pixel = [[0.18, 0.5, 1, 0.5]]
  const code = (v: number) => Math.round(srgbFromLinear(v) * 255)
  expect(seen(pixel, { exposure: 2 })[0]).toEqual([code(0.36), 255, 255, 255])
  expect(seen(pixel, { exposure: 2, channel: 'red' })[0]).toEqual([code(0.36), code(0.36), code(0.36), 255])
  expect(seen(pixel, { channel: 'green' })[0][0]).toBe(code(0.5))
  expect(seen(pixel, { channel: 'blue' })[0][0]).toBe(255)
  expect(seen(pixel, { exposure: 2, channel: 'alpha' })[0][0]).toBe(128)
  expect(seen(pixel, { channel: 'luma' })[0][0]).toBe(code(0.2126 * 0.18 + 0.7152 * 0.5 + 0.0722))
})
