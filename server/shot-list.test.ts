import { cpSync, mkdirSync, rmSync, writeFileSync } from 'node:fs'
import { randomUUID } from 'node:crypto'
import { join } from 'node:path'
import type { Answers, Proposal } from '../core/new-shot'
import type { Change, Shot } from '../core/shot'
import { addressOf, ask, DataFolder, newDatabase, runServer, type RunningServer } from './test/running-server'

/** The list of shots: making, copying, putting away, bringing back. */

const data = new DataFolder()
let server: RunningServer
beforeAll(async () => {
  server = await runServer(await newDatabase(), data.path)
})
afterAll(async () => {
  await server.stop()
  data.remove()
})

interface Line {
  readonly id: string
  readonly name: string
  readonly revision: number
  readonly author: string | null
  readonly archived: boolean
  readonly removed: boolean
  readonly fault: string | null
  readonly framesReady?: number
  readonly frames?: Shot['frames']
}
interface Proposed {
  readonly proposal: Proposal
  readonly answers: Answers
  readonly remarks: readonly string[]
}

const lines = async () => (await ask<{ shots: Line[] }>(server, '/api/shots')).body.shots
const line = async (name: string) => (await lines()).find((one) => one.name === name) as Line
const propose = (...paths: string[]) =>
  ask<Proposed & { message?: string }>(server, `/api/new-shot?${new URLSearchParams({ paths: JSON.stringify(paths) })}`)
const make = (paths: readonly string[], answers: Partial<Answers>, author?: string) =>
  ask<{ id: string; message?: string }>(server, '/api/shots', { paths, answers, author })
const document = async (id: string) => (await ask<{ shot: Shot }>(server, `/api/shots/${id}`)).body.shot
const edit = (id: string, change: Change, baseRevision: number, author?: string) =>
  ask<{ message?: string }>(server, `/api/shots/${id}/edits`, {
    ...{ id: randomUUID(), tab: 'a', edit: change, baseRevision, author },
  })

test('a folder of plate and render becomes a shot that renders', async () => {
  cpSync(join(data.shot, 'plate'), join(data.path, 'media', 'quay-040', 'plate'), { recursive: true })
  cpSync(join(data.shot, 'cg'), join(data.path, 'media', 'quay-040', 'cg'), { recursive: true })
  const { body } = await propose('quay-040')
  expect(body.remarks).toEqual([])
  expect(body.answers).toMatchObject({ name: 'quay-040', rate: { numerator: 24, denominator: 1 } })
  const { status, body: made } = await make(['quay-040'], body.answers, 'Ada')
  expect(status).toBe(201)
  // Nothing of the machine's own folders.
  expect(JSON.stringify(await lines())).not.toContain(data.path)
  expect(await line('quay-040')).toMatchObject({ revision: 1, author: 'Ada', framesReady: 6, fault: null })
  const shot = await document(made.id)
  expect(
    Object.values(shot.sources.byId)
      .map(({ path }) => path.split('/')[0])
      .sort(),
  ).toEqual(['cg', 'plate'])
  const picture = await fetch(await addressOf(server, '/api/shots/quay-040/thumbnail'))
  expect(picture.headers.get('content-type')).toBe('image/jpeg')
})

test('what cannot be is answered with a sentence, and nothing is made', async () => {
  const { answers } = (await propose('quay-040')).body
  const before = (await lines()).length
  expect((await make(['quay-040'], answers)).body.message).toMatch(/The name quay-040 is taken by another shot/)
  expect((await make(['quay-040'], { ...answers, name: 'Two Words' })).body.message).toMatch(/lower-case letters/)
  expect((await make(['quay-040'], { ...answers, name: 'other', handles: 3 })).body.message).toMatch(/leave nothing/)
  expect((await make(['quay-040'], { ...answers, name: 'other', plate: 'none' })).body.message).toMatch(
    /can be the plate/,
  )
  expect((await make([], answers)).body.message).toMatch(/at least one folder/)
  expect((await propose('nowhere')).body.message).toMatch(/does not exist/)
  expect((await lines()).length).toBe(before)
})

test('where files say no rate, the sequence’s other shots do; else it is the usual one', async () => {
  const folder = join(data.path, 'media', 'quay-041')
  mkdirSync(folder)
  writeFileSync(
    join(folder, 'a.png'),
    Buffer.from(
      await (
        await import('sharp')
      )
        .default({ create: { width: 64, height: 36, channels: 3, background: '#456' } })
        .png()
        .toBuffer(),
    ),
  )
  const { proposal } = (await propose('quay-041')).body
  expect(proposal).toMatchObject({ rate: { numerator: 24 }, rateFrom: 'as other shots of the sequence' })
  cpSync(folder, join(data.path, 'media', 'sea-001'), { recursive: true })
  expect((await propose('sea-001')).body.proposal.rate).toBeNull()
})

test('a copy has the same picture under another name, and goes its own way', async () => {
  const { id } = await line('quay-040')
  const copied = await ask<{ id: string }>(server, `/api/shots/${id}/copies`, { name: 'quay-042', author: 'Ben' })
  expect(copied.status).toBe(201)
  const [one, other] = [await document(id), await document(copied.body.id)]
  expect(other).toEqual({ ...one, name: 'quay-042' })
  await edit(copied.body.id, { kind: 'set-shot', changes: { frames: { first: 1001, last: 1003 } } }, 1, 'Cleo')
  expect(await line('quay-042')).toMatchObject({ author: 'Cleo', revision: 2, frames: { first: 1001, last: 1003 } })
  expect((await line('quay-040')).frames).toEqual(one.frames)
  expect((await ask<{ message: string }>(server, `/api/shots/${id}/copies`, { name: 'quay-042' })).status).toBe(409)
})

test('a shot is renamed by an edit; a name that is taken is refused, and two tabs get one answer each', async () => {
  const { id, revision } = await line('quay-042')
  const rename = (name: string): Change => ({ kind: 'set-shot', changes: { name } })
  const taken = await edit(id, rename('quay-040'), revision)
  expect([taken.status, taken.body.message]).toEqual([409, expect.stringMatching(/is taken/)])
  expect((await edit(id, rename('No Name'), revision)).status).toBe(422)
  expect((await edit(id, rename('quay-043'), revision)).status).toBe(200)
  expect(await line('quay-043')).toMatchObject({ id })
})

test('states of a shot have names, and are returned to as an edit', async () => {
  const { id, revision } = await line('quay-043')
  const say = (of: number | string, called: string) => ask(server, `/api/shots/${id}/revisions/${of}`, { called })
  expect((await say(1, 'Before the meeting')).status).toBe(200)
  const history = async () =>
    (await ask<{ revision: number; called: string | null }[]>(server, `/api/shots/${id}/revisions`)).body
  expect((await history()).find((one) => one.revision === 1)?.called).toBe('Before the meeting')
  await say(1, '')
  expect((await history()).every(({ called }) => called === null)).toBe(true)
  for (const none of [0, 99, 'NaN', '1e9']) expect((await say(none, 'x')).status).toBe(404)
  const first = (await ask<Shot>(server, `/api/shots/${id}/revisions/1`)).body
  expect((await edit(id, { kind: 'return-to', document: first, called: 'the start' }, revision)).status).toBe(200)
  expect(await document(id)).toEqual({ ...first, name: 'quay-043' })
  const damaged = { ...first, elements: { byId: {} } }
  expect((await edit(id, { kind: 'return-to', document: damaged, called: 'x' }, revision + 1)).status).toBe(422)
})

test('archived and removed shots stay known, and come back as they were', async () => {
  const before = await line('quay-043')
  const put = (change: object) => ask(server, `/api/shots/${before.id}/put-away`, change)
  await put({ archived: true })
  expect(await line('quay-043')).toEqual({ ...before, archived: true })
  await put({ archived: false, removed: true })
  expect(await line('quay-043')).toEqual({ ...before, removed: true })
  const { answers } = (await propose('quay-040')).body
  expect((await make(['quay-040'], { ...answers, name: 'quay-043' })).body.message).toMatch(
    /taken by a shot that was removed.*bring that shot back/,
  )
  await put({ removed: false })
  expect(await line('quay-043')).toEqual(before)
  expect((await put({ removed: 'yes' })).status).toBe(422)
})

test('a shot file is saved, and opened again as another shot', async () => {
  const { id } = await line('quay-010')
  const response = await fetch(`${server.url}/api/shots/${id}/file`)
  expect(response.headers.get('content-disposition')).toBe('attachment; filename=quay-010.shot.json')
  const saved = (await response.json()) as Shot
  expect(saved).toEqual(await document(id))
  const open = (value: unknown) =>
    ask<{ id: string; message?: string }>(server, '/api/shot-files', { document: value, folder: 'quay-010' })
  expect((await open(saved)).body.message).toMatch(/quay-010 is taken/)
  const opened = await open({ ...saved, name: 'quay-011' })
  expect(await document(opened.body.id)).toEqual({ ...saved, name: 'quay-011' })
  expect(await line('quay-011')).toMatchObject({ framesReady: 6 })
  expect((await open({ ...saved, plate: 'none', name: 'quay-012' })).body.message).toMatch(/plate is the element/)
})

test('a damaged document is a line of its own, and the shot file of a removed shot does not bring it back', async () => {
  const { id } = await line('quay-010')
  await ask(server, `/api/shots/${id}/put-away`, { removed: true })
  const shot = await document(id)
  writeFileSync(join(data.shot, 'quay-010.shot.json'), JSON.stringify({ ...shot, frames: { first: 1001, last: 1002 } }))
  expect((await lines()).filter(({ name, removed }) => name === 'quay-010' && !removed)).toEqual([])
  rmSync(join(data.shot, 'quay-010.shot.json'))
})
