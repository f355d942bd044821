import fc from 'fast-check'
import { byteReordering } from '../../core/kernels/byte-planes'
import { builtKernels } from '../../core/test/kernels'
import { bytesSource, plainReordering, readExr, writeExr } from '../../formats/exr'
import { madeUpPlane } from '../../formats/exr/test/files'
import { packing, unpacking } from './exr-blocks'

const kernels = byteReordering(builtKernels())

test('the kernels put any bytes in the same order as the plain way, there and back', () => {
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 300 }), (bytes) => {
      expect(kernels.spread(bytes)).toEqual(plainReordering.spread(bytes))
      expect(Uint8Array.from(kernels.gather(bytes))).toEqual(plainReordering.gather(bytes))
    }),
  )
  // more than the memory they begin with
  const long = Uint8Array.from({ length: 300_001 }, (_, i) => (i * i) >> 3)
  expect(Buffer.from(kernels.gather(kernels.spread(long))).equals(long)).toBe(true)
})

test.each(['rle', 'zips', 'zip'] as const)(
  '%s: files written and read with the kernels are the same',
  async (compression) => {
    const window = { x: -3, y: 5, width: 137, height: 50 }
    const planes = [
      madeUpPlane('A', 'half', window),
      madeUpPlane('B', 'half', window, 2),
      madeUpPlane('Z', 'float', window, 3),
    ]
    const write = (reordering = plainReordering) =>
      writeExr([{ dataWindow: window, displayWindow: window, planes }], {
        compression,
        deflate: packing.deflate,
        reordering,
      })
    const bytes = await write(kernels)
    expect(Buffer.from(bytes).equals(await write())).toBe(true)
    const read = await readExr(bytesSource(bytes, 'a.exr'), {
      inflate: unpacking.inflate,
      reordering: kernels,
      window: { x: -3, y: 20, width: 137, height: 30 },
      channels: ['Z', 'A'],
    })
    const cut = (from: (typeof planes)[number]) => from.samples.slice(15 * 137, 45 * 137)
    expect(read.planes.map(({ samples }) => samples)).toEqual([cut(planes[2]), cut(planes[0])])
  },
)
