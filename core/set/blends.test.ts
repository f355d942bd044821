import fc from 'fast-check'
import { planeBytes, stripBytes } from '../kernels/kernels'
import { getStrip, kernelBench, putStrip } from '../test/kernels'
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

const references: Record<BlendKind, (b: Pixel, e: Pixel, p: Pixel, v: Values, c: number) => number> = {
  over: (b, e, _p, _v, c) => e[c] + b[c] * (1 - e[3]),
  'plus-lighter': (b, e, _p, v, c) => b[c] + v.amount[c] * e[c],
  // W3C Compositing and Blending Level 1, sections 9.1.3 and 10.1, over an opaque backdrop.
  difference: (b, e, _p, _v, c) => (e[3] > 0 ? b[c] * (1 - e[3]) + Math.abs(b[c] * e[3] - e[c]) : b[c]),
  shadow: (b, e, _p, v, c) => v.veil[c] + (b[c] - v.veil[c]) * (1 - e[0] * (1 - v.ratio[c])),
  occlusion: (b, e, _p, v, c) => v.veil[c] + (b[c] - v.veil[c]) * Math.max(0, 1 - v.strength[0] * (1 - e[0])),
  reveal: (b, e, p, _v, c) => b[c] * (1 - e[0]) + p[c] * e[0],
}
const kinds = blendKinds

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

test.each(kinds)('%s agrees with its formula to 4e-6', (kind) => {
  fc.assert(
    fc.property(opaque, covered, opaque, valuesFor(kind), (b, e, p, values) => {
      const behind = b.map(Math.fround)
      const plate = p.map(Math.fround)
      const out = blend(kind, behind, e, plate, values)
      for (let c = 0; c < 3; c++) {
        const expected = references[kind](behind, e, plate, values, c)
        const scale = Math.max(1, Math.abs(behind[c]), Math.abs(plate[c]))
        expect(Math.abs(out[c] - expected)).toBeLessThanOrEqual(4e-6 * scale)
      }
      expect(out[3]).toBeCloseTo(1, 6)
    }),
    { numRuns: 300 },
  )
})

const nothing: Record<keyof typeof references, Pixel> = {
  over: [0, 0, 0, 0],
  'plus-lighter': [0, 0, 0, 0],
  difference: [0, 0, 0, 0],
  shadow: [0, 0, 0, 0],
  occlusion: [1, 0, 0, 0],
  reveal: [0, 0, 0, 0],
}

const words = new Uint32Array(bench.kernels.memory)
const wordsOf = (strip: number) => [0, 1, 2, 3].map((c) => words[(strip + c * planeBytes) / 4])
const putWords = (strip: number, bits: readonly number[]) =>
  bits.forEach((value, c) => (words[(strip + c * planeBytes) / 4] = value))

test.each(kinds)('%s with an element that is not there changes no bit', (kind) => {
  const anyBits = fc.array(fc.integer({ min: 0, max: 2 ** 32 - 1 }), { minLength: 4, maxLength: 4 })
  fc.assert(
    fc.property(anyBits, valuesFor(kind), (bits, values) => {
      putStrip(bench, elementAt, [nothing[kind]])
      putStrip(bench, plateAt, [[9, 9, 9, 1]])
      putWords(behindAt, bits)
      blends[kind].blend(bench.kernels, behindAt, elementAt, plateAt, 1, values)
      expect(wordsOf(behindAt)).toEqual(bits)
    }),
  )
})

test.each(kinds)('%s leaves the pixels after its last alone', (kind) => {
  const one = [0.5, 0.5, 0.5, 0.5]
  const six = Array.from({ length: 8 }, () => one)
  for (const count of [1, 2, 3, 5, 6]) {
    putStrip(bench, behindAt, six)
    putStrip(bench, elementAt, six)
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
