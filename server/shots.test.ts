import { readFileSync, symlinkSync, truncateSync, unlinkSync, writeFileSync } from 'node:fs'
import { execFile } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { promisify } from 'node:util'
import type { Change, Shot } from '../core/shot'
import { decodeSourceFrame } from '../formats/wire/source-frame'
import { unpacking } from './media/exr-blocks'
import { addressOf, ask, DataFolder, newDatabase, runServer, type RunningServer } from './test/running-server'

/** The server's shots, edits and pictures, through its real HTTP interface and a real PostgreSQL. */

interface Saved {
  shot: Shot
  revision: number
  message: string
  current: { shot: Shot; revision: number }
}

const data = new DataFolder()
let database: string
let server: RunningServer
beforeAll(async () => {
  database = await newDatabase()
  server = await runServer(database, data.path)
})
afterAll(async () => {
  await server.stop()
  data.remove()
})

const veil = (channel: number, value: number): Change => ({
  kind: 'set-parameter',
  at: { owner: { kind: 'treatment', id: 'match' }, parameter: 'veil', channel },
  frame: 1001,
  value,
})
const load = () => ask<Saved>(server, '/api/shots/quay-010')
const edit = (baseRevision: number, tab: string, change: unknown, id: string = randomUUID()) =>
  ask<Saved>(server, '/api/shots/quay-010/edits', { id, baseRevision, tab, edit: change })
const veilOf = (shot: Shot) => shot.treatments.byId.match.parameters.veil

describe('shots', () => {
  test('a shot file in the media root is listed and opens as it is', async () => {
    const { body } = await ask<{ shots: { name: string; framesReady: number }[] }>(server, '/api/shots')
    expect(body.shots).toEqual([expect.objectContaining({ name: 'quay-010', framesReady: 6, revision: 1 })])
    expect((await load()).body.shot).toEqual(JSON.parse(readFileSync(data.file('quay-010.shot.json'), 'utf8')))
  })

  test('a broken shot file is named with what is wrong, and the others stay usable', async () => {
    writeFileSync(data.file('broken.shot.json'), '{ "schema": 1')
    const { body } = await ask<{ shots: unknown[]; complaints: string[] }>(server, '/api/shots')
    unlinkSync(data.file('broken.shot.json'))
    expect(body.shots).toHaveLength(1)
    expect(body.complaints[0]).toMatch(/broken\.shot\.json is not a usable shot document: it is not JSON/)
  })

  test('a shot file that changed counts while nobody has worked on the shot', async () => {
    const before = readFileSync(data.file('quay-010.shot.json'), 'utf8')
    writeFileSync(data.file('quay-010.shot.json'), JSON.stringify({ ...JSON.parse(before), pixelAspect: 2 }))
    await ask(server, '/api/shots')
    expect((await load()).body).toMatchObject({ revision: 1, shot: { pixelAspect: 2 } })
    writeFileSync(data.file('quay-010.shot.json'), before)
    await ask(server, '/api/shots')
    expect((await load()).body.shot.pixelAspect).toBe(1)
  })

  test('an unknown shot gets a sentence', async () => {
    expect(await ask(server, '/api/shots/nowhere')).toEqual({
      status: 404,
      body: { message: 'There is no such shot. Open the list of shots and choose one.' },
    })
  })

  test('every answer isolates the page, so that memory can be shared', async () => {
    const { headers } = await fetch(`${server.url}/`)
    expect(headers.get('cross-origin-opener-policy')).toBe('same-origin')
    expect(headers.get('cross-origin-embedder-policy')).toBe('require-corp')
  })
})

describe('edits', () => {
  test('are saved as made, with history, and survive a power cut once acknowledged', async () => {
    const { revision } = (await load()).body
    expect((await edit(revision, 'a', veil(0, 0.02))).body.revision).toBe(revision + 1)
    await server.kill()
    server = await runServer(database, data.path)
    const { shot } = (await load()).body
    expect(veilOf(shot)).toEqual([0.02, 0, 0])
    const { body: history } = await ask<{ label: string }[]>(server, '/api/shots/quay-010/revisions')
    expect(history[0].label).toBe('Veil red of Diving bell')
    const { body: before } = await ask<Shot>(server, `/api/shots/quay-010/revisions/${revision}`)
    expect(veilOf(before)).toEqual([0, 0, 0])
  })

  test('are not lost to a shot file that says something else', async () => {
    const before = readFileSync(data.file('quay-010.shot.json'), 'utf8')
    writeFileSync(data.file('quay-010.shot.json'), before.replace('"width": 640', '"width": 320'))
    const { body } = await ask<{ complaints: string[] }>(server, '/api/shots')
    writeFileSync(data.file('quay-010.shot.json'), before)
    expect(body.complaints[0]).toMatch(
      /frame range or size is not that of the shot in the database, which has been worked on/,
    )
    expect(veilOf((await load()).body.shot)).toEqual([0.02, 0, 0])
  })

  test('of two tabs on different values are both kept', async () => {
    const { revision } = (await load()).body
    await edit(revision, 'a', veil(1, 0.03))
    const second = await edit(revision, 'b', veil(2, 0.04))
    expect(second.status).toBe(200)
    expect(veilOf(second.body.shot).slice(1)).toEqual([0.03, 0.04])
  })

  test('of two tabs on the same value: the second is told, nothing is overwritten', async () => {
    const { revision } = (await load()).body
    await edit(revision, 'a', veil(0, 0.1))
    const second = await edit(revision, 'b', veil(0, 0.2))
    expect(second.status).toBe(409)
    expect(second.body.message).toMatch(
      /Veil red of Diving bell was not saved: another tab changed the same value meanwhile/,
    )
    expect(veilOf(second.body.current.shot)[0]).toBe(0.1)
    expect(veilOf((await load()).body.shot)[0]).toBe(0.1)
  })

  test('a tab’s own edits in quick succession do not meet each other', async () => {
    const { revision } = (await load()).body
    await edit(revision, 'a', veil(0, 0.11))
    expect((await edit(revision, 'a', veil(0, 0.12))).status).toBe(200)
  })

  test('at the same moment from many tabs none is lost', async () => {
    const { revision } = (await load()).body
    const hide = (element: string): Change => ({ kind: 'show-element', element, visible: false })
    const answers = await Promise.all(
      ['shadow', 'occlusion', 'reflection', 'front'].map((id) => edit(revision, id, hide(id))),
    )
    expect(answers.map((a) => a.status)).toEqual([200, 200, 200, 200])
    const { shot } = (await load()).body
    expect(Object.values(shot.elements.byId).filter((e) => !e.visible)).toHaveLength(4)
    for (const id of ['shadow', 'occlusion', 'reflection', 'front'])
      await edit(revision + 4, 'z', { kind: 'show-element', element: id, visible: true })
  })

  test.each([
    ['an unknown kind', { kind: 'explode' }, /edit.kind is not a known edit/],
    [
      'an element that is not there',
      { kind: 'show-element', element: 'ghost', visible: true },
      /There is no element "ghost"/,
    ],
    [
      'a value that is no number',
      {
        kind: 'set-parameter',
        at: { owner: { kind: 'treatment', id: 'match' }, parameter: 'veil', channel: 0 },
        frame: 1001,
        value: 'bright',
      },
      /must be/,
    ],
    ['patches of one’s own', { kind: 'restore', what: 'x', patches: [] }, /edit.kind is not a known edit/],
    ['an undo of what never was', { kind: 'undo', edit: 'nothing' }, /not in the history/],
    [
      'a range of a billion frames',
      { kind: 'set-source', source: 'plate', changes: { frames: { first: 1, last: 1e9 } } },
      /at most 100000 are possible/,
    ],
  ])('%s is refused with a sentence', async (_name, change, message) => {
    const { revision } = (await load()).body
    const answer = await edit(revision, 'a', change)
    expect(answer.status).toBe(422)
    expect(answer.body.message).toMatch(message)
    expect((await load()).body.revision).toBe(revision)
  })
})

describe('source frames', () => {
  const frame = (query: Record<string, string>) =>
    addressOf(
      server,
      `/api/shots/quay-010/frame?${new URLSearchParams({ source: 'plate', frame: '1001', takes: 'rgba', encoding: 'linear', primaries: 'rec709', working: 'rec709', reduce: '1', framing: 'file', width: '640', height: '360', alpha: 'none', ...query })}`,
    ).then((address) => fetch(address))

  test('come as the file holds them', async () => {
    const { readExr } = await import('../formats/exr')
    const { withFile } = await import('./media/file-source')
    const received = decodeSourceFrame(await (await frame({})).arrayBuffer())
    const read = await withFile(data.file('plate/quay-010_plate.1001.exr'), 'plate', (source) =>
      readExr(source, { ...unpacking, channels: ['R', 'G', 'B'] }),
    )
    expect(received.decoded).toBe(false)
    expect(received.planes.map((p) => p.name)).toEqual(['R', 'G', 'B'])
    received.planes.forEach(({ samples }, i) =>
      expect(Buffer.from(samples.slice().buffer).equals(Buffer.from(read.planes[i].samples.buffer))).toBe(true),
    )
    expect(received.dataWindow).toEqual(read.dataWindow)
  })

  test('come reduced, as floats, for a quarter of the size', async () => {
    const received = decodeSourceFrame(await (await frame({ reduce: '4' })).arrayBuffer())
    expect(received.decoded).toBe(true)
    expect(received.dataWindow).toEqual({ x: 0, y: 0, width: 160, height: 90 })
  })

  test.each([
    [
      'a part that is not there',
      { source: 'bell', part: 'glow' },
      422,
      /quay-010_bell\.1001\.exr: it has no part "glow"\. Its parts are: beauty/,
    ],
    ['a source that is not there', { source: 'ghost' }, 404, /no source "ghost"/],
    ['a frame outside the range', { frame: '2000' }, 404, /at frame 2000/],
    ['nonsense', { reduce: '3' }, 422, /reduce must be one of/],
  ])('%s gets a sentence', async (_name, query, status, message) => {
    const response = await frame(query)
    expect(response.status).toBe(status)
    expect(((await response.json()) as { message: string }).message).toMatch(message)
  })

  test('a truncated, an empty and an absent file are named; the next frame still comes', async () => {
    truncateSync(data.file('plate/quay-010_plate.1003.exr'), 40_000)
    writeFileSync(data.file('plate/quay-010_plate.1004.exr'), '')
    unlinkSync(data.file('plate/quay-010_plate.1005.exr'))
    const said = async (n: number) =>
      ((await (await frame({ frame: String(n) })).json()) as { message: string }).message
    expect(await said(1003)).toMatch(/quay-010_plate\.1003\.exr: rows \d+ to \d+ cannot be read: the file ends/)
    expect(await said(1004)).toMatch(/quay-010_plate\.1004\.exr is empty/)
    expect(await said(1005)).toMatch(/quay-010_plate\.1005\.exr does not exist/)
    expect((await frame({ frame: '1006' })).status).toBe(200)
  })

  test('a link that leads out of the shot’s folder is not followed', async () => {
    unlinkSync(data.file('plate/quay-010_plate.1002.exr'))
    symlinkSync('/etc/hostname', data.file('plate/quay-010_plate.1002.exr'))
    const response = await frame({ frame: '1002' })
    expect(response.status).toBe(403)
    expect(((await response.json()) as { message: string }).message).toMatch(/lies outside the media roots/)
  })
})

test('export writes the document as it stands in the database', async () => {
  const out = `${data.path}/exported.shot.json`
  const { stdout } = await promisify(execFile)('node', ['bin/enkrasis.mjs', 'export', 'quay-010', '--out', out], {
    env: { ...process.env, ENKRASIS_DATABASE: database },
  })
  expect(stdout).toContain(out)
  expect(JSON.parse(readFileSync(out, 'utf8'))).toEqual((await load()).body.shot)
})
