import { floatToHalf, halfToFloat } from '../../core/image/half'
import { unpackB44 } from './b44'
import { BadBlock, type BlockShape, type ExrChannel } from './layout'
import { packPiz, unpackPiz } from './piz'
import { pxr24Bytes, unpackPxr24 } from './pxr24'
import { bytesSource, readExrHeader, text, writeExr, type ExrPartToWrite } from './index'
import { deflate, madeUpPlane } from './test/files'

/** Blocks worked out by hand from the format's description. */

const channel = (type: ExrChannel['type'], perceptuallyLinear = false): ExrChannel => ({
  name: 'Y',
  type,
  xSampling: 1,
  ySampling: 1,
  perceptuallyLinear,
})
const shape = (width: number, lines: number, ...channels: ExrChannel[]): BlockShape => ({ width, lines, channels })
const halvesOf = (bytes: Uint8Array) => [...new Uint16Array(bytes.slice().buffer)]

describe('B44', () => {
  // Positive halves are stored with their top bit set.
  const one = [0x3c00 | 0x8000] as const
  const top = (value: number) => [value >> 8, value & 255]

  test('three bytes make a flat block of sixteen', () => {
    const packed = Uint8Array.from([...top(one[0]), 0xfc])
    expect(halvesOf(unpackB44(packed, shape(4, 4, channel('half'))))).toEqual(Array(16).fill(0x3c00))
  })

  test('fourteen bytes hold a value and fifteen differences around a bias of 32', () => {
    // Shift 0, first difference +1 (33), the others 0 (32): bits 000000 100001 100000 ...
    const differences = [33, ...Array(14).fill(32)]
    const bits = [0, ...differences].map((d) => d.toString(2).padStart(6, '0')).join('')
    const packed = Uint8Array.from([...top(one[0]), ...(bits.match(/.{8}/g) ?? []).map((b) => parseInt(b, 2))])
    expect(packed).toHaveLength(14)
    const block = halvesOf(unpackB44(packed, shape(4, 4, channel('half'))))
    // The first difference goes one row down; all rows below and to the right of it follow.
    expect(block.slice(0, 4)).toEqual(Array(4).fill(0x3c00))
    expect(block.slice(4)).toEqual(Array(12).fill(0x3c01))
  })

  test('negative halves come back negative', () => {
    const stored = ~0xbc00 & 0xffff
    const packed = Uint8Array.from([...top(stored), 0xfc])
    expect(halfToFloat(halvesOf(unpackB44(packed, shape(1, 1, channel('half'))))[0])).toBe(-1)
  })

  test('a perceptually linear channel holds exp(x / 8)', () => {
    const stored = floatToHalf(Math.exp(2 / 8)) | 0x8000
    const packed = Uint8Array.from([...top(stored), 0xfc])
    expect(halfToFloat(halvesOf(unpackB44(packed, shape(1, 1, channel('half', true))))[0])).toBeCloseTo(2, 2)
  })

  test('cut and overlong blocks are refused', () => {
    expect(() => unpackB44(Uint8Array.of(1, 2), shape(4, 4, channel('half')))).toThrow(BadBlock)
    expect(() => unpackB44(Uint8Array.of(1, 2, 3, 4), shape(4, 4, channel('half')))).toThrow(BadBlock)
    expect(() => unpackB44(Uint8Array.of(1, 2, 0xfc, 0), shape(4, 4, channel('half')))).toThrow('wrong length')
    expect(() => unpackB44(new Uint8Array(3), shape(2, 1, channel('float')))).toThrow('a channel is cut')
  })
})

describe('PXR24', () => {
  test('halves: high bytes, then low bytes, of differences', () => {
    const values = [0x3c00, 0x3c05, 0x3bff]
    const differences = values.map((v, i) => (v - (values[i - 1] ?? 0)) & 0xffff)
    const inflated = Uint8Array.from([...differences.map((d) => d >> 8), ...differences.map((d) => d & 255)])
    expect(halvesOf(unpackPxr24(inflated, shape(3, 1, channel('half'))))).toEqual(values)
  })

  test('floats have three bytes, their lowest is 0', () => {
    expect(pxr24Bytes(shape(5, 2, channel('float'), channel('half'), channel('uint')))).toBe(5 * 2 * (3 + 2 + 4))
    const bits = new Uint32Array(Float32Array.of(0.5).buffer)[0]
    const inflated = Uint8Array.of(bits >>> 24, (bits >>> 16) & 255, (bits >>> 8) & 255)
    expect([...new Float32Array(unpackPxr24(inflated, shape(1, 1, channel('float'))).buffer)]).toEqual([0.5])
  })

  test('a wrong length is refused', () => {
    expect(() => unpackPxr24(new Uint8Array(5), shape(3, 1, channel('half')))).toThrow(BadBlock)
  })
})

describe('PIZ', () => {
  test('a block of zeros is a few bytes, and comes back', () => {
    const flat = shape(64, 32, channel('half'))
    const packed = packPiz(new Uint8Array(64 * 32 * 2), flat)
    expect(packed.length).toBeLessThan(60)
    expect(unpackPiz(packed, flat).every((byte) => byte === 0)).toBe(true)
  })

  test('cut anywhere it is refused', () => {
    const noisy = shape(16, 8, channel('half'))
    const packed = packPiz(
      Uint8Array.from({ length: 256 }, (_, i) => (i * 37) & 255),
      noisy,
    )
    for (let length = 0; length < packed.length; length++)
      expect(() => unpackPiz(packed.subarray(0, length), noisy)).toThrow(BadBlock)
  })
})

describe('writing', () => {
  const window = { x: 0, y: 0, width: 4, height: 4 }
  const part = (change: Partial<ExrPartToWrite> = {}): ExrPartToWrite => ({
    dataWindow: window,
    displayWindow: window,
    planes: [madeUpPlane('Y', 'half', window)],
    ...change,
  })
  const write = (...parts: ExrPartToWrite[]) => writeExr(parts, { compression: 'zip', deflate })

  test.each([
    ['no parts', [], /at least one part/],
    ['two parts without names', [part(), part()], /need names/],
    ['two parts of one name', [part({ name: 'a' }), part({ name: 'a' })], /each a different one/],
    [
      'a plane that does not fill its window',
      [part({ dataWindow: { ...window, width: 5 } })],
      /has 16 samples; its data window has 20/,
    ],
    [
      'two channels of one name',
      [part({ planes: [madeUpPlane('Y', 'half', window), madeUpPlane('Y', 'half', window)] })],
      /each with a name of its own/,
    ],
    ['no channels', [part({ planes: [] })], /needs channels/],
  ])('%s is refused', async (_name, parts, message) => {
    await expect(write(...parts)).rejects.toThrow(message)
  })

  test('channels stand in the order of their names, and further attributes arrive', async () => {
    const planes = ['R', 'A', 'depth.Z', 'G', 'B'].map((name) => madeUpPlane(name, 'half', window))
    const bytes = await write(part({ planes, attributes: new Map([['comments', text('dusk')]]) }))
    const { parts } = await readExrHeader(bytesSource(bytes, 'x.exr'))
    expect(parts[0].channels.map((c) => c.name)).toEqual(['A', 'B', 'G', 'R', 'depth.Z'])
    expect(new TextDecoder().decode(parts[0].attributes.get('comments')?.bytes)).toBe('dusk')
  })
})
