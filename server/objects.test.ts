import { writeFileSync } from 'node:fs'
import type { ObjectPass } from '../core/check'
import type { Plane } from '../core/image/planes'
import { text, writeExr, type RawAttribute } from '../formats/exr'
import { deflate } from './media/exr-blocks'
import { objectsInFile } from './media/objects-in-file'
import { withFile } from './media/file-source'
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
  return withFile(path, 'ids.exr', objectsInFile)
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
  expect(beside.odd).toContain('(ids.json is not read)')
  const [broken] = await found(ranks(half), named({ manifest: '{ "bell": ' }))
  expect(broken.odd).toContain('not JSON of names and ids')
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
