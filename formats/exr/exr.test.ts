import fc from 'fast-check'
import {
  bytesSource,
  DamagedExrError,
  NotInExrError,
  readExr,
  readExrHeader,
  UnsupportedExrError,
  writeExr,
} from './index'
import { decodeHuffman, encodeHuffman } from './huffman'
import { decodeWavelet, encodeWavelet } from './wavelet'
import { packRuns, unpackRuns } from './rle'
import { plainReordering } from './byte-planes'
import { deflate, inflate, madeUpPlane } from './test/files'

const compressions = ['none', 'rle', 'zips', 'zip', 'piz'] as const
const window = { x: 10, y: -7, width: 33, height: 40 }
const planes = [
  madeUpPlane('B', 'half', window),
  madeUpPlane('R', 'half', window, 3),
  madeUpPlane('Z', 'float', window, 4),
]
const sample = (compression: (typeof compressions)[number]) =>
  writeExr([{ dataWindow: window, displayWindow: window, planes }], { compression, deflate })

describe('laws of the codecs', () => {
  test('byte planes come back for any bytes', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 300 }), (raw) => {
        expect(plainReordering.gather(plainReordering.spread(raw))).toEqual(raw)
      }),
    )
  })

  test('runs come back for any bytes', () => {
    const lumpy = fc
      .array(fc.tuple(fc.nat(3), fc.integer({ min: 1, max: 300 })))
      .map((runs) => Uint8Array.from(runs.flatMap(([v, n]) => Array(n).fill(v))))
    fc.assert(
      fc.property(fc.oneof(fc.uint8Array({ maxLength: 500 }), lumpy), (raw) =>
        expect(unpackRuns(packRuns(raw), raw.length)).toEqual(raw),
      ),
    )
  })

  test('the wavelet comes back for any words, size and largest word', () => {
    const any = fc.tuple(fc.integer({ min: 1, max: 17 }), fc.integer({ min: 1, max: 17 }), fc.boolean(), fc.integer())
    fc.assert(
      fc.property(any, ([width, height, wide, seed]) => {
        const largest = wide ? 65535 : 16383
        const words = new Uint16Array(width * height).map((_, i) => Math.imul(seed + i, 2654435761) & largest)
        const work = words.slice()
        const plane = { start: 0, width, height, step: 1, largest }
        encodeWavelet(work, plane)
        decodeWavelet(work, plane)
        expect(work).toEqual(words)
      }),
    )
  })

  test('Huffman codes come back for any words, also when a few are very common', () => {
    const skewed = fc.array(fc.oneof({ weight: 20, arbitrary: fc.constant(5) }, fc.nat(65535)), {
      minLength: 1,
      maxLength: 3000,
    })
    fc.assert(
      fc.property(skewed, (list) => {
        const words = Uint16Array.from(list)
        expect(decodeHuffman(encodeHuffman(words), words.length)).toEqual(words)
      }),
    )
  })

  test('codes longer than the decoding table come back', () => {
    const fibonacci: number[] = []
    for (let symbol = 0, a = 1, b = 1; symbol < 24; symbol++, [a, b] = [b, a + b])
      for (let i = 0; i < a; i++) fibonacci.push(symbol)
    const words = Uint16Array.from(fibonacci.map((_, i) => fibonacci[(i * 7919) % fibonacci.length]))
    expect(decodeHuffman(encodeHuffman(words), words.length)).toEqual(words)
  })
})

describe('files', () => {
  test('any mix of channels, types and windows comes back bit for bit', async () => {
    const anyWindow = fc.record({
      x: fc.integer({ min: -50, max: 50 }),
      y: fc.integer({ min: -50, max: 50 }),
      width: fc.integer({ min: 1, max: 40 }),
      height: fc.integer({ min: 1, max: 70 }),
    })
    const anyTypes = fc.uniqueArray(
      fc.record({
        name: fc.stringMatching(/^[a-z]{1,8}(\.[RGBA])?$/),
        type: fc.constantFrom('half' as const, 'float' as const, 'uint' as const),
      }),
      { minLength: 1, maxLength: 5, selector: (c) => c.name },
    )
    await fc.assert(
      fc.asyncProperty(
        anyWindow,
        anyTypes,
        fc.constantFrom(...compressions),
        fc.nat(),
        async (dataWindow, channels, compression, seed) => {
          const made = channels.map(({ name, type }) => madeUpPlane(name, type, dataWindow, seed))
          const bytes = await writeExr([{ dataWindow, displayWindow: dataWindow, planes: made }], {
            compression,
            deflate,
          })
          const back = await readExr(bytesSource(bytes, 'any.exr'), { inflate, channels: made.map((p) => p.name) })
          expect(back.planes).toEqual(made)
        },
      ),
      { numRuns: 60 },
    )
  })

  test('only the rows and channels asked for are read, in the order asked for', async () => {
    const bytes = await sample('zip')
    const part = await readExr(bytesSource(bytes, 'a.exr'), {
      inflate,
      channels: ['Z', 'B'],
      window: { x: 10, y: 8, width: 33, height: 3 },
    })
    expect(part.dataWindow).toEqual({ x: 10, y: 8, width: 33, height: 3 })
    expect(part.planes.map((p) => p.name)).toEqual(['Z', 'B'])
    const from = (8 + 7) * 33
    expect(part.planes[0].samples).toEqual(planes[2].samples.slice(from, from + 99))
    expect(part.planes[1].samples).toEqual(planes[0].samples.slice(from, from + 99))
  })

  test('reading one part of many touches little of the file', async () => {
    const large = { x: 0, y: 0, width: 400, height: 300 }
    const parts = Array.from({ length: 10 }, (_, i) => ({
      name: `pass${i}`,
      dataWindow: large,
      displayWindow: large,
      planes: [madeUpPlane('R', 'half', large, i)],
    }))
    const bytes = await writeExr(parts, { compression: 'none', deflate })
    let touched = 0
    const memory = bytesSource(bytes, 'many.exr')
    const counting = {
      ...memory,
      read: (offset: number, length: number) => ((touched += length), memory.read(offset, length)),
    }
    const found = await readExr(counting, { inflate, part: 'pass7' })
    expect(found.planes[0].samples).toEqual(parts[7].planes[0].samples)
    expect(touched).toBeLessThan(bytes.length * 0.2)
  })

  test('an absent part, channel or row says what there is', async () => {
    const source = bytesSource(await sample('zip'), 'bell.1001.exr')
    await expect(readExr(source, { inflate, part: 'depth' })).rejects.toThrow(NotInExrError)
    await expect(readExr(source, { inflate, channels: ['G'] })).rejects.toThrow(
      'bell.1001.exr: its part "0" has no channel "G". It has: B, R, Z.',
    )
    await expect(readExr(source, { inflate, window: { x: 10, y: 90, width: 9, height: 9 } })).rejects.toThrow(
      'it has no pixels at 10, 90 to 18, 98. Its pixels are 10, -7 to 42, 32.',
    )
  })
})

describe('files that cannot be used', () => {
  test('no EXR, empty, cut in the header', async () => {
    const read = (bytes: Uint8Array) => readExrHeader(bytesSource(bytes, 'x.exr'))
    await expect(read(new Uint8Array(0))).rejects.toThrow('x.exr: the file is empty')
    await expect(read(new Uint8Array(4000))).rejects.toThrow('not an EXR file')
    await expect(read((await sample('zip')).subarray(0, 60))).rejects.toThrow(/ends inside its header/)
  })

  test('a frame whose render stopped half-way names the rows', async () => {
    const bytes = await sample('zip')
    await expect(readExr(bytesSource(bytes.subarray(0, bytes.length - 200), 'x.exr'), { inflate })).rejects.toThrow(
      /rows 25 to 32 cannot be read: the file ends/,
    )
  })

  test('subsampled channels, deep data and DWA are refused by name', async () => {
    const header = await sample('none')
    const find = (text: string) => Buffer.from(header).indexOf(text)
    const subsampled = header.slice()
    subsampled[find('B\0') + 2 + 8] = 2
    await expect(readExr(bytesSource(subsampled, 'x.exr'), { inflate })).rejects.toThrow(
      'its channel "B" is subsampled (2x1)',
    )
    const dwa = header.slice()
    dwa[find('compression\0compression\0') + 28] = 8
    await expect(readExr(bytesSource(dwa, 'x.exr'), { inflate })).rejects.toThrow(
      /compressed with DWAA.*Write it with ZIP or PIZ/,
    )
    const deep = header.slice()
    deep[5] |= 8
    await expect(readExr(bytesSource(deep, 'x.exr'), { inflate })).rejects.toThrow(UnsupportedExrError)
  })

  test('an impossible size is refused before anything is allocated', async () => {
    const bytes = (await sample('zip')).slice()
    const at = Buffer.from(bytes).indexOf('dataWindow\0box2i\0') + 21
    new DataView(bytes.buffer).setInt32(at + 8, 900_000_000, true)
    const before = process.memoryUsage().arrayBuffers
    await expect(readExr(bytesSource(bytes, 'x.exr'), { inflate })).rejects.toThrow(
      /claims 89999999\dx40 pixels, more than its \d+ bytes can hold/,
    )
    expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(10 << 20)
  })

  test.each(compressions)(
    '%s: flipped and cut bytes give the picture or a typed error, never anything else',
    async (compression) => {
      const file = await sample(compression)
      const flips = fc.array(fc.tuple(fc.nat(file.length - 1), fc.integer({ min: 1, max: 255 })), {
        minLength: 1,
        maxLength: 6,
      })
      await fc.assert(
        fc.asyncProperty(flips, fc.option(fc.nat(file.length)), async (changes, cut) => {
          const bytes = file.slice(0, cut ?? file.length)
          for (const [at, change] of changes) if (at < bytes.length) bytes[at] ^= change
          try {
            const back = await readExr(bytesSource(bytes, 'hurt.1001.exr'), { inflate })
            for (const plane of back.planes)
              expect(plane.samples.length).toBe(back.dataWindow.width * back.dataWindow.height)
          } catch (error) {
            const typed =
              error instanceof DamagedExrError || error instanceof UnsupportedExrError || error instanceof NotInExrError
            if (!typed) throw error
            expect((error as Error).message).toContain('hurt.1001.exr')
          }
        }),
        { numRuns: 400 },
      )
    },
  )
})
