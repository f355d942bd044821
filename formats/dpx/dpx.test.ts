import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { DamagedDpxError, readDpx, readDpxHeader, UnsupportedDpxError, writeDpx, type Bits, type Packing } from '.'

const folder = mkdtempSync(join(tmpdir(), 'enkrasis-dpx-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))

const size = { width: 7, height: 5 }
const count = size.width * size.height

/** Planes of code values that differ in every pixel and channel. */
function codesFor(bits: Bits, channels: number): Float32Array[] {
  const most = 2 ** bits - 1
  return Array.from({ length: channels }, (_, c) =>
    Float32Array.from({ length: count }, (_, i) => ((i * 2654435761 + c * 40503) % (most + 1)) / most),
  )
}

const layouts = (['packed', 'filled-a', 'filled-b'] as const).flatMap((packing) =>
  ([8, 10, 12, 16] as const).flatMap((bits) =>
    ([1, 3, 4] as const).flatMap((channels) =>
      [false, true].map((littleEndian) => ({ packing, bits, channels, littleEndian })),
    ),
  ),
)

test.each(layouts)('every code value comes back: %o', ({ packing, bits, channels, littleEndian }) => {
  const planes = codesFor(bits, channels)
  const bytes = writeDpx(size, planes, { bits, packing, littleEndian })
  const { planes: back } = readDpx(bytes, 'some.dpx')
  expect(back.map(({ name }) => name)).toEqual(channels === 1 ? ['Y'] : ['R', 'G', 'B', 'A'].slice(0, channels))
  back.forEach(({ samples }, c) => expect([...samples]).toEqual([...planes[c]]))
  // The same code values give the same file again, bit for bit.
  const again = writeDpx(
    size,
    back.map(({ samples }) => samples as Float32Array),
    { bits, packing, littleEndian },
  )
  expect(Buffer.from(again).equals(Buffer.from(bytes))).toBe(true)
})

test('all 1024 code values of 10 bits survive being shares of the largest', () => {
  const ramp = Float32Array.from({ length: 1024 }, (_, i) => i / 1023)
  const bytes = writeDpx({ width: 1024, height: 1 }, [ramp, ramp, ramp], { bits: 10 })
  expect([...readDpx(bytes, 'ramp.dpx').planes[1].samples].map((v) => Math.round(v * 1023))).toEqual(
    Array.from({ length: 1024 }, (_, i) => i),
  )
})

test('what lies outside 0..1 is held to it', () => {
  const plane = Float32Array.from([-1, 2, 0.5])
  const bytes = writeDpx({ width: 3, height: 1 }, [plane, plane, plane], { bits: 10 })
  expect([...readDpx(bytes, 'held.dpx').planes[0].samples]).toEqual([0, 1, Math.fround(512 / 1023)])
})

test('the header says rate, aspect, transfer and size', () => {
  const planes = codesFor(10, 3)
  const header = readDpxHeader(
    writeDpx(size, planes, { bits: 10, transfer: 'density', rate: 23.976, pixelAspect: 2 }),
    'x',
  )
  expect(header).toMatchObject({ ...size, bits: 10, transfer: 'density', low: 95, high: 685, pixelAspect: 2 })
  expect(header.rate).toBeCloseTo(23.976, 4)
  expect(readDpxHeader(writeDpx(size, planes, { bits: 10 }), 'x').rate).toBeNull()
})

describe('beside an independent program', () => {
  const through = (bits: Bits, packing: Packing, littleEndian: boolean) => {
    const path = join(folder, `${bits}-${packing}-${littleEndian}.dpx`)
    const planes = codesFor(bits, 3)
    writeFileSync(path, writeDpx(size, planes, { bits, packing, littleEndian }))
    return { path, planes }
  }

  test.each([
    [10, 'filled-a', false],
    [10, 'filled-a', true],
    [16, 'packed', false],
    [16, 'packed', true],
    [8, 'packed', false],
  ] as const)('what is written (%d bits, %s, little endian %s) is read the same by ffmpeg', (bits, packing, little) => {
    const { path, planes } = through(bits, packing, little)
    const format = bits === 8 ? 'rgb24' : bits === 10 ? 'gbrp10le' : 'rgb48le'
    const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', path, '-f', 'rawvideo', '-pix_fmt', format, '-'])
    const at = (c: number, i: number) => {
      if (bits === 8) return raw[i * 3 + c]
      if (bits === 16) return raw.readUInt16LE((i * 3 + c) * 2)
      return raw.readUInt16LE(([2, 0, 1][c] * count + i) * 2)
    }
    for (let c = 0; c < 3; c++)
      for (let i = 0; i < count; i++) expect(at(c, i)).toBe(Math.round(planes[c][i] * (2 ** bits - 1)))
  })

  test('what oiiotool writes with 10 bits is read here', () => {
    const path = join(folder, 'theirs.dpx')
    execFileSync('oiiotool', [
      '--pattern',
      'fill:topleft=0.1,0.5,0.9:topright=1,0,0.25:bottomleft=0,0,0:bottomright=1,1,1',
      '64x32',
      '3',
      '-d',
      'uint10',
      '-o',
      path,
    ])
    const { planes, dataWindow } = readDpx(new Uint8Array(readFileSync(path)), 'theirs.dpx')
    expect(dataWindow).toEqual({ x: 0, y: 0, width: 64, height: 32 })
    expect(planes[0].samples[0]).toBeCloseTo(0.1, 2)
    expect(planes[1].samples[0]).toBeCloseTo(0.5, 2)
    expect(planes[2].samples[63]).toBeCloseTo(0.25, 2)
    expect(planes[0].samples[64 * 32 - 1]).toBe(1)
  })
})

describe('bad files', () => {
  const good = writeDpx(size, codesFor(10, 3), { bits: 10 })
  const changed = (at: number, value: number) => {
    const bytes = good.slice()
    bytes[at] = value
    return bytes
  }

  test('say in a sentence what is wrong and what to do', () => {
    const read = (bytes: Uint8Array) => () => readDpx(bytes, 'plate.1001.dpx')
    expect(read(new Uint8Array(0))).toThrow('Reading plate.1001.dpx: it ends inside its header. Copy or export')
    expect(read(changed(0, 65))).toThrow('does not begin as a DPX file does')
    expect(read(good.subarray(0, good.length - 30))).toThrow('it ends after 3 of its 5 lines')
    expect(read(changed(803, 14))).toThrow(UnsupportedDpxError)
    expect(read(changed(800, 100))).toThrow('its picture element is of kind 100')
    expect(read(changed(807, 1))).toThrow('it is run-length encoded')
  })

  test('any bytes give a picture or one of the two errors, never anything else', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(2200), fc.nat(255)), { maxLength: 12 }),
        fc.nat(good.length),
        (changes, cut) => {
          const bytes = good.slice(0, cut)
          for (const [at, value] of changes) if (at < bytes.length) bytes[at] = value
          try {
            readDpx(bytes, 'fuzzed.dpx')
          } catch (error) {
            expect(error instanceof DamagedDpxError || error instanceof UnsupportedDpxError).toBe(true)
          }
        },
      ),
    )
  })
})
