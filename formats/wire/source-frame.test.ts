import fc from 'fast-check'
import { decodeSourceFrame, encodeSourceFrame } from './source-frame'

const window = fc.record({
  x: fc.integer({ min: -99, max: 99 }),
  y: fc.integer({ min: -99, max: 99 }),
  width: fc.integer({ min: 1, max: 9 }),
  height: fc.integer({ min: 1, max: 9 }),
})
const joined = (pieces: Uint8Array[]) => new Uint8Array(Buffer.concat(pieces)).buffer

test('any frame arrives as it was sent', () => {
  fc.assert(
    fc.property(
      window,
      fc.array(fc.constantFrom('half' as const, 'float' as const, 'uint' as const), { minLength: 1, maxLength: 4 }),
      fc.boolean(),
      (dataWindow, types, decoded) => {
        const count = dataWindow.width * dataWindow.height
        const samples = {
          half: () => new Uint16Array(count).map((_, i) => i * 517),
          float: () => new Float32Array(count).map((_, i) => i / 7),
          uint: () => new Uint32Array(count).map((_, i) => i * 99991),
        }
        const frame = {
          dataWindow,
          displayWindow: { ...dataWindow, x: 0 },
          decoded,
          planes: types.map((type, i) => ({ name: `ç${i}`, type, samples: samples[type]() })),
        }
        expect(decodeSourceFrame(joined(encodeSourceFrame(frame)))).toEqual(frame)
      },
    ),
  )
})

test('a plane that serves three channels travels once', () => {
  const samples = new Uint16Array([1, 2, 3, 4])
  const dataWindow = { x: 0, y: 0, width: 2, height: 2 }
  const planes = ['R', 'G', 'B'].map((name) => ({ name, type: 'half' as const, samples }))
  const pieces = encodeSourceFrame({ dataWindow, displayWindow: dataWindow, decoded: false, planes })
  expect(pieces.filter((piece) => piece.length === 8 && piece[0] === 1)).toHaveLength(1)
  const back = decodeSourceFrame(joined(pieces))
  expect(back.planes.map((p) => [p.name, [...p.samples]])).toEqual(planes.map((p) => [p.name, [1, 2, 3, 4]]))
  expect(back.planes[1].samples).toBe(back.planes[0].samples)
})
