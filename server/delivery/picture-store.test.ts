import { mkdtempSync, readdirSync, rmSync, truncateSync, utimesSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { PictureStore } from './picture-store'

const folder = mkdtempSync(join(tmpdir(), 'enkrasis-store-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))
const picture = (value: number) => new Uint16Array(1000).fill(value)

test('what was stored comes back bit for bit; another key has nothing', async () => {
  const store = new PictureStore(folder)
  await store.set('a', picture(7))
  expect(await store.get('a', 1000)).toEqual(picture(7))
  expect(await store.get('b', 1000)).toBeNull()
})

test('a file that was cut or changed counts as absent', async () => {
  const store = new PictureStore(folder)
  await store.set('cut', picture(1))
  const [path] = readdirSync(folder).map((name) => join(folder, name))
  expect(await store.get('cut', 999)).toBeNull()
  writeFileSync(path, Buffer.alloc(2020))
  truncateSync(path, 2020)
  const found = [await store.get('a', 1000), await store.get('cut', 1000)]
  expect(found.filter((one) => one === null)).toHaveLength(1)
})

test('the pictures used longest ago are removed first', async () => {
  const own = mkdtempSync(join(tmpdir(), 'enkrasis-store-'))
  const store = new PictureStore(own, 2 * 2020)
  await store.set('first', picture(1))
  for (const name of readdirSync(own)) utimesSync(join(own, name), new Date(0), new Date(0))
  await store.set('second', picture(2))
  await store.set('third', picture(3))
  expect(await store.get('first', 1000)).toBeNull()
  expect(await store.get('second', 1000)).toEqual(picture(2))
  expect(await store.get('third', 1000)).toEqual(picture(3))
  rmSync(own, { recursive: true, force: true })
})
