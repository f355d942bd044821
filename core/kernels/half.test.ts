import fc from 'fast-check'
import { kernelBench } from '../test/kernels'
import { planeBytes, planeTypes, stripBytes } from './kernels'
import { floatToHalf, halfTable, halfToFloat } from './half'

const bench = kernelBench()
const halves = new Uint16Array(bench.kernels.memory)
const words = new Uint32Array(bench.kernels.memory)

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

describe('the kernels', () => {
  test('turn all 65536 halves into the floats of the table, bit for bit, and back', () => {
    const from = bench.free
    const to = from + 131072
    const back = to + 262144
    for (let h = 0; h < 65536; h++) halves[from / 2 + h] = h
    bench.kernels.fromHalves(to, from, 65536)
    const table = new Uint32Array(halfTable.buffer)
    for (let h = 0; h < 65536; h++) if (words[to / 4 + h] !== table[h]) throw new Error(`half ${h} differs`)
    bench.kernels.toHalves(back, to, 65536)
    // NaN too: its payload fits.
    for (let h = 0; h < 65536; h++) if (halves[back / 2 + h] !== h) throw new Error(`half ${h} does not come back`)
  })

  test('round any float as the reference does, whatever the length', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 2 ** 32 - 1 }), { minLength: 1, maxLength: 19 }), (bits) => {
        const to = bench.free + 4096
        words.set(bits, bench.free / 4)
        halves.fill(0xabcd, to / 2, to / 2 + 20)
        bench.kernels.toHalves(to, bench.free, bits.length)
        bits.forEach((_, i) => {
          const value = bench.floats[bench.free / 4 + i]
          // Finite values that are too large are held to the largest half; the reference makes them infinite.
          const held = Number.isFinite(value) ? Math.min(65504, Math.max(-65504, value)) : value
          const expected = floatToHalf(held)
          if (Number.isNaN(value)) expect(halves[to / 2 + i] & 0x7c00).toBe(0x7c00)
          else expect(halves[to / 2 + i]).toBe(expected)
        })
        expect(halves[to / 2 + bits.length]).toBe(0xabcd)
      }),
      { numRuns: 1000 },
    )
  })

  test('take unsigned integers to the nearest float', () => {
    words.set([0, 1, 70000, 2 ** 32 - 1, 16777217], bench.free / 4)
    bench.kernels.fromUints(bench.free + 64, bench.free, 5)
    const found = bench.floats.slice(bench.free / 4 + 16, bench.free / 4 + 21)
    expect([...found]).toEqual([0, 1, 70000, 4294967296, 16777216])
  })

  test('read planes of every kind from any sample on, and touch nothing beyond', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 9 }),
        fc.integer({ min: 0, max: 41 }),
        fc.array(fc.constantFrom('half', 'float', 'uint' as const), { minLength: 1, maxLength: 4 }),
        (first, count, types) => {
          const [strip, list, planes] = [bench.free, bench.free + stripBytes, bench.free + stripBytes + 64]
          const bytes = 256
          words.fill(0xdeadbeef, strip / 4, list / 4)
          words.set(
            types.flatMap((type, c) => [planes + c * bytes, planeTypes[type]]),
            list / 4,
          )
          const valueOf = (c: number, i: number) => 3 * i + c
          types.forEach((type, c) => {
            for (let i = 0; i < 60; i++) {
              const [at, value] = [planes + c * bytes, valueOf(c, i)]
              if (type === 'half') halves[at / 2 + i] = floatToHalf(value)
              else if (type === 'uint') words[at / 4 + i] = value
              else bench.floats[at / 4 + i] = value
            }
          })
          bench.kernels.readPlanes(strip, list, types.length, first, count)
          for (let c = 0; c < 4; c++) {
            const at = (strip + c * planeBytes) / 4
            const read = c < types.length ? count : 0
            for (let i = 0; i < read; i++) expect(bench.floats[at + i]).toBe(valueOf(c, first + i))
            expect(words[at + read]).toBe(0xdeadbeef)
          }
        },
      ),
    )
  })

  test('copy and clear as many bytes as they are told', () => {
    for (const count of [0, 1, 3, 4, 7, 8, 9, 31, 512]) {
      const [from, to] = [bench.free, bench.free + 4096]
      for (let i = 0; i <= 512; i++) words[from / 4 + i] = Math.imul(i + 1, 2654435761) >>> 0
      words.fill(7, to / 4, to / 4 + 520)
      bench.kernels.copy(to, from, 4 * count)
      expect(words.slice(to / 4, to / 4 + count)).toEqual(words.slice(from / 4, from / 4 + count))
      expect(words[to / 4 + count]).toBe(7)
      words.fill(7, bench.free / 4, (bench.free + stripBytes) / 4)
      bench.kernels.clearStrip(bench.free, count)
      for (let c = 0; c < 4; c++) {
        const at = (bench.free + c * planeBytes) / 4
        expect(words.slice(at, at + count).every((word) => word === 0)).toBe(true)
        expect(words[at + count]).toBe(7)
      }
    }
  })

  test('pack and unpack a strip without changing a bit, for every length', () => {
    for (const count of [0, 1, 2, 3, 4, 5, 7, 64, 511, 512]) {
      const strip = bench.free
      const packed = strip + 8448
      const again = packed + 8192 + 64
      for (let i = 0; i < 8448 / 4; i++) words[strip / 4 + i] = Math.imul(i, 2654435761) >>> 0
      bench.kernels.pack(packed, strip, count)
      bench.kernels.unpack(again, packed, count)
      for (let c = 0; c < 4; c++)
        for (let i = 0; i < count; i++) {
          expect(words[packed / 4 + i * 4 + c]).toBe(words[strip / 4 + c * 528 + i])
          expect(words[again / 4 + c * 528 + i]).toBe(words[strip / 4 + c * 528 + i])
        }
    }
  })
})
