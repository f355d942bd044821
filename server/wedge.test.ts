import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { encoder, encodingNames, type EncodingName } from '../core/colour'
import { rankEncodings } from '../core/measure/plausibility'
import { samplePixels, type PixelSample } from '../core/measure/sample'
import { readDpx, writeDpx } from '../formats/dpx'
import { bytesSource } from '../formats/exr'
import { readPicture } from './media/picture-files'

const folder = join(process.env.ENKRASIS_TEST_DATA ?? '', 'media/quay-010')
const read = async (name: string) =>
  samplePixels(await readPicture(bytesSource(readFileSync(join(folder, name)), name), null, () => ['R', 'G', 'B']))

/** Pixels of the demo plate written as a 10-bit DPX in an encoding, and read again. */
function written({ red, green, blue, count }: PixelSample, encoding: EncodingName): PixelSample {
  const planes = [red, green, blue].map((plane) => plane.map(encoder(encoding)))
  return samplePixels(readDpx(writeDpx({ width: count, height: 1 }, planes, { bits: 10 }), 'plate.dpx'), count)
}

const others = encodingNames.filter((name) => name !== 'linear')

test('the wedge names the right encoding first for the demo plate in at least 12 of 15, beside the clean plate', async () => {
  const plate = await read('plate/quay-010_plate.1003.exr')
  const trusted = await read('clean/quay-010_clean.exr')
  const right = others.filter(
    (encoding) => rankEncodings(written(plate, encoding), { trusted })[0].encoding === encoding,
  )
  console.log(`The right encoding comes first for ${right.length} of ${others.length}: ${right.join(' ')}`)
  expect(right.length).toBeGreaterThanOrEqual(12)
})

test('a grey patch alone puts the right encoding within a tenth of a stop of the best', async () => {
  const plate = await read('plate/quay-010_plate.1003.exr')
  for (const encoding of others) {
    const code = encoder(encoding)(0.18)
    const ranked = rankEncodings(written(plate, encoding), { grey: [code, code, code] })
    const own = ranked.find((candidate) => candidate.encoding === encoding)
    expect(own?.greyOff).toBeLessThan(0.02)
    expect((own?.cost ?? Infinity) - ranked[0].cost).toBeLessThan(0.1)
  }
})

test('with nothing to compare with, light is told from what is not light', async () => {
  const plate = await read('plate/quay-010_plate.1003.exr')
  const linearBeside = (sample: PixelSample) => {
    const ranked = rankEncodings(sample)
    return (ranked.find(({ encoding }) => encoding === 'linear')?.cost ?? 0) - ranked[0].cost
  }
  expect(linearBeside(plate)).toBe(0)
  for (const encoding of others)
    expect([encoding, linearBeside(written(plate, encoding)) > 0.5]).toEqual([encoding, true])
})
