import { execFile } from 'node:child_process'
import { readFileSync, writeFileSync } from 'node:fs'
import { promisify } from 'node:util'
import { throughMatrix } from '../core/motion/mapping'
import type { PointTrack, RegionTrack } from '../core/track'
import { ask, DataFolder, newDatabase, ownPage, runServer, type RunningServer } from './test/running-server'

/** A point of the demo's plate, followed by the command line; what cannot be followed is said in a sentence. */

const data = new DataFolder()
afterAll(() => data.remove())

const enkrasis = (...args: string[]) =>
  promisify(execFile)('node', [
    'bin/enkrasis.mjs',
    'track',
    data.file('quay-010.shot.json'),
    ...['--threads', '1', ...args],
  ]).then(
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

  const track = (points: Record<number, object>) => ({
    ...{ id: 'window', name: 'Window', rank: 'a0', model: 'translation', radius: 10, search: 12 },
    points,
  })
  const byHand = { ...window, byHand: true }
  const post = (body: object, signal?: AbortSignal) =>
    fetch(`${server.url}/api/shots/${shot}/tracking`, {
      ...{ method: 'POST', headers: { 'Content-Type': 'application/json', ...ownPage } },
      body: JSON.stringify(body),
      ...(signal ? { signal } : {}),
    })
  const lines = async (answer: Response) =>
    (await answer.text())
      .trim()
      .split('\n')
      .map(
        (line) =>
          JSON.parse(line) as { frame?: number; edit?: { points: Record<string, { x: number }> }; problem?: string },
      )

  test('each frame is told as it is found, and in the end the edit; it is what the command line finds', async () => {
    const told = await lines(await post({ track: track({ 1001: byHand }), stretches: [{ from: 1001, to: 1006 }] }))
    expect(told.map(({ frame }) => frame)).toEqual([1002, 1003, 1004, 1005, 1006, undefined])
    const { points } = await tracked(1001, 1006)
    for (const { frame, at } of points.slice(1)) expect(told.at(-1)?.edit?.points[frame].x).toBeCloseTo(at.x, 3)
  })

  test('what cannot be tracked is one line with its sentence; what cannot be asked is refused', async () => {
    const flat = track({ 1001: { x: 3, y: 3, byHand: true } })
    const [line] = await lines(await post({ track: flat, stretches: [{ from: 1001, to: 1002 }] }))
    expect(line.problem).toMatch(/reaches beyond the frame/)
    const refused = async (body: object) => {
      const answer = await post(body)
      return [answer.status, ((await answer.json()) as { message: string }).message]
    }
    const one = track({ 1001: byHand })
    expect(await refused({ track: one, stretches: [{ from: 1003, to: 1004 }] })).toEqual([
      422,
      expect.stringContaining('no place on frame 1003') as string,
    ])
    expect(await refused({ track: one, stretches: [{ from: 1001, to: 9000 }] })).toEqual([
      422,
      expect.stringContaining('has frames 1001 to 1006') as string,
    ])
    expect((await refused({ track: { ...one, radius: 5000 }, stretches: [] }))[0]).toBe(422)
  })

  test('whoever closes the connection stops it, and the server goes on', async () => {
    const leaving = new AbortController()
    const answer = await post({ track: track({ 1001: byHand }), stretches: [{ from: 1001, to: 1006 }] }, leaving.signal)
    leaving.abort()
    await expect(answer.text()).rejects.toThrow()
    expect((await ask(server, '/api/shots')).status).toBe(200)
  })
})
