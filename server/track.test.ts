import { execFile } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { readFileSync, writeFileSync } from 'node:fs'
import { promisify } from 'node:util'
import { throughMatrix } from '../core/motion/mapping'
import type { PointTrack, RegionTrack } from '../core/track'
import { ask, DataFolder, newDatabase, ownPage, runServer, type RunningServer } from './test/running-server'

/** A point of the demo's plate, followed by the command line; what cannot be followed is said in a sentence. */

const data = new DataFolder()
afterAll(() => data.remove())

const enkrasis = (...args: string[]) => tracking(data.file('quay-010.shot.json'), ...args)
const tracking = (...args: string[]) =>
  promisify(execFile)('node', ['bin/enkrasis.mjs', 'track', ...['--threads', '1', ...args]]).then(
    ({ stdout }) => ({ status: 0, stdout, stderr: '' }),
    (error: { code: number; stdout: string; stderr: string }) => ({ ...error, status: error.code }),
  )
/** A lit window far away. */
const window = { x: 126.25, y: 130.75 }
async function tracked(from: number, to: number, { x, y } = window): Promise<PointTrack> {
  const json = data.file('track.json')
  const { status } = await enkrasis('--point', `${x},${y}`, '--from', `${from}`, '--to', `${to}`, '--json', json)
  expect(status).toBe(0)
  return JSON.parse(readFileSync(json, 'utf8')) as PointTrack
}

test('there and back again it comes to where it was set, within its errors', async () => {
  const there = await tracked(1001, 1006)
  expect(there.stopped).toBeNull()
  expect(there.points.map(({ frame }) => frame)).toEqual([1001, 1002, 1003, 1004, 1005, 1006])
  const last = there.points[5]
  const back = (await tracked(1006, 1001, last.at)).points[5]
  expect(Math.abs(back.at.x - window.x)).toBeLessThan(4 * Math.hypot(last.error.x, back.error.x))
  expect(Math.abs(back.at.y - window.y)).toBeLessThan(4 * Math.hypot(last.error.y, back.error.y))
  // The camera sways.
  expect(Math.hypot(last.at.x - window.x, last.at.y - window.y)).toBeGreaterThan(0.1)
})

test('a sequence without a shot is followed as the plate of one; what holds none is said', async () => {
  const json = data.file('sequence.json')
  const plate = data.file('plate/quay-010_plate.####.exr')
  const { status } = await tracking(plate, '--point', `${window.x},${window.y}`, '--json', json)
  expect(status).toBe(0)
  const { points } = JSON.parse(readFileSync(json, 'utf8')) as PointTrack
  expect(points).toEqual((await tracked(1001, 1006)).points)
  expect((await tracking(data.file('plate/none.####.exr'), '--point', '10,10')).stderr).toContain('none.####.exr')
})

test('frames beyond the shot and a point at the rim are refused with a sentence', async () => {
  expect((await enkrasis('--point', '126,130', '--to', '2000')).stderr).toContain(
    'quay-010 has frames 1001 to 1006: frame 2000 cannot be tracked. Choose one of them.',
  )
  const rim = await enkrasis('--point', '2,2')
  expect([rim.status, rim.stderr]).toEqual([1, expect.stringContaining('reaches beyond the frame') as string])
  expect((await enkrasis('--point', 'here')).stderr).toContain('Write x,y')
})

test('a region is followed in perspective as the point is that lies in it; what is no region is said with its file', async () => {
  const [region, json] = [data.file('region.json'), data.file('region-track.json')]
  const outline = [[60, 205], [160, 205], [160, 280], [60, 280]] // prettier-ignore
  writeFileSync(region, JSON.stringify({ outline }))
  const { status } = await enkrasis('--region', region, '--model', 'homography', '--json', json)
  expect(status).toBe(0)
  const { frames, stopped } = JSON.parse(readFileSync(json, 'utf8')) as RegionTrack
  expect([frames.length, stopped]).toEqual([6, null])
  // The camera only turns: crates and window move alike, but for the lens.
  const { points } = await tracked(1001, 1006)
  const [x, y] = [110, 242]
  const m = frames[5].matrix
  const w = m[6] * x + m[7] * y + m[8]
  expect((m[0] * x + m[1] * y + m[2]) / w - x).toBeCloseTo(points[5].at.x - window.x, 0)
  expect((m[3] * x + m[4] * y + m[5]) / w - y).toBeCloseTo(points[5].at.y - window.y, 0)
  writeFileSync(region, JSON.stringify({ outline: [[1, 2]] }))
  const wrong = await enkrasis('--region', region)
  expect([wrong.status, wrong.stderr]).toEqual([1, expect.stringContaining('region.json is no region') as string])
  expect((await enkrasis('--region', region, '--point', '1,2')).stderr).toContain('one of them')
  expect((await enkrasis('--point', '126,130', '--model', 'homography')).stderr).toContain(
    'not followed in perspective',
  )
})

test('how the camera moves is told by points all over the plate, and agrees with one that is followed by itself', async () => {
  const json = data.file('camera.json')
  const { status, stdout } = await enkrasis('--camera', '--json', json)
  expect([status, stdout]).toEqual([0, expect.stringMatching(/1006: \d+ % of the points agree, corners \+- 0\.\d+ px/)])
  const { frames, stopped } = JSON.parse(readFileSync(json, 'utf8')) as RegionTrack
  expect([frames.length, stopped]).toEqual([6, null])
  const { points } = await tracked(1001, 1006)
  for (const { frame, matrix } of frames) {
    const place = throughMatrix(matrix, window.x, window.y) as readonly [number, number]
    const at = points.find((one) => one.frame === frame)?.at ?? { x: NaN, y: NaN }
    expect(Math.hypot(place[0] - at.x, place[1] - at.y)).toBeLessThan(0.15)
  }
})

describe('through the server', () => {
  let server: RunningServer
  let shot = ''
  beforeAll(async () => {
    server = await runServer(await newDatabase(), data.path)
    shot = (await ask<{ shots: { id: string }[] }>(server, '/api/shots')).body.shots[0].id
  })
  afterAll(() => server.stop())

  const track = (points: Record<number, object>, id = 'window') => ({
    ...{ id, name: 'Window', rank: 'a0', model: 'translation', radius: 10, search: 12 },
    points,
  })
  const byHand = { ...window, byHand: true }
  let revision = 1
  const send = async (edit: object, id = randomUUID() as string) => {
    const body = { id, baseRevision: revision, tab: 'test', edit }
    const answer = await ask<{ revision: number }>(server, `/api/shots/${shot}/edits`, body)
    if (answer.status === 200) revision = answer.body.revision
    return answer
  }
  interface ShotNow {
    readonly revision: number
    readonly shot: {
      readonly tracks: { readonly byId: Record<string, { readonly points: Record<string, { x: number }> }> }
    }
  }
  const shotNow = async () => (await ask<ShotNow>(server, `/api/shots/${shot}`)).body
  const knownFrames = async (id: string) => Object.keys((await shotNow()).shot.tracks.byId[id].points)
  const asEdit = () => ({ id: randomUUID() as string, tab: 'test', baseRevision: revision })
  const post = (body: object, signal?: AbortSignal) =>
    fetch(`${server.url}/api/shots/${shot}/tracking`, {
      ...{ method: 'POST', headers: { 'Content-Type': 'application/json', ...ownPage } },
      body: JSON.stringify(body),
      ...(signal ? { signal } : {}),
    })
  interface Line {
    readonly work?: string
    readonly frame?: number
    readonly edit?: { readonly points: Record<string, { x: number }> }
    readonly problem?: string
  }
  const lines = async (answer: Response) =>
    (await answer.text())
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as Line)
  const all = [{ from: 1001, to: 1006 }]
  const eventually = async (holds: () => Promise<boolean>) => {
    for (let i = 0; i < 200; i++) {
      if (await holds()) return
      await new Promise((resolve) => setTimeout(resolve, 50))
    }
    throw new Error('It never came.')
  }

  test('each frame is told as it is found, and in the end the edit, which is made; sent by the tab as well it counts once', async () => {
    await send({ kind: 'add-track', track: track({ 1001: byHand }) })
    const as = asEdit()
    const told = await lines(await post({ track: track({ 1001: byHand }), stretches: all, as }))
    expect(told[0].work).toBe(as.id)
    expect(told.slice(1).map(({ frame }) => frame)).toEqual([1002, 1003, 1004, 1005, 1006, undefined])
    const { points } = await tracked(1001, 1006)
    const edit = told.at(-1)?.edit
    for (const { frame, at } of points.slice(1)) expect(edit?.points[frame].x).toBeCloseTo(at.x, 3)
    const now = await shotNow()
    expect(now.revision).toBe(revision + 1)
    expect(Object.keys(now.shot.tracks.byId.window.points)).toEqual(['1001', '1002', '1003', '1004', '1005', '1006'])
    expect((await send(edit as object, as.id)).status).toBe(200)
    expect((await shotNow()).revision).toBe(now.revision)
    const status = (await ask<{ kind: string; state: string; title: string }>(server, `/api/work/${as.id}`)).body
    expect(status).toMatchObject({ kind: 'tracking', state: 'done', title: 'Tracking Window in quay-010' })
  })

  test('when nobody listens any more it goes on, and what it found is in the shot', async () => {
    await send({ kind: 'add-track', track: track({ 1001: byHand }, 'left') })
    const leaving = new AbortController()
    const as = asEdit()
    const answer = await post({ track: track({ 1001: byHand }, 'left'), stretches: all, as }, leaving.signal)
    leaving.abort()
    await expect(answer.text()).rejects.toThrow()
    await eventually(async () => (await knownFrames('left')).length === 6)
    revision = (await shotNow()).revision
    // It can be taken back as what that tab did.
    expect((await send({ kind: 'undo', edit: as.id })).status).toBe(200)
    expect(await knownFrames('left')).toEqual(['1001'])
  })

  test('called off, nothing of it is kept', async () => {
    await send({ kind: 'add-track', track: track({ 1001: byHand }, 'off') })
    const as = asEdit()
    const answer = await post({
      track: track({ 1001: byHand }, 'off'),
      stretches: Array.from({ length: 2000 }, () => all[0]),
      as,
    })
    await ask(server, `/api/work/${as.id}/cancel`, {})
    expect((await lines(answer)).at(-1)?.problem).toBe('The tracking was called off.')
    expect(await knownFrames('off')).toEqual(['1001'])
  })

  test('what was set by hand in another tab meanwhile is not overwritten: it fails with a sentence', async () => {
    await send({ kind: 'add-track', track: track({ 1001: byHand }, 'rival') })
    const as = { ...asEdit(), baseRevision: revision }
    const points = { 1004: { x: 300, y: 200, byHand: true } }
    const other = {
      id: randomUUID(),
      baseRevision: revision,
      tab: 'other',
      edit: { kind: 'set-track-points', track: 'rival', points },
    }
    await ask(server, `/api/shots/${shot}/edits`, other)
    const told = await lines(await post({ track: track({ 1001: byHand }, 'rival'), stretches: all, as }))
    expect(told.at(-1)?.problem).toContain('another tab changed the same value meanwhile')
    revision = (await shotNow()).revision
    expect(await knownFrames('rival')).toEqual(['1001', '1004'])
  })

  test('what cannot be tracked is one line with its sentence; what cannot be asked is refused', async () => {
    const flat = track({ 1001: { x: 3, y: 3, byHand: true } })
    const told = await lines(await post({ track: flat, stretches: [{ from: 1001, to: 1002 }], as: asEdit() }))
    expect(told.at(-1)?.problem).toMatch(/reaches beyond the frame/)
    const refused = async (body: object) => {
      const answer = await post(body)
      return [answer.status, ((await answer.json()) as { message: string }).message]
    }
    const one = track({ 1001: byHand })
    expect(await refused({ track: one, stretches: [{ from: 1003, to: 1004 }], as: asEdit() })).toEqual([
      422,
      expect.stringContaining('no place on frame 1003') as string,
    ])
    expect(await refused({ track: one, stretches: [{ from: 1001, to: 9000 }], as: asEdit() })).toEqual([
      422,
      expect.stringContaining('has frames 1001 to 1006') as string,
    ])
    expect((await refused({ track: { ...one, radius: 5000 }, stretches: [], as: asEdit() }))[0]).toBe(422)
    expect((await refused({ track: one, stretches: [] }))[0]).toBe(422)
  })
})
