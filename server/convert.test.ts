import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { basename, dirname, join } from 'node:path'
import { encode, type EncodingName } from '../core/colour'
import type { FrameRequest } from '../core/graph/steps'
import { floatToHalf, halfToFloat } from '../core/image/half'
import { localEngine } from '../core/test/local-engine'
import { readDpx, readDpxHeader, writeDpx } from '../formats/dpx'
import { writeExr } from '../formats/exr'
import { convert, type ConvertRequest } from './commands/convert-files'
import { packing } from './media/exr-blocks'
import { withFile } from './media/file-source'
import { readPicture, readPictureHeader } from './media/picture-files'
import { readSourceFrame } from './media/read-frame'

const folder = mkdtempSync(join(tmpdir(), 'enkrasis-convert-'))
const at = (name: string) => join(folder, name)
const engine = localEngine(1, (request: FrameRequest) =>
  readSourceFrame(
    { roots: [dirname(request.path)], folder: dirname(request.path) },
    { ...request, path: basename(request.path) },
  ),
)
afterAll(() => {
  engine.close()
  rmSync(folder, { recursive: true, force: true })
})

const asIs = { frames: null, from: null, to: null, fromPrimaries: null, toPrimaries: null } as const

async function through(input: string, output: string, options: Partial<ConvertRequest> = {}): Promise<string[]> {
  const written: string[] = []
  for await (const path of convert(engine, { ...asIs, ...options, input: at(input), output: at(output) }))
    written.push(basename(path))
  return written
}

const planesOf = (name: string) =>
  withFile(at(name), name, (file) =>
    readPicture(file, null, (there) => ['R', 'G', 'B', 'A'].filter((c) => there.includes(c))),
  )

const size = { width: 64, height: 16 }
const codes = Array.from({ length: 3 }, (_, c) =>
  Float32Array.from({ length: 1024 }, (_, i) => ((i + c * 300) % 1024) / 1023),
)
writeFileSync(at('all.dpx'), writeDpx(size, codes, { bits: 10, transfer: 'density', rate: 24 }))

test('DPX of 10 bits to EXR and back is bit for bit the same pixels', async () => {
  await through('all.dpx', 'all.exr', { bits: 32 })
  await through('all.exr', 'back.dpx')
  const bytes = (name: string) => readFileSync(at(name)).subarray(2048)
  expect(bytes('back.dpx').equals(bytes('all.dpx'))).toBe(true)
})

test('linear EXR to logarithmic DPX and back is within half a code value', async () => {
  const window = { x: 0, y: 0, ...size }
  const light = Float32Array.from({ length: 1024 }, (_, i) => 0.001 * 2 ** (i / 85))
  const planes = ['R', 'G', 'B'].map((name) => ({
    name,
    type: 'half' as const,
    samples: Uint16Array.from(light, floatToHalf),
  }))
  writeFileSync(
    at('light.exr'),
    await writeExr([{ dataWindow: window, displayWindow: window, planes }], { compression: 'zip', ...packing }),
  )
  for (const encoding of ['cineon', 'logc3', 'slog3', 'acescct'] as const satisfies readonly EncodingName[]) {
    await through('light.exr', 'log.dpx', { to: encoding })
    expect(readDpxHeader(readFileSync(at('log.dpx')), 'log.dpx').bits).toBe(10)
    await through('log.dpx', 'again.exr', { from: encoding, bits: 32 })
    const { planes: again } = await planesOf('again.exr')
    again[0].samples.forEach((value, i) => {
      const code = Math.min(1, Math.max(0, encode(encoding, halfToFloat(floatToHalf(light[i])))))
      expect(Math.abs(encode(encoding, value) - code) * 1023).toBeLessThanOrEqual(0.502)
    })
  }
})

test('a sequence keeps its numbers, and missing ones stay missing', async () => {
  for (const n of [1001, 1002, 1004]) writeFileSync(at(`run.${n}.dpx`), readFileSync(at('all.dpx')))
  expect(await through('run.####.dpx', 'out.#####.png')).toEqual(['out.01001.png', 'out.01002.png', 'out.01004.png'])
})

test('an independent program sees the same values in what was written', async () => {
  await through('all.dpx', 'sixteen.png', { from: 'linear', to: 'srgb' })
  const raw = execFileSync('ffmpeg', [
    '-v',
    'error',
    '-i',
    at('sixteen.png'),
    '-f',
    'rawvideo',
    '-pix_fmt',
    'rgb48le',
    '-',
  ])
  for (const i of [0, 10, 500, 1023])
    expect(Math.abs(raw.readUInt16LE(i * 6) / 65535 - encode('srgb', codes[0][i]))).toBeLessThan(2e-5)
})

test('primaries are converted by their matrix', async () => {
  await through('all.dpx', 'wide.exr', { from: 'linear', fromPrimaries: 'rec709', toPrimaries: 'rec2020', bits: 32 })
  const { planes } = await planesOf('wide.exr')
  const [r, g, b] = codes.map((plane) => plane[700])
  // First row of the matrix of ITU-R BT.2087.
  expect(planes[0].samples[700]).toBeCloseTo(0.6274 * r + 0.3293 * g + 0.0433 * b, 3)
})

test('a curve acts on straight colour: half covered grey stays the same grey', async () => {
  const window = { x: 0, y: 0, width: 1, height: 1 }
  const planes = Object.entries({ R: 0.09, G: 0.09, B: 0.09, A: 0.5 }).map(([name, value]) => ({
    name,
    type: 'float' as const,
    samples: Float32Array.of(value),
  }))
  writeFileSync(
    at('half.exr'),
    await writeExr([{ dataWindow: window, displayWindow: window, planes }], { compression: 'zip', ...packing }),
  )
  await through('half.exr', 'half.png', { to: 'srgb' })
  const { planes: written } = await planesOf('half.png')
  expect(written.map(({ samples }) => samples[0])).toEqual([
    ...[0, 0, 0].map(() => expect.closeTo(encode('srgb', 0.18), 4)),
    expect.closeTo(0.5, 4),
  ])
})

describe('what cannot be done says so', () => {
  test.each([
    ['all.dpx', 'all.gif', {}, /no extension that can be written/],
    ['all.dpx', 'all.####.exr', {}, /have a run of #/],
    ['all.dpx', 'all.dpx', {}, /OUT is IN/],
    ['nothing.###.exr', 'some.###.exr', {}, /There is no sequence/],
    ['all.dpx', 'all.png', { bits: 12 }, /cannot have 12 bits a sample. Use one of 16, 8/],
    ['absent.dpx', 'x.exr', {}, /absent.dpx does not exist/],
  ] as const)('%s to %s', async (input, output, options, sentence) => {
    await expect(through(input, output, options)).rejects.toThrow(sentence)
  })

  test('files of other kinds than their names say are read for what they are; others are refused with a sentence', async () => {
    writeFileSync(at('named.exr'), readFileSync(at('all.dpx')))
    expect((await withFile(at('named.exr'), 'named.exr', readPictureHeader)).format).toBe('dpx')
    const bad: readonly (readonly [string, Uint8Array, RegExp])[] = [
      ['empty.exr', new Uint8Array(0), /empty.exr is empty \(0 bytes\)/],
      ['text.png', Buffer.from('not a picture at all'), /text.png is not a picture that can be read here/],
      ['cut.png', readFileSync(at('sixteen.png')).subarray(0, 900), /Reading cut.png: it cannot be decoded/],
      ['cut.dpx', readFileSync(at('all.dpx')).subarray(0, 3000), /cut.dpx: it ends after 3 of its 16 lines/],
    ]
    for (const [name, bytes, sentence] of bad) {
      writeFileSync(at(name), bytes)
      await expect(through(name, 'never.exr')).rejects.toThrow(sentence)
    }
  })
})

test('a DPX that was cut is not taken for black', () => {
  const bytes = readFileSync(at('all.dpx'))
  expect(() => readDpx(bytes.subarray(0, bytes.length - 4), 'all.dpx')).toThrow('it ends after 15 of its 16 lines')
})
