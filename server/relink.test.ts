import { appendFileSync, cpSync, mkdirSync, readdirSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Answers } from '../core/new-shot'
import { allOf, type MissingSource, type Shot } from '../core/shot'
import { firstFileAt } from './media/first-file'
import { ask, DataFolder, newDatabase, runServer, type RunningServer } from './test/running-server'

/** Media that were moved are found again by name, many at once, and told from others of the same name. */

const data = new DataFolder()
const media = join(data.path, 'media')
let server: RunningServer
let id: string

const missing = async () => (await ask<MissingSource[]>(server, `/api/shots/${id}/missing`)).body
const shotNow = async () => (await ask<{ shot: Shot; revision: number }>(server, `/api/shots/${id}`)).body

beforeAll(async () => {
  server = await runServer(await newDatabase(), data.path)
  for (const folder of ['plate', 'cg', 'matte'])
    cpSync(join(data.shot, folder), join(media, 'day-1', folder), { recursive: true })
  const paths = ['day-1']
  const { body } = await ask<{ answers: Answers }>(
    server,
    `/api/new-shot?${new URLSearchParams({ paths: JSON.stringify(paths) })}`,
  )
  id = (await ask<{ id: string }>(server, '/api/shots', { paths, answers: { ...body.answers, name: 'moved' } })).body.id
})
afterAll(async () => {
  await server.stop()
  data.remove()
})

test('a new shot notes what the first file of each source holds', async () => {
  const { shot } = await shotNow()
  for (const { path, frames, firstFile } of allOf(shot.sources)) {
    const file = join(media, 'day-1', path.replace(/#+/, String(frames?.first)))
    expect(firstFile).toEqual(await firstFileAt(file))
  }
  expect(await missing()).toEqual([])
})

test('what was moved is found, all of it at once, and used by one edit', async () => {
  renameSync(join(media, 'day-1'), join(media, 'archive-7'))
  const gone = await missing()
  expect(
    gone.map(({ found }) =>
      found.map(({ path, same, sentence }) => [path.split('/').slice(0, 2).join('/'), same, sentence]),
    ),
  ).toEqual(
    // The demo's own files lie beside it, with the same names and the same content.
    gone.map(() => [
      ['../archive-7', true, null],
      ['../quay-010', true, null],
    ]),
  )
  expect(gone.length).toBeGreaterThanOrEqual(3)
  const { revision } = await shotNow()
  const changes = gone.map(({ source, found: [{ path, firstFile }] }) => ({
    kind: 'set-source',
    source,
    changes: { path, firstFile },
  }))
  const edit = { id: 'relink-0001', baseRevision: revision, tab: 'test', edit: { kind: 'together', changes } }
  expect((await ask(server, `/api/shots/${id}/edits`, edit)).status).toBe(200)
  expect(await missing()).toEqual([])
})

test('two files of one size are told apart by their first and last bytes', async () => {
  const at = async (fill: (bytes: Buffer) => void) => {
    const bytes = Buffer.alloc(300_000, 7)
    fill(bytes)
    const file = join(data.path, 'piece.bin')
    writeFileSync(file, bytes)
    return (await firstFileAt(file))?.hash
  }
  const hashes = await Promise.all([
    await at(() => undefined),
    await at((bytes) => bytes.writeUInt8(8, 10)),
    await at((bytes) => bytes.writeUInt8(8, 299_990)),
  ])
  expect(new Set(hashes).size).toBe(3)
  expect(await firstFileAt(join(data.path, 'nowhere.bin'))).toBeNull()
})

test('files of the same name with other content are told apart, those of another range too; what is nowhere is said to be', async () => {
  for (const folder of ['archive-7', 'quay-010']) renameSync(join(media, folder), join(data.path, folder))
  expect((await missing()).every(({ found }) => found.length === 0)).toBe(true)
  mkdirSync(join(media, 'other'))
  const [plate] = readdirSync(join(data.path, 'archive-7/plate')).sort()
  for (const folder of ['plate', 'cg'])
    cpSync(join(data.path, 'archive-7', folder), join(media, 'other', folder), { recursive: true })
  appendFileSync(join(media, 'other/plate', plate), 'x')
  const cg = readdirSync(join(media, 'other/cg')).sort()
  rmSync(join(media, 'other/cg', cg[cg.length - 1]))
  const said = (await missing()).flatMap(({ name, found }) => found.map(({ same, sentence }) => [name, same, sentence]))
  expect(said).toContainEqual([
    'Plate',
    false,
    'These have the name of the files of Plate, but other content: frame 1001 is not the one that was there. Use them only if that is what you want.',
  ])
  expect(said.find(([, same]) => same === true)?.[2]).toMatch(
    /^These are frames 1001 to 1005; .+ had 1001 to 1006\. Its range stays, and what is missing is said on its frames\.$/,
  )
})
