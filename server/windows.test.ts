import { execFile } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import fc from 'fast-check'
import { channelsFor, frameAtScale, type SourceFrame } from '../core/engine/source-frame'
import { fileStep, type Scale } from '../core/graph/steps'
import { intersect, isEmpty, type Window } from '../core/image/window'
import type { WindowReading } from '../core/measure/window-statistics'
import { writeDpx } from '../formats/dpx'
import { writeExr } from '../formats/exr'
import { madeUpPlane, run as judge } from '../formats/exr/test/files'
import { packing } from './media/exr-blocks'
import { withFile } from './media/file-source'
import { readPicture } from './media/picture-files'
import { readSourceBounds, readSourceFrame } from './media/read-frame'
import { smallData } from './test/running-server'

/** A window of a file reads only what it needs, and gives the pixels that all of the file would give there. */

const folder = mkdtempSync(join(tmpdir(), 'enkrasis-windows-'))
const place = { roots: [folder], folder }
const dataWindow = { x: -5, y: 7, width: 150, height: 90 }
const displayWindow = { x: 0, y: 0, width: 160, height: 100 }
const planes = ['R', 'G', 'B', 'A'].map((name, c) => madeUpPlane(name, 'half', dataWindow, c + 1))

beforeAll(async () => {
  const exr = (compression: 'zip' | 'zips' | 'none' | 'piz') =>
    writeExr([{ dataWindow, displayWindow, planes }], { ...packing, compression })
  for (const compression of ['zip', 'zips', 'none', 'piz'] as const)
    writeFileSync(join(folder, `${compression}.exr`), await exr(compression))
  judge('exrmaketiled', '-o', '-t', '32', '24', '-z', 'zip', join(folder, 'zip.exr'), join(folder, 'tiles.exr'))
  const floats = ['R', 'G', 'B'].map((_, c) =>
    Float32Array.from({ length: 150 * 90 }, (_unused, i) => ((i * (c + 3)) % 1024) / 1023),
  )
  writeFileSync(join(folder, 'ten.dpx'), writeDpx({ width: 150, height: 90 }, floats, { bits: 10 }))
  const { default: sharp } = await import('sharp')
  await sharp({
    create: {
      width: 150,
      height: 90,
      channels: 3,
      background: 'green',
      noise: { type: 'gaussian', mean: 90, sigma: 30 },
    },
  })
    .png()
    .toFile(join(folder, 'eight.png'))
})
afterAll(() => rmSync(folder, { recursive: true, force: true }))

const around = { x: -20, y: -10, width: 200, height: 130 }
const anyWindow = fc
  .tuple(fc.nat(199), fc.nat(129), fc.integer({ min: 1, max: 60 }), fc.integer({ min: 1, max: 60 }))
  .map(([x, y, width, height]) => ({ x: around.x + x, y: around.y + y, width, height }))

function valueAt({ dataWindow: at, planes: all }: SourceFrame, plane: number, x: number, y: number): number {
  return all[plane].samples[(y - at.y) * at.width + x - at.x]
}

test.each(['zip.exr', 'zips.exr', 'none.exr', 'piz.exr', 'tiles.exr', 'ten.dpx', 'eight.png'])(
  '%s: any window, at any scale and wherever the file lies in the frame, has the pixels of all of it',
  async (name) => {
    const readings = fc.record({
      window: anyWindow,
      reduce: fc.constantFrom<Scale>(1, 2, 4),
      framing: fc.constantFrom('file' as const, 'centred' as const),
    })
    await fc.assert(
      fc.asyncProperty(readings, async ({ window, reduce, framing }) => {
        const alpha = name.endsWith('exr') ? ('premultiplied' as const) : ('none' as const)
        const claims = { encoding: name.endsWith('dpx') ? 'cineon' : 'linear', primaries: 'rec709', alpha } as const
        const { request } = fileStep(name, name, 'rgba', claims, 'rec709')
        const wanted = { ...request, reduce, framing, frameSize: { width: 171, height: 96 } }
        const all = await readSourceFrame(place, wanted)
        expect(await readSourceBounds(place, wanted)).toEqual(all.dataWindow)
        const inside = intersect(window, all.dataWindow)
        if (isEmpty(inside)) return
        const part = await readSourceFrame(place, wanted, inside)
        expect(part.bounds ?? part.dataWindow).toEqual(all.dataWindow)
        for (let y = inside.y; y < inside.y + inside.height; y++)
          for (let x = inside.x; x < inside.x + inside.width; x++)
            for (let c = 0; c < all.planes.length; c++)
              if (!Object.is(valueAt(part, c, x, y), valueAt(all, c, x, y)))
                throw new Error(`channel ${c} at ${x}, ${y}: ${valueAt(part, c, x, y)} is not ${valueAt(all, c, x, y)}`)
      }),
      { numRuns: 40 },
    )
  },
)

describe('of a 4096 x 2160 file', () => {
  const large = { x: 0, y: 0, width: 4096, height: 2160 }
  const path = join(folder, 'large.exr')
  const small: Window = { x: 2000, y: 1011, width: 32, height: 32 }
  const readSmall = async (name: string) => {
    const cost = { bytesRead: 0, blocks: 0, bytesUnpacked: 0, samples: 0 }
    await withFile(name, name, (file) =>
      readPicture(
        file,
        null,
        (there) =>
          channelsFor(
            {
              takes: 'rgba',
              claims: { encoding: 'linear', primaries: 'rec709', alpha: 'none' },
              path: name,
              part: null,
              channels: null,
            },
            there,
          ),
        {
          window: () => small,
          cost,
        },
      ),
    )
    return cost
  }

  test('32 x 32 pixels unpack three blocks of lines at most, and two tiles each way', async () => {
    const flat = (name: string) => ({ name, type: 'half' as const, samples: new Uint16Array(4096 * 2160).fill(0x3000) })
    const part = { dataWindow: large, displayWindow: large, planes: ['R', 'G', 'B'].map(flat) }
    writeFileSync(path, await writeExr([part], { ...packing, compression: 'zip' }))
    const lines = await readSmall(path)
    expect(lines.blocks).toBe(3)
    expect(lines).toMatchObject({ samples: 3 * 32 * 32, bytesUnpacked: 3 * 16 * 4096 * 3 * 2 })
    expect(lines.bytesRead).toBeLessThan(40_000)
    judge('exrmaketiled', '-o', '-t', '64', '64', '-z', 'zip', path, join(folder, 'large-tiles.exr'))
    expect((await readSmall(join(folder, 'large-tiles.exr'))).blocks).toBeLessThanOrEqual(4)
  })
})

test('the command line measures windows, and says what it read for them', async () => {
  const shot = join(smallData(), 'media/quay-010/quay-010.shot.json')
  const measure = (...args: string[]) =>
    promisify(execFile)('node', ['bin/enkrasis.mjs', 'measure', shot, '--threads', '2', ...args])
  const windows = ['--window', '300,90,32,32', '40,250,32,32']
  const { stdout, stderr } = await measure(...windows, '--frames', '1001-1003', '--json', '--stats')
  const lines = stdout
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as { frame: number; readings: WindowReading[] })
  expect(lines.map(({ frame }) => frame)).toEqual([1001, 1002, 1003])
  // The quay at the left is darker than the sky behind the bell, and grain varies from frame to frame.
  const mean = (frame: number, at: number) => lines[frame].readings[at].moments[1].mean
  expect(mean(0, 1)).toBeLessThan(mean(0, 0))
  expect(mean(0, 0)).not.toBe(mean(1, 0))
  const [, blocks] = /(\d+) blocks/.exec(stderr) ?? []
  // All of the files of three frames have more than 300.
  expect(Number(blocks)).toBeGreaterThan(0)
  expect(Number(blocks)).toBeLessThan(200)
  await expect(measure('--window', '1,2,3')).rejects.toMatchObject({
    stderr: expect.stringContaining('Write x,y,width,height in whole pixels'),
  })
})

test('a frame that is given as it is decoded has no part left out', async () => {
  const whole = frameAtScale(
    { dataWindow, displayWindow, planes, fileWindow: dataWindow },
    {
      claims: { encoding: 'linear', primaries: 'rec709', alpha: 'premultiplied' },
      working: 'rec709',
      takes: 'rgba',
      reduce: 1,
      framing: 'file',
      frameSize: displayWindow,
    },
  )
  expect(whole.bounds).toBeUndefined()
})
