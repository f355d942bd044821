import { bytesSource, readExr, readExrHeader, standardAttributes, writeExr, type WritableCompression } from './index'
import type { Plane } from '../../core/image/planes'
import { ScratchFolder, deflate, inflate, madeUpPlane, run } from './test/files'

/** Debian's OpenImageIO and OpenEXR programs agree with this reader and writer, both directions, bit for bit. */

const folder = new ScratchFolder()
afterAll(() => folder.remove())

const window = { x: -5, y: 3, width: 67, height: 83 }
const display = { x: 0, y: 0, width: 64, height: 80 }
const rgba = ['A', 'B', 'G', 'R'].map((name, i) => madeUpPlane(name, 'half', window, i + 1))
const writable: WritableCompression[] = ['none', 'rle', 'zips', 'zip', 'piz']

const read = (name: string, part?: number) => readExr(bytesSource(folder.read(name), name), { inflate, part })

function expectSame(found: readonly Plane[], wanted: readonly Plane[]): void {
  const byName = (planes: readonly Plane[]) => [...planes].sort((a, b) => (a.name < b.name ? -1 : 1))
  expect(byName(found).map((p) => [p.name, p.type])).toEqual(byName(wanted).map((p) => [p.name, p.type]))
  byName(found).forEach((plane, i) =>
    expect(Buffer.from(plane.samples.buffer).equals(Buffer.from(byName(wanted)[i].samples.buffer))).toBe(true),
  )
}

describe('what is written here, read by the judges', () => {
  test.each(writable)('%s half RGBA with a data window that starts left of the frame', async (compression) => {
    folder.write(
      'ours.exr',
      await writeExr([{ dataWindow: window, displayWindow: display, planes: rgba }], { compression, deflate }),
    )
    run('oiiotool', folder.file('ours.exr'), '--compression', 'none', '-o', folder.file('theirs.exr'))
    const back = await read('theirs.exr')
    expect(back.dataWindow).toEqual(window)
    expect(back.displayWindow).toEqual(display)
    expectSame(back.planes, rgba)
  })

  test.each(writable)('%s float layers beside halves, in several parts', async (compression) => {
    const depth = [madeUpPlane('depth.Z', 'float', window)]
    const parts = [
      { name: 'beauty', dataWindow: window, displayWindow: display, planes: rgba },
      { name: 'depth', dataWindow: window, displayWindow: display, planes: depth },
    ]
    folder.write('ours.exr', await writeExr(parts, { compression, deflate }))
    run('oiiotool', '-a', folder.file('ours.exr'), '--compression', 'none', '-o', folder.file('theirs.exr'))
    expectSame((await read('theirs.exr', 0)).planes, rgba)
    expectSame((await read('theirs.exr', 1)).planes, depth)
  })

  test('the standard attributes arrive', async () => {
    const standard = {
      chromaticities: { red: [0.713, 0.293], green: [0.165, 0.83], blue: [0.128, 0.044], white: [0.32168, 0.33767] },
      framesPerSecond: { numerator: 24000, denominator: 1001 },
      timeCode: { timeAndFlags: 0x01020304, userData: 0 },
      pixelAspectRatio: 2,
    } as const
    const part = { dataWindow: display, displayWindow: display, planes: [madeUpPlane('Y', 'half', display)], standard }
    const file = folder.write('ours.exr', await writeExr([part], { compression: 'zip', deflate }))
    const said = run('exrheader', file)
    expect(said).toContain('framesPerSecond (type rational): 24000/1001')
    expect(said).toContain('pixelAspectRatio (type float): 2')
    expect(said).toMatch(/white \(0\.3216\d*[ ,]/)
    expect(said).toMatch(/time 01:02:03:04/)
    const back = standardAttributes((await readExrHeader(bytesSource(folder.read('ours.exr'), 'ours.exr'))).parts[0])
    expect(back.framesPerSecond).toEqual(standard.framesPerSecond)
    expect(back.timeCode).toEqual(standard.timeCode)
    expect(back.pixelAspectRatio).toBe(2)
    expect(back.chromaticities?.red[0]).toBeCloseTo(0.713, 6)
  })

  test('names longer than 31 bytes are taken', async () => {
    const name = 'a pass with a name that is longer than the old limit.R'
    const part = { dataWindow: display, displayWindow: display, planes: [madeUpPlane(name, 'half', display)] }
    const file = folder.write('ours.exr', await writeExr([part], { compression: 'zip', deflate }))
    expect(run('exrheader', file)).toContain(name)
  })
})

describe('what the judges write, read here', () => {
  beforeAll(async () => {
    const float = ['B', 'G', 'R'].map((name, i) => madeUpPlane(name, 'float', window, i + 1))
    const uint = [madeUpPlane('id', 'uint', window)]
    const write = async (name: string, planes: Plane[]) =>
      folder.write(
        name,
        await writeExr([{ dataWindow: window, displayWindow: display, planes }], { compression: 'none', deflate }),
      )
    await write('half.exr', rgba)
    await write('float.exr', float)
    await write('uint.exr', uint)
  })

  /** The judge writes it with the codec, and reads its own file back without one: both must be what is read here. */
  async function expectAgreement(from: string, ...options: string[]) {
    run('oiiotool', folder.file(from), ...options, '-o', folder.file('packed.exr'))
    run('oiiotool', folder.file('packed.exr'), '--compression', 'none', '--scanline', '-o', folder.file('plain.exr'))
    const packed = await read('packed.exr')
    const plain = await read('plain.exr')
    expect(packed.dataWindow).toEqual(plain.dataWindow)
    expectSame(packed.planes, plain.planes)
  }

  const codecs = ['none', 'rle', 'zips', 'zip', 'piz', 'pxr24', 'b44', 'b44a']
  test.each(codecs)('%s scan lines of halves', (codec) => expectAgreement('half.exr', '--compression', codec))
  test.each(codecs)('%s scan lines of floats', (codec) => expectAgreement('float.exr', '--compression', codec))
  test.each(codecs)('%s tiles of halves', (codec) =>
    expectAgreement('half.exr', '--compression', codec, '--tile', '16', '24'),
  )
  test.each(codecs)('%s unsigned integers', (codec) => expectAgreement('uint.exr', '--compression', codec))

  test.each(['-m', '-r'])('the full level of a file with reduced levels (exrmaketiled %s)', async (levels) => {
    run('exrmaketiled', levels, '-t', '16', '16', '-z', 'zip', folder.file('half.exr'), folder.file('levels.exr'))
    expectSame((await read('levels.exr')).planes, rgba)
  })

  test('tiles in several parts', async () => {
    run(
      'oiiotool',
      folder.file('half.exr'),
      folder.file('float.exr'),
      '--siappend',
      '--tile',
      '16',
      '16',
      '--compression',
      'zip',
      '-o',
      folder.file('parts.exr'),
    )
    const header = await readExrHeader(bytesSource(folder.read('parts.exr'), 'parts.exr'))
    expect(header.parts.map((part) => part.tiles !== null)).toEqual([true, true])
    expectSame((await read('parts.exr', 0)).planes, rgba)
    run('oiiotool', folder.file('float.exr'), '--compression', 'none', '-o', folder.file('plain.exr'))
    expectSame((await read('parts.exr', 1)).planes, (await read('plain.exr')).planes)
  })

  test('each sample has the value that the judge prints', async () => {
    run(
      'oiiotool',
      folder.file('half.exr'),
      '--cut',
      '4x3+2+5',
      '--ch',
      'R',
      '-d',
      'half',
      '--compression',
      'piz',
      '-o',
      folder.file('cut.exr'),
    )
    const printed = [...run('oiiotool', '--dumpdata', folder.file('cut.exr')).matchAll(/\): +([\d.e+-]+)/g)].map((m) =>
      Number(m[1]),
    )
    const alpha = rgba[3].samples
    const wanted: number[] = []
    const { halfToFloat } = await import('../../core/image/half')
    for (let y = 5; y < 8; y++)
      for (let x = 2; x < 6; x++) wanted.push(halfToFloat(alpha[(y - window.y) * window.width + x - window.x]))
    expect(printed).toHaveLength(12)
    printed.forEach((value, i) => expect(value).toBeCloseTo(wanted[i], 5))
    const ours = await read('cut.exr')
    expect([...ours.planes[0].samples].map((h) => halfToFloat(h))).toEqual(wanted)
  })
})
