import { writeFileSync } from 'node:fs'
import type { ObjectPass } from '../core/check'
import type { Plane } from '../core/image/planes'
import { text, writeExr, type RawAttribute } from '../formats/exr'
import { deflate } from './media/exr-blocks'
import { objectsInFile, type HowObjects } from './media/objects-in-file'
import { withFile } from './media/file-source'
import { pixelInFile } from './media/pixel-in-file'
import { smallShot } from '../core/test/small-shot'
import type { Source } from '../core/shot'
import { DataFolder } from './test/running-server'

/** Which objects a render names, from its files alone. */

const data = new DataFolder()
afterAll(() => data.remove())
const floatOf = (id: number) => new Float32Array(Uint32Array.of(id).buffer)[0]
const [bell, rope] = [0x3f2a91c7, 0x41bd00e3]
const window = { x: 0, y: 0, width: 8, height: 4 }
const plane = (name: string, of: (x: number) => number): Plane => ({
  name,
  type: 'float',
  samples: Float32Array.from({ length: 32 }, (_, i) => of(i % 8)),
})
const ranks = (id: (x: number) => number) => [
  plane('Thing00.R', id),
  plane('Thing00.G', (x) => (x < 6 ? 1 : 0.5)),
  plane('Thing00.B', (x) => (x < 6 ? 0 : floatOf(rope))),
  plane('Thing00.A', (x) => (x < 6 ? 0 : 0.5)),
  plane('Thing01.R', () => 0),
  plane('Thing01.G', () => 0),
  plane('Thing01.B', () => 0),
  plane('Thing01.A', () => 0),
]
const named = (more: Readonly<Record<string, string>>) =>
  new Map<string, RawAttribute>(
    Object.entries({ name: 'Thing', hash: 'MurmurHash3_32', ...more }).map(([key, value]) => [
      `cryptomatte/1a2b3c4/${key}`,
      text(value),
    ]),
  )
const manifest = JSON.stringify({ bell: '3f2a91c7', rope: '41bd00e3', crane: '00000abc' })

async function found(
  planes: readonly Plane[],
  attributes: ReadonlyMap<string, RawAttribute>,
  how: HowObjects = {},
): Promise<readonly ObjectPass[]> {
  const path = data.file('ids.exr')
  const sorted = [...planes].sort((a, b) => (a.name < b.name ? -1 : 1))
  writeFileSync(
    path,
    await writeExr([{ dataWindow: window, displayWindow: window, planes: sorted, attributes }], {
      compression: 'zip',
      deflate,
    }),
  )
  return withFile(path, 'ids.exr', (file) => objectsInFile(file, how))
}
const half = (x: number) => floatOf(x < 4 ? bell : rope)

test('ranked ids have the names of their manifest, those that cover most first', async () => {
  const [pass, ...others] = await found(ranks(half), named({ manifest }))
  expect(others).toEqual([])
  expect(pass).toMatchObject({ name: 'Thing', ranked: true, odd: null })
  expect(pass.layers).toEqual([
    { part: 'Thing00', channels: ['R', 'G', 'B', 'A'] },
    { part: 'Thing01', channels: ['R', 'G', 'B', 'A'] },
  ])
  expect(pass.objects.map(({ name, id }) => [name, id])).toEqual([
    ['bell', bell],
    ['rope', rope],
    ['crane', 0xabc],
  ])
  expect(pass.objects.map(({ share }) => share)).toEqual([0.5, expect.closeTo(0.5, 6), 0])
})

test('without a manifest ids are told as they are, and that is said', async () => {
  const [pass] = await found(ranks(half), named({}))
  expect(pass.objects.map(({ name }) => name)).toEqual(['3f2a91c7', '41bd00e3'])
  expect(pass.odd).toBe('It has no manifest, so its objects have no names.')
  const [beside] = await found(ranks(half), named({ manif_file: 'ids.json' }))
  expect(beside.odd).toBe(
    'Its manifest lies in ids.json, which cannot be read: files beside it are not read here. Till then its objects have no names.',
  )
  const [broken] = await found(ranks(half), named({ manifest: '{ "bell": ' }))
  expect(broken.odd).toContain('not JSON of names and ids')
})

test('a manifest in a file beside it is read, and said where it cannot be', async () => {
  const beside = (text: string) =>
    found(ranks(half), named({ manif_file: 'ids.json' }), { manifestBeside: async () => text })
  const [pass] = await beside(manifest)
  expect(pass.odd).toBeNull()
  expect(pass.objects.map(({ name }) => name)).toEqual(['bell', 'rope', 'crane'])
  const [broken] = await beside('bell')
  expect(broken.odd).toBe('Its manifest ids.json is not JSON of names and ids, so its objects have no names.')
})

test('at a pixel every object there is told with what it covers of it', async () => {
  const asked: unknown[] = []
  const [pass] = await found(ranks(half), named({ manifest }), {
    at: (file) => {
      asked.push(file.displayWindow)
      return [7, 2]
    },
  })
  expect(asked).toEqual([window])
  expect(pass.objects.map(({ name, here }) => [name, here])).toEqual([
    ['bell', undefined],
    ['rope', 1],
    ['crane', undefined],
  ])
  const [outside] = await found(ranks(half), named({ manifest }), { at: () => [8, 2] })
  expect(outside.objects.some(({ here }) => here !== undefined)).toBe(false)
})

test('the pixel of the file is the one that lies there: centred, or at half size', () => {
  const windows = {
    dataWindow: { x: -4, y: -2, width: 308, height: 154 },
    displayWindow: { x: 0, y: 0, width: 300, height: 150 },
  }
  const source = smallShot.sources.byId.cg
  const at = (changes: Partial<Source>, file = windows) =>
    pixelInFile(smallShot, { ...source, ...changes }, [21, 40])(file)
  expect(at({})).toEqual([21, 40])
  // A display window that is larger than the frame by 20 and 10 lies about its middle.
  expect(at({}, { ...windows, displayWindow: { x: 0, y: 0, width: 320, height: 160 } })).toEqual([31, 45])
  const half = {
    dataWindow: { x: 0, y: 0, width: 150, height: 75 },
    displayWindow: { x: 0, y: 0, width: 150, height: 75 },
  }
  expect(at({ enlarge: 2 }, half)).toEqual([10, 20])
})

test('a pass that was filtered is told from one that was not', async () => {
  const [pass] = await found(
    ranks((x) => floatOf(bell) + x * 1e-3),
    named({ manifest }),
  )
  expect(pass.odd).toMatch(
    /^\d+ % of what it covers is in no object of its manifest: the pass was scaled, filtered or stored as half floats/,
  )
  const [plain] = await found([plane('id', (x) => x / 3)], new Map())
  expect(plain.odd).toMatch(/^Many of its ids are no whole numbers/)
})

test('plain whole numbers are objects too; 0 is none', async () => {
  const [pass] = await found([plane('id', (x) => (x < 2 ? 0 : x < 7 ? 4 : 9))], new Map())
  expect(pass).toMatchObject({ ranked: false, odd: null, layers: [{ part: null, channels: ['id'] }] })
  expect(pass.objects).toEqual([
    { name: 'object 4', id: 4, share: expect.closeTo(0.625, 6) as number },
    { name: 'object 9', id: 9, share: expect.closeTo(0.125, 6) as number },
  ])
})

test('a picture without ids has none', async () => {
  expect(
    await found(
      ['A', 'B', 'G', 'R'].map((name) => plane(name, () => 0.5)),
      new Map(),
    ),
  ).toEqual([])
})
