import fc from 'fast-check'
import { hslBlends, planeBytes, stripBytes } from '../kernels/kernels'
import { getStrip, kernelBench, putStrip } from '../test/kernels'
import { luminosityMix, saturationOf, separable, shares, type Rgb } from '../test/w3c-blends'
import { initialParameters } from '../shot'
import { blendKinds, blends, type BlendKind } from './blends'

/** References in double precision, as the formulas of the methods note read. */

const bench = kernelBench()
const [behindAt, elementAt, plateAt] = [0, 1, 2].map((i) => bench.free + i * stripBytes)

type Pixel = readonly number[]
type Values = Record<string, number[]>

function initial(kind: BlendKind): Values {
  return initialParameters(blends[kind]) as unknown as Values
}

function blend(kind: BlendKind, behind: Pixel, element: Pixel, plate: Pixel, values: Values): number[] {
  putStrip(bench, behindAt, [behind])
  putStrip(bench, elementAt, [element])
  putStrip(bench, plateAt, [plate])
  blends[kind].blend(bench.kernels, behindAt, elementAt, plateAt, 1, values)
  return getStrip(bench, behindAt, 1)[0]
}

type Reference = (b: Pixel, e: Pixel, p: Pixel, v: Values, c: number) => number

/** Over an opaque backdrop, whose alpha is 1. */
const inLight =
  (mode: keyof typeof separable): Reference =>
  (b, e, _p, _v, c) =>
    e[3] > 1e-6 ? b[c] * (1 - e[3]) + e[3] * separable[mode](b[c], e[c] / e[3]) : b[c] * (1 - e[3])
const operator =
  (name: keyof typeof shares): Reference =>
  (b, e, _p, _v, c) => {
    const [ofElement, ofBackdrop] = shares[name](e[3], 1)
    return e[c] * ofElement + b[c] * ofBackdrop
  }

const references: Partial<Record<BlendKind, Reference>> = {
  over: (b, e, _p, _v, c) => e[c] + b[c] * (1 - e[3]),
  'plus-lighter': (b, e, _p, v, c) => b[c] + v.amount[c] * e[c],
  multiply: inLight('multiply'),
  screen: inLight('screen'),
  darken: inLight('darken'),
  lighten: inLight('lighten'),
  difference: inLight('difference'),
  'destination-over': operator('destination-over'),
  'source-atop': operator('source-atop'),
  'destination-out': operator('destination-out'),
  xor: operator('xor'),
  shadow: (b, e, _p, v, c) => v.veil[c] + (b[c] - v.veil[c]) * (1 - e[c] * (1 - v.ratio[c])),
  occlusion: (b, e, _p, v, c) => v.veil[c] + (b[c] - v.veil[c]) * Math.max(0, 1 - v.strength[0] * (1 - e[c])),
  reveal: (b, e, p, _v, c) => b[c] * (1 - e[0]) + p[c] * e[0],
}
const kinds = blendKinds
const plain = kinds.filter((kind) => references[kind] !== undefined)
const display = kinds.filter((kind) => references[kind] === undefined)

const unit = fc.float({ min: 0, max: 1, noNaN: true })
const light = fc.float({ min: -1, max: 50, noNaN: true })
const opaque = fc.tuple(light, light, light, fc.constant(1))
const covered = fc.tuple(unit, unit, unit, unit).map(([r, g, b, a]) => [r * a, g * a, b * a, a].map(Math.fround))

function valuesFor(kind: BlendKind): fc.Arbitrary<Values> {
  const parameters = blends[kind].parameters.map(
    (p) =>
      [
        p.name,
        fc.array(fc.float({ min: Math.fround(p.least), max: Math.fround(p.most), noNaN: true }), {
          minLength: p.channels,
          maxLength: p.channels,
        }),
      ] as const,
  )
  return fc.record(Object.fromEntries(parameters)) as fc.Arbitrary<Values>
}

test.each(plain)('%s agrees with its formula to 4e-6', (kind) => {
  fc.assert(
    fc.property(opaque, covered, opaque, valuesFor(kind), (b, e, p, values) => {
      const behind = b.map(Math.fround)
      const plate = p.map(Math.fround)
      const out = blend(kind, behind, e, plate, values)
      for (let c = 0; c < 3; c++) {
        const expected = references[kind]?.(behind, e, plate, values, c) ?? NaN
        const scale = Math.max(1, Math.abs(behind[c]), Math.abs(plate[c]))
        expect(Math.abs(out[c] - expected)).toBeLessThanOrEqual(4e-6 * scale)
      }
      const cuts = kind === 'destination-out' || kind === 'xor'
      expect(out[3]).toBeCloseTo(cuts ? 1 - e[3] : 1, 6)
    }),
    { numRuns: 300 },
  )
})

const nothing = (kind: BlendKind): Pixel => {
  const neutral = blends[kind].neutral ?? 0
  return [neutral, neutral, neutral, 0]
}

/** sRGB of the W3C, IEC 61966-2-1, on 0 to 1. */
const encode = (v: number) => (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055)
const decode = (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4)
const held = (v: number) => Math.min(1, Math.max(0, v))

/** Mixed as display values; what the backdrop has beyond 0 to 1 stays. */
function displayMix(kind: BlendKind, b: Rgb, s: Rgb): Rgb {
  const [backdrop, source] = [b, s].map((c) => c.map((v) => encode(held(v))) as unknown as Rgb)
  const mixed =
    kind in separable
      ? backdrop.map((v, c) => separable[kind as keyof typeof separable](v, source[c]))
      : luminosityMix(kind as (typeof hslBlends)[number], backdrop, source)
  return mixed.map((v, c) => decode(held(v)) + b[c] - held(b[c])) as unknown as Rgb
}

test('the blends that mean display values are the W3C’s', () => {
  expect([...display].sort()).toEqual(
    [...hslBlends, 'overlay', 'hard-light', 'soft-light', 'color-dodge', 'color-burn', 'exclusion'].sort(),
  )
})

test.each(display)('%s is mixed as display values, and light above 1 behind it stays', (kind) => {
  const colour = fc.float({ min: Math.fround(0.02), max: Math.fround(0.98), noNaN: true })
  const bright = fc.oneof(colour, fc.float({ min: 2, max: 40, noNaN: true }))
  fc.assert(
    fc.property(
      fc.tuple(bright, bright, bright),
      fc.tuple(colour, colour, colour),
      fc.constantFrom(1, 0.5),
      (b, s, a) => {
        const source = s.map(Math.fround) as unknown as Rgb
        // A range of next to nothing is magnified to any hue, and the formulas jump at these places.
        if (kind in separable ? source.some((v) => Math.abs(encode(v) - 0.5) < 1e-3) : saturationOf(source) < 0.05)
          return
        if (b.some((v) => Math.abs(encode(held(v)) - 0.5) < 1e-3 || Math.abs(encode(held(v)) - 0.25) < 1e-3)) return
        if (!(kind in separable) && saturationOf(b.map((v) => encode(held(v))) as unknown as Rgb) < 0.05) return
        const behind = [...b.map(Math.fround), 1]
        const out = blend(kind, behind, [...source.map((v) => Math.fround(v * a)), a], [0, 0, 0, 1], {})
        const mixed = displayMix(kind, behind.slice(0, 3) as unknown as Rgb, source)
        for (let c = 0; c < 3; c++) {
          const expected = behind[c] * (1 - a) + a * mixed[c]
          expect(Math.abs(out[c] - expected)).toBeLessThanOrEqual(2e-4 * Math.max(1, expected))
        }
        expect(out[3]).toBe(1)
      },
    ),
    { numRuns: 300 },
  )
})

const words = new Uint32Array(bench.kernels.memory)
const wordsOf = (strip: number) => [0, 1, 2, 3].map((c) => words[(strip + c * planeBytes) / 4])
const putWords = (strip: number, bits: readonly number[]) =>
  bits.forEach((value, c) => (words[(strip + c * planeBytes) / 4] = value))

test.each(kinds)('%s with an element that is not there changes no bit', (kind) => {
  const anyBits = fc.array(fc.integer({ min: 0, max: 2 ** 32 - 1 }), { minLength: 4, maxLength: 4 })
  fc.assert(
    fc.property(anyBits, valuesFor(kind), (bits, values) => {
      putStrip(bench, elementAt, [nothing(kind)])
      putStrip(bench, plateAt, [[9, 9, 9, 1]])
      putWords(behindAt, bits)
      blends[kind].blend(bench.kernels, behindAt, elementAt, plateAt, 1, values)
      expect(wordsOf(behindAt)).toEqual(bits)
    }),
  )
})

test.each(kinds)('%s leaves the pixels after its last alone', (kind) => {
  const one = [0.5, 0.5, 0.5, 0.5]
  const other = [0.2, 0.3, 0.1, 0.4]
  const six = Array.from({ length: 8 }, () => one)
  for (const count of [1, 2, 3, 5, 6]) {
    putStrip(bench, behindAt, six)
    putStrip(
      bench,
      elementAt,
      Array.from({ length: 8 }, () => other),
    )
    putStrip(
      bench,
      plateAt,
      Array.from({ length: 8 }, () => [9, 9, 9, 1]),
    )
    blends[kind].blend(bench.kernels, behindAt, elementAt, plateAt, count, initial(kind))
    const after = getStrip(bench, behindAt, 8)
    expect(after.slice(count)).toEqual(six.slice(count))
    expect(after[count - 1]).not.toEqual(one)
    expect(after.slice(0, count)).toEqual(Array.from({ length: count }, () => after[0]))
  }
})

test('a full reveal copies the plate’s bits, NaN payloads included', () => {
  putStrip(bench, elementAt, [[1, 0, 0, 0]])
  putWords(plateAt, [0x7fc12345, 0x80000000, 0x00000001, 0x3f800000])
  blends.reveal.blend(bench.kernels, behindAt, elementAt, plateAt, 1, initial('reveal'))
  expect(wordsOf(behindAt)).toEqual([0x7fc12345, 0x80000000, 0x00000001, 0x3f800000])
})

test('two shadows of the same light darken no further than the plate’s own shadows do at most: each multiplies', () => {
  const values = { ratio: [0.5, 0.5, 0.5], veil: [0, 0, 0] }
  const once = blend('shadow', [1, 1, 1, 1], [1, 0, 0, 0], [0, 0, 0, 1], values)
  expect(blend('shadow', once, [1, 0, 0, 0], [0, 0, 0, 1], values)[0]).toBeCloseTo(0.25, 6)
})
