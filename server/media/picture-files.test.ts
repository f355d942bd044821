import fc from 'fast-check'
import { bytesSource, writeExr } from '../../formats/exr'
import { writeDpx } from '../../formats/dpx'
import { packing } from './exr-blocks'
import { formatOf, readPicture, readPictureHeader } from './picture-files'
import { encodePicture } from './write-picture'

const window = { x: 0, y: 0, width: 4, height: 2 }
const plane = (name: string, value: number) => ({
  name,
  type: 'float' as const,
  samples: new Float32Array(8).fill(value),
})

describe('layers by name', () => {
  const file = async () =>
    bytesSource(
      await writeExr(
        [
          {
            dataWindow: window,
            displayWindow: window,
            planes: [
              ...['R', 'G', 'B', 'A'].map((name) => plane(name, 1)),
              ...['R', 'G', 'B'].map((name) => plane(`diffuse.${name}`, 2)),
              plane('light.key.R', 3),
              plane('depth.Z', 4),
            ],
          },
        ],
        { compression: 'zip', ...packing },
      ),
      'passes.exr',
    )

  test('channels of one part are passes: layer.channel', async () => {
    const { parts, says } = await readPictureHeader(await file())
    expect(parts.map(({ name, channels }) => [name, channels.map((channel) => channel.name)])).toEqual([
      [null, ['A', 'B', 'G', 'R']],
      ['depth', ['Z']],
      ['diffuse', ['B', 'G', 'R']],
      ['light.key', ['R']],
    ])
    expect(says.alpha).toBe('premultiplied')
  })

  test('a layer is read by its name, its channels without it', async () => {
    const read = async (part: string | null, names: readonly string[]) => {
      const { planes } = await readPicture(await file(), part, () => names)
      return planes.map(({ name, samples }) => [name, samples[0]])
    }
    expect(await read('diffuse', ['R', 'G', 'B'])).toEqual([
      ['R', 2],
      ['G', 2],
      ['B', 2],
    ])
    expect(await read('light.key', ['R'])).toEqual([['R', 3]])
    expect(await read(null, ['A'])).toEqual([['A', 1]])
    await expect(read('glow', ['R'])).rejects.toThrow(
      'passes.exr: it has no part "glow". Its parts are: 0, depth, diffuse, light.key.',
    )
  })
})

test.each([
  ['a.png', 16, 65535],
  ['a.png', 8, 255],
  ['a.tif', 16, 65535],
  ['a.dpx', 16, 65535],
  ['a.dpx', 12, 4095],
  ['a.dpx', 10, 1023],
])('%s with %d bits holds every code value that is asked of it', async (path, bits, most) => {
  await fc.assert(
    fc.asyncProperty(fc.array(fc.integer({ min: 0, max: most }), { minLength: 8, maxLength: 8 }), async (codes) => {
      const samples = Float32Array.from(codes, (code) => code / most)
      const planes = ['R', 'G', 'B'].map((name) => ({ name, type: 'float' as const, samples }))
      const bytes = await encodePicture(
        path,
        { dataWindow: window, displayWindow: window, planes, encoding: 'srgb' },
        bits,
      )
      const back = await readPicture(bytesSource(bytes, path), null, () => ['G'])
      expect([...back.planes[0].samples].map((v) => Math.round(v * most))).toEqual(codes)
    }),
    { numRuns: 10 },
  )
})

test('a grey picture stays grey, and alpha stays straight', async () => {
  const grey = { dataWindow: window, displayWindow: window, planes: [plane('Y', 0.5)], encoding: 'srgb' as const }
  const header = await readPictureHeader(bytesSource(await encodePicture('g.png', grey), 'g.png'))
  expect(header.parts[0].channels.map(({ name }) => name)).toEqual(['Y'])
  const rgba = { ...grey, planes: [plane('R', 0.5), plane('G', 0.25), plane('B', 1), plane('A', 0.5)] }
  const file = bytesSource(await encodePicture('a.png', rgba), 'a.png')
  expect((await readPictureHeader(file)).says.alpha).toBe('straight')
  const { planes } = await readPicture(file, null, () => ['R', 'A'])
  expect(planes.map(({ samples }) => samples[0])).toEqual([expect.closeTo(0.5, 4), expect.closeTo(0.5, 4)])
})

test('formats without a data window hold the display window: what is outside is left out, what is missing is 0', async () => {
  const data = { x: 2, y: -1, width: 4, height: 2 }
  const planes = ['R', 'G', 'B'].map((name) => plane(name, 1))
  const bytes = await encodePicture('w.dpx', { dataWindow: data, displayWindow: window, planes, encoding: 'linear' })
  const back = await readPicture(bytesSource(bytes, 'w.dpx'), null, () => ['R'])
  expect([...back.planes[0].samples]).toEqual([0, 0, 1, 1, 0, 0, 0, 0])
})

test('formats are told by their first bytes', async () => {
  const dpx = writeDpx(window, [new Float32Array(8)], { bits: 10, littleEndian: true })
  expect(await formatOf(bytesSource(dpx, 'any.exr'))).toBe('dpx')
  await expect(formatOf(bytesSource(new Uint8Array(0), 'x.exr'))).rejects.toThrow('x.exr is empty (0 bytes)')
  await expect(formatOf(bytesSource(new TextEncoder().encode('RIFF....'), 'x.wav'))).rejects.toThrow(/is not a picture/)
})
