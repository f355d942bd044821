import fc from 'fast-check'
import { kernelBench, throughProgram } from '../test/kernels'
import { decode, decodeSteps, encode, encodeSteps, encodingNames, encodings, type EncodingName } from './encodings'

const bench = kernelBench()
const single = (least: number, most: number) =>
  fc.float({ min: Math.fround(least), max: Math.fround(most), noNaN: true })

/** Code values of scene-linear light as the standards and the makers of cameras publish them. */
const published: readonly (readonly [EncodingName, light: number, code: number])[] = [
  ['linear', 0.18, 0.18],
  ['srgb', 0.18, 0.46135],
  ['srgb', 1, 1],
  ['bt1886', 0.18, 0.48943],
  ['g22', 0.18, 0.45865],
  ['g26', 0.18, 0.51709],
  ['pq', 1, 0.5080784],
  ['pq', 2.03, 0.5806889],
  ['pq', 10, 0.7518271],
  ['pq', 100, 1],
  ['hlg', 1 / 12, 0.5],
  ['hlg', 1, 1],
  ['hlg', 0.2649626, 0.75],
  ['cineon', 0.18, 0.45732],
  ['cineon', 1, 685 / 1023],
  ['cineon', 0, 95 / 1023],
  ['acescc', 0.18, 0.41359],
  ['acescc', 1, 0.5547945],
  ['acescc', 0, -0.3584475],
  ['acescct', 0.18, 0.41359],
  ['acescct', 0, 0.0729055],
  ['logc3', 0.18, 0.39101],
  ['logc3', 0, 0.092809],
  ['logc4', 0.18, 0.2784],
  ['logc4', 0, 0.0928641],
  ['slog3', 0.18, 420 / 1023],
  ['slog3', 0, 95 / 1023],
  ['vlog', 0.18, 0.42331],
  ['vlog', 0, 0.125],
  ['clog2', 0.18, 0.39825],
  ['clog2', 0, 0.0928641],
  ['clog3', 0.18, 0.34339],
  ['clog3', 0, 0.1251222],
]

test.each(published)('%s: light %d is code %d, in double precision and in the engine', (name, light, code) => {
  expect(Math.abs(encode(name, light) - code)).toBeLessThan(1e-5)
  const [[engine]] = throughProgram(bench, encodeSteps(name), [[light, light, light, 1]])
  expect(Math.abs(engine - code)).toBeLessThan(1e-5)
  const [[back]] = throughProgram(bench, decodeSteps(name), [[engine, engine, engine, 1]])
  expect(Math.abs(back - light)).toBeLessThan(1e-5 * Math.max(1, light))
})

describe.each(encodingNames)('%s', (name) => {
  const logarithmic = encodings[name].family === 'log'

  test('the engine decodes as the formula in double precision does', () => {
    fc.assert(
      fc.property(fc.array(single(logarithmic ? 0 : -0.5, 1.1), { minLength: 1, maxLength: 9 }), (codes) => {
        const found = throughProgram(
          bench,
          decodeSteps(name),
          codes.map((c) => [c, c, c, 0.5]),
        )
        codes.forEach((code, i) => {
          const expected = decode(name, code)
          for (let c = 0; c < 3; c++)
            expect(Math.abs(found[i][c] - expected)).toBeLessThanOrEqual(1e-5 * Math.max(0.1, Math.abs(expected)))
          expect(found[i][3]).toBe(0.5)
        })
      }),
    )
  })

  test('the engine encodes as the formula in double precision does', () => {
    fc.assert(
      fc.property(fc.array(single(-0.1, 60), { minLength: 1, maxLength: 9 }), (lights) => {
        const found = throughProgram(
          bench,
          encodeSteps(name),
          lights.map((x) => [x, x, x, 1]),
        )
        lights.forEach((light, i) => {
          const expected = encode(name, light)
          // Where a log has no value it is held at that of the least float.
          if (Math.abs(expected) < 2)
            expect(Math.abs(found[i][0] - expected)).toBeLessThanOrEqual(1e-5 + slackAtZero(name, light))
        })
      }),
    )
  })

  test('there and back is where it was, beyond white and below black too', () => {
    fc.assert(
      fc.property(single(name === 'acescc' ? 0 : name === 'cineon' ? -0.01 : -0.1, 55), (light) => {
        const error = Math.abs(decode(name, encode(name, light)) - light)
        expect(error).toBeLessThanOrEqual(1e-6 * Math.max(1, Math.abs(light)))
      }),
    )
  })

  test('rises everywhere, without a step where its pieces meet', () => {
    for (let code = logarithmic ? 0 : -0.2; code < 1.1; code += 1 / 4096) {
      const [here, next] = [decode(name, code), decode(name, code + 1 / 4096)]
      expect(next).toBeGreaterThanOrEqual(here)
      // No piece rises more than a twelfth a step of 1/4096 above what its slope near white makes of it.
      expect(next - here).toBeLessThan(0.002 + 0.03 * Math.abs(next))
    }
  })

  test('NaN stays NaN', () => {
    for (const steps of [decodeSteps(name), encodeSteps(name)])
      expect(throughProgram(bench, steps, [[NaN, NaN, NaN, 1]])[0][0]).toBeNaN()
  })
})

/** Pure powers and PQ rise without bound at zero: a float's own rounding there is more than 1e-5 of code. */
function slackAtZero(name: EncodingName, light: number): number {
  const kind = encodings[name].curve.kind
  if (kind !== 'power' && kind !== 'pq') return 0
  return Math.abs(encode(name, light * (1 + 1e-6)) - encode(name, light))
}

test('ACEScc is level below zero and above 65504, as its definition says', () => {
  expect(encode('acescc', -3)).toBe(encode('acescc', 0))
  expect(decode('acescc', 2)).toBe(65504)
  expect(throughProgram(bench, decodeSteps('acescc'), [[2, 2, 2, 1]])[0][0]).toBe(65504)
})

test('C-Log2 is mirrored at its black, as its definition says', () => {
  const black = encode('clog2', 0)
  fc.assert(
    fc.property(single(0, 10), (light) => {
      expect(encode('clog2', -light)).toBeCloseTo(2 * black - encode('clog2', light), 9)
    }),
  )
})
