import fc from 'fast-check'
import { expectClose, getStrip, kernelBench, putStrip } from '../test/kernels'
import { luminosityMix, saturationOf, separable, shares, type Rgb } from '../test/w3c-blends'
import { hslBlends, porterDuffOperators, separableBlends, stripBytes } from './kernels'

/** The W3C's Compositing and Blending Level 1 in double precision, on colour that is not premultiplied. */

const bench = kernelBench()
const [behindAt, elementAt] = [bench.free, bench.free + stripBytes]
type Pixel = readonly number[]

const unit = fc.float({ min: 0, max: 1, noNaN: true })
const alpha = fc.oneof(fc.constant(0), fc.constant(1), fc.float({ min: Math.fround(0.01), max: 1, noNaN: true }))
const pixelUpTo = (most: number): fc.Arbitrary<Pixel> => {
  const c = fc.float({ min: 0, max: Math.fround(most), noNaN: true })
  return fc.tuple(c, c, c, alpha).map(([r, g, b, a]) => [r * a, g * a, b * a, a].map(Math.fround))
}

function run(kernel: 'porterDuff' | 'blend' | 'blendHsl', behind: Pixel, element: Pixel, number: number): number[] {
  putStrip(bench, behindAt, [behind])
  putStrip(bench, elementAt, [element])
  bench.kernels[kernel](behindAt, elementAt, 1, number)
  return getStrip(bench, behindAt, 1)[0]
}

test.each(porterDuffOperators)('%s', (operator) => {
  fc.assert(
    fc.property(pixelUpTo(5), pixelUpTo(5), (b, f) => {
      const [fa, fb] = shares[operator](f[3], b[3])
      run('porterDuff', b, f, porterDuffOperators.indexOf(operator)).forEach((found, c) =>
        expectClose(found, f[c] * fa + b[c] * fb, Math.abs(f[c]) + Math.abs(b[c])),
      )
    }),
  )
})

/** Of a premultiplied pixel; where there is hardly any alpha, as it stands. */
const straight = (p: Pixel, c: number) => p[c] / (p[3] > 1e-6 ? p[3] : 1)
/** Where a small difference decides, both sides are right. */
const near = (a: number, b: number) => Math.abs(a - b) < 1e-5

test.each(separableBlends)('%s', (mode) => {
  fc.assert(
    fc.property(pixelUpTo(1.5), pixelUpTo(1.5), (b, f) => {
      const found = run('blend', b, f, separableBlends.indexOf(mode))
      if (f.every((v) => v === 0)) return expect(found).toEqual(b)
      for (let c = 0; c < 3; c++) {
        const [cb, cs] = [straight(b, c), straight(f, c)]
        // The formulas jump at these places, and dodge and burn magnify what lies next to them.
        if ([0, 0.25, 0.5, 1].some((edge) => near(cb, edge) || near(cs, edge))) continue
        if (mode === 'color-dodge' && cs > 0.99) continue
        if (mode === 'color-burn' && cs < 0.01) continue
        const mixed = separable[mode](cb, cs)
        const expected = f[c] * (1 - b[3]) + b[c] * (1 - f[3]) + f[3] * b[3] * mixed
        expectClose(found[c], expected, 100 * (mode.startsWith('color') ? 1 : 0) + 3)
      }
      expectClose(found[3], f[3] + b[3] - f[3] * b[3], 1)
    }),
    { numRuns: 500 },
  )
})

test.each(hslBlends)('%s', (mode) => {
  const colour = fc.tuple(unit, unit, unit)
  fc.assert(
    fc.property(colour, colour, alpha, (cb, cs, a) => {
      const b = [...cb, 1]
      const f = [...cs.map((v) => Math.fround(v * a)), Math.fround(a)]
      if (f.every((v) => v === 0)) return
      const source = [0, 1, 2].map((c) => straight(f, c)) as unknown as Rgb
      // A range of next to nothing is magnified to any hue.
      if (saturationOf(source) < 0.01 || saturationOf(cb) < 0.01) return
      const mixed = luminosityMix(mode, cb, source)
      const found = run('blendHsl', b, f, hslBlends.indexOf(mode))
      for (let c = 0; c < 3; c++) expectClose(found[c], f[c] * 0 + b[c] * (1 - f[3]) + f[3] * mixed[c], 20)
    }),
    { numRuns: 500 },
  )
})

test('an element that holds nothing changes no bit of what is behind', () => {
  const words = new Uint32Array(bench.kernels.memory)
  for (const kernel of ['blend', 'blendHsl'] as const) {
    putStrip(bench, behindAt, [[0, 0, 0, 1]])
    words[behindAt / 4] = 0x7fc12345
    putStrip(bench, elementAt, [[0, 0, 0, 0]])
    bench.kernels[kernel](behindAt, elementAt, 1, 1)
    expect(words[behindAt / 4]).toBe(0x7fc12345)
  }
})
