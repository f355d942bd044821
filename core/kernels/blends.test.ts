import fc from 'fast-check'
import { expectClose, getStrip, kernelBench, putStrip } from '../test/kernels'
import { hslBlends, porterDuffOperators, separableBlends, stripBytes } from './kernels'

/** The W3C's Compositing and Blending Level 1 in double precision, on colour that is not premultiplied. */

const bench = kernelBench()
const [behindAt, elementAt] = [bench.free, bench.free + stripBytes]
type Pixel = readonly number[]
type Rgb = readonly [number, number, number]

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

/** Shares of element and backdrop, section 9.1. */
const shares: Record<(typeof porterDuffOperators)[number], (aF: number, aB: number) => readonly [number, number]> = {
  clear: () => [0, 0],
  copy: () => [1, 0],
  destination: () => [0, 1],
  'source-over': (aF) => [1, 1 - aF],
  'destination-over': (_, aB) => [1 - aB, 1],
  'source-in': (_, aB) => [aB, 0],
  'destination-in': (aF) => [0, aF],
  'source-out': (_, aB) => [1 - aB, 0],
  'destination-out': (aF) => [0, 1 - aF],
  'source-atop': (aF, aB) => [aB, 1 - aF],
  'destination-atop': (aF, aB) => [1 - aB, aF],
  xor: (aF, aB) => [1 - aB, 1 - aF],
  lighter: () => [1, 1],
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

const screen = (b: number, s: number) => (b <= 1 && s <= 1 ? b + s - b * s : Math.max(b, s))
const hardLight = (b: number, s: number) => (s <= 0.5 ? b * 2 * s : screen(b, 2 * s - 1))
const separable: Record<(typeof separableBlends)[number], (b: number, s: number) => number> = {
  normal: (_, s) => s,
  multiply: (b, s) => b * s,
  screen,
  overlay: (b, s) => hardLight(s, b),
  darken: Math.min,
  lighten: Math.max,
  'color-dodge': (b, s) => (b <= 0 ? b : s >= 1 ? Math.max(1, b) : Math.min(Math.max(1, b), b / (1 - s))),
  'color-burn': (b, s) => (b >= 1 || b < 0 ? b : s <= 0 ? 0 : 1 - Math.min(1, (1 - b) / s)),
  'hard-light': hardLight,
  'soft-light': (b, wide) => {
    const s = Math.min(1, Math.max(0, wide))
    if (b > 1 || b < 0) return b
    if (s <= 0.5) return b - (1 - 2 * s) * b * (1 - b)
    const d = b <= 0.25 ? ((16 * b - 12) * b + 4) * b : Math.sqrt(b)
    return b + (2 * s - 1) * (d - b)
  },
  difference: (b, s) => Math.abs(b - s),
  exclusion: (b, s) => (b <= 1 && s <= 1 ? b + s - 2 * b * s : Math.abs(b - s)),
}

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

const luminosity = ([r, g, b]: Rgb) => 0.3 * r + 0.59 * g + 0.11 * b
const saturation = (c: Rgb) => Math.max(...c) - Math.min(...c)
const map = (c: Rgb, change: (v: number) => number): Rgb => [change(c[0]), change(c[1]), change(c[2])]

function withLuminosity(c: Rgb, wanted: number, ceiling: number): Rgb {
  const lifted = map(c, (v) => v + wanted - luminosity(c))
  const [n, x] = [Math.min(...lifted), Math.max(...lifted)]
  const up = n < 0 ? map(lifted, (v) => wanted + ((v - wanted) * wanted) / (wanted - n)) : lifted
  return x > ceiling && x > wanted ? map(up, (v) => wanted + ((v - wanted) * (ceiling - wanted)) / (x - wanted)) : up
}

function withSaturation(c: Rgb, wanted: number): Rgb {
  const range = saturation(c)
  return range > 0 ? map(c, (v) => ((v - Math.min(...c)) * wanted) / range) : [0, 0, 0]
}

const inseparable: Record<(typeof hslBlends)[number], (b: Rgb, s: Rgb) => { colour: Rgb; light: number }> = {
  hue: (b, s) => ({ colour: withSaturation(s, saturation(b)), light: luminosity(b) }),
  saturation: (b, s) => ({ colour: withSaturation(b, saturation(s)), light: luminosity(b) }),
  color: (b, s) => ({ colour: s, light: luminosity(b) }),
  luminosity: (b, s) => ({ colour: b, light: luminosity(s) }),
}

test.each(hslBlends)('%s', (mode) => {
  const colour = fc.tuple(unit, unit, unit)
  fc.assert(
    fc.property(colour, colour, alpha, (cb, cs, a) => {
      const b = [...cb, 1]
      const f = [...cs.map((v) => Math.fround(v * a)), Math.fround(a)]
      if (f.every((v) => v === 0)) return
      const source = [0, 1, 2].map((c) => straight(f, c)) as unknown as Rgb
      // A range of next to nothing is magnified to any hue.
      if (saturation(source) < 0.01 || saturation(cb) < 0.01) return
      const { colour: wanted, light } = inseparable[mode](cb, source)
      const mixed = withLuminosity(wanted, light, Math.max(1, ...cb))
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
