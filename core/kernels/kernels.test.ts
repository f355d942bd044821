import fc from 'fast-check'
import { floatToHalf, halfTable, halfToFloat } from './half'
import type { Kernels } from './kernels'
import { exp2, log2, power } from './power'
import { linearFromSrgb, srgb8, srgbFromLinear } from './srgb'
import { typescriptKernels } from './typescript-kernels'

const memory = new SharedArrayBuffer(1 << 16)
const floats = new Float32Array(memory)
const kernels: Kernels = typescriptKernels(memory)

/** Puts pixels at an address (in floats) and reads them back. */
const put = (at: number, ...values: number[]) => floats.set(values, at)
const get = (at: number, count = 4) => [...floats.slice(at, at + count)]
const unit = fc.float({ min: 0, max: 1, noNaN: true })
const light = fc.float({ min: 0, max: 100, noNaN: true })

describe('half floats', () => {
  test('every half comes back from its float, NaN as NaN', () => {
    for (let h = 0; h < 65536; h++) {
      const back = floatToHalf(halfToFloat(h))
      if (Number.isNaN(halfTable[h])) expect(Number.isNaN(halfToFloat(back))).toBe(true)
      else expect(back).toBe(h)
    }
  })

  test('known values', () => {
    expect(halfToFloat(0x3c00)).toBe(1)
    expect(halfToFloat(0x0001)).toBe(2 ** -24)
    expect(halfToFloat(0x7bff)).toBe(65504)
    expect(halfToFloat(0xfc00)).toBe(-Infinity)
    expect(floatToHalf(65520)).toBe(0x7c00)
    expect(floatToHalf(65519)).toBe(0x7bff)
    expect(floatToHalf(2 ** -25)).toBe(0)
    expect(floatToHalf(2 ** -25 * 1.0001)).toBe(1)
  })

  test('rounds to nearest, ties to even', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 0x7bfe }), (h) => {
        const low = halfToFloat(h)
        const high = halfToFloat(h + 1)
        const middle = (low + high) / 2
        expect(floatToHalf(middle)).toBe(h % 2 === 0 ? h : h + 1)
        expect(floatToHalf(low + (high - low) * 0.49)).toBe(h)
        expect(floatToHalf(low + (high - low) * 0.51)).toBe(h + 1)
      }),
    )
  })
})

describe('powers', () => {
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

describe('sRGB', () => {
  test('0.18 is 0.46136, and the curve comes back', () => {
    expect(srgbFromLinear(0.18)).toBeCloseTo(0.46136, 5)
    fc.assert(
      fc.property(fc.double({ min: -4, max: 4, noNaN: true }), (x) =>
        expect(linearFromSrgb(srgbFromLinear(x))).toBeCloseTo(x, 10),
      ),
    )
  })

  test('8-bit codes are the rounded curve', () => {
    fc.assert(
      fc.property(fc.float({ min: 0, max: Math.fround(1.2), noNaN: true }), (x) => {
        const exact = Math.min(1, srgbFromLinear(x)) * 255
        if (Math.abs(exact - Math.floor(exact) - 0.5) > 1e-5) expect(srgb8(x)).toBe(Math.round(exact))
      }),
      { numRuns: 2000 },
    )
    expect([srgb8(NaN), srgb8(-1), srgb8(Infinity)]).toEqual([0, 0, 255])
  })
})

describe('kernels on pixels', () => {
  test('over with an empty element changes no bit, with an opaque one gives the element', () => {
    put(64, -0, NaN, 3, 1)
    put(128, 0, 0, 0, 0)
    kernels.over(256, 512, 1)
    expect(Object.is(get(64)[0], -0)).toBe(true)
    put(64, 5, 6, 7, 1)
    put(128, 0.1, 0.2, 0.3, 1)
    kernels.over(256, 512, 1)
    expect(get(64)).toEqual([0.1, 0.2, 0.3, 1].map(Math.fround))
  })

  test('over is associative', () => {
    const pixel = fc.tuple(unit, unit, unit, unit).map(([r, g, b, a]) => [r * a, g * a, b * a, a])
    fc.assert(
      fc.property(pixel, pixel, pixel, (a, b, c) => {
        put(0, ...c)
        put(4, ...b)
        put(8, ...a)
        kernels.over(0, 16, 1)
        kernels.over(0, 32, 1)
        const oneByOne = get(0)
        put(0, ...c)
        put(4, ...b)
        kernels.over(16, 32, 1)
        kernels.over(0, 16, 1)
        get(0).forEach((value, i) => expect(value).toBeCloseTo(oneByOne[i], 5))
      }),
    )
  })

  test('affine colour acts on premultiplied values: light without coverage survives, veil comes only with coverage', () => {
    put(0, 0.5, 0.5, 0.5, 0)
    put(4, 0.25, 0.25, 0.25, 0.5)
    kernels.gainAndVeil(0, 2, 2, 2, 2, 0.1, 0.1, 0.1)
    expect(get(0)).toEqual([1, 1, 1, 0])
    expect(get(4)[0]).toBeCloseTo(0.55, 6)
  })

  test('gamma divides by alpha and multiplies back; negatives and light without coverage are defined', () => {
    put(0, 0.125, -0.5, 0.25, 0.5)
    put(4, 0.25, 0, 0, 0)
    kernels.power(0, 2, 0.5, 0.5, 1)
    expect(get(0)[0]).toBeCloseTo(Math.sqrt(0.25) * 0.5, 6)
    expect(get(0).slice(1)).toEqual([-0.5, 0.25, 0.5])
    expect(get(4)[0]).toBeCloseTo(0.5, 6)
  })

  test('a shadow takes light down to the ratio, never the veil', () => {
    fc.assert(
      fc.property(light, unit, unit, (lit, ratio, veil) => {
        put(0, lit + veil, 0, 0, 1)
        put(4, 1, 0, 0, 0)
        kernels.shadow(0, 16, 1, ratio, 1, 1, veil, 0, 0)
        const expected = veil + lit * ratio
        expect(Math.abs(get(0)[0] - expected)).toBeLessThanOrEqual(2e-6 * (1 + lit))
      }),
    )
  })

  test('occlusion of strength 1 multiplies by the pass; an open pass changes no bit', () => {
    put(0, 0.5, 0.5, 0.5, 1, -0, 1, 1, 1)
    put(8, 0.25, 0, 0, 0, 1, 0, 0, 0)
    kernels.occlusion(0, 32, 2, 1, 0.1, 0.1, 0.1)
    expect(get(0)[0]).toBeCloseTo(0.1 + 0.4 * 0.25, 6)
    expect(Object.is(get(4)[0], -0)).toBe(true)
  })

  test('channel views and exposure', () => {
    put(0, 0.18, 0.5, 1, 0.5)
    const bytes = new Uint8Array(memory)
    kernels.view(1024, 0, 1, { exposure: 1, channel: 'all', encoding: 'srgb' })
    expect([...bytes.slice(1024, 1028)]).toEqual([118, 188, 255, 255])
    kernels.view(1024, 0, 1, { exposure: 2, channel: 'red', encoding: 'srgb' })
    expect([...bytes.slice(1024, 1028)]).toEqual([162, 162, 162, 255])
    kernels.view(1024, 0, 1, { exposure: 2, channel: 'alpha', encoding: 'srgb' })
    expect(bytes[1024]).toBe(128)
    kernels.view(1024, 0, 1, { exposure: 1, channel: 'luma', encoding: 'srgb' })
    expect(bytes[1024]).toBe(Math.round(srgbFromLinear(0.2126 * 0.18 + 0.7152 * 0.5 + 0.0722) * 255))
  })
})
