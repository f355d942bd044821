import { execFile, execFileSync } from 'node:child_process'
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { secondsToMake, type OfferedShot, type WorkStatus } from '../core/work'
import { readCameraFile } from './camera/read-camera'
import { readShotFile } from './shots/shot-store'
import { ask, newDatabase, runServer, until, type RunningServer } from './test/running-server'

/** The stand-in camera, asked for from the command line and from the list of shots. */

const folder = mkdtempSync(join(tmpdir(), 'enkrasis-standin-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))
const commandLine = (...args: string[]) => promisify(execFile)('node', ['bin/enkrasis.mjs', 'standin', ...args])

describe('from the command line', () => {
  const made = (name: string) => join(folder, name)
  const plate = (name: string, frame = 1001) =>
    readFileSync(join(made(name), 'media/quay-010/plate', `quay-010_plate.${frame}.exr`))
  const small = ['--shot', 'quay-010', '--size', '160x90', '--frames', '2']

  test('any seed and size, media and truth in folders apart; the same seed gives the same files', async () => {
    await commandLine(...small, '--seed', '7', '--out', made('a'))
    await commandLine(...small, '--seed', '7', '--out', made('b'), '--threads', '1')
    await commandLine(...small, '--seed', '8', '--out', made('c'))
    expect(readdirSync(made('a')).sort()).toEqual(['media', 'truth'])
    const shot = await readShotFile(join(made('a'), 'media/quay-010/quay-010.shot.json'))
    expect([shot.frameSize, shot.frames]).toEqual([
      { width: 160, height: 90 },
      { first: 1001, last: 1002 },
    ])
    expect(readdirSync(join(made('a'), 'truth/quay-010')).filter((name) => name.endsWith('.exr'))).toHaveLength(2)
    expect(existsSync(join(made('a'), 'media/quay-010/truth.json'))).toBe(false)
    expect(plate('a').equals(plate('b'))).toBe(true)
    expect(plate('a').equals(plate('c'))).toBe(false)
    expect(plate('a', 1001).equals(plate('a', 1002))).toBe(false)
  }, 60_000)

  test('what it cannot make is refused with a sentence', async () => {
    await expect(commandLine(...small.with(1, 'quay-999'), '--out', made('d'))).rejects.toThrow(
      /The stand-in camera makes no quay-999\. It makes quay-010/,
    )
    await expect(commandLine(...small.with(3, '4x4'), '--out', made('d'))).rejects.toThrow(/Write width and height/)
    expect(existsSync(made('d'))).toBe(false)
  })
})

test('how long it takes grows with frames and pixels, and shrinks with threads', () => {
  const shot = { name: 'a', about: '', size: { width: 1000, height: 1000 }, frames: 10, seed: 1 }
  const seconds = secondsToMake(shot, 2)
  expect(secondsToMake({ ...shot, frames: 20 }, 2)).toBeGreaterThan(seconds)
  expect(secondsToMake({ ...shot, size: { width: 2000, height: 1000 } }, 2)).toBe(2 * seconds)
  expect(secondsToMake(shot, 4)).toBe(Math.ceil(seconds / 2))
})

test('a camera that moves comes with a file of it, in which the shot has its frames', async () => {
  const where = join(folder, 'moving')
  await commandLine('--shot', 'quay-020', '--size', '96x54', '--frames', '2', '--out', where)
  const media = join(where, 'media/quay-020')
  expect(readdirSync(media).sort()).toEqual([
    ...['camera', 'cg', 'clean', 'lens', 'matte', 'plate', 'quay-020.shot.json', 'reference'],
  ])
  const shot = await readShotFile(join(media, 'quay-020.shot.json'))
  expect(Object.values(shot.sources.byId).map(({ path }) => path)).toContain('camera/quay-020_camera.gltf')
  const { cameras, timing, points, planes } = await readCameraFile(
    { roots: [media], folder: media },
    'camera/quay-020_camera.gltf',
  )
  expect(timing).toEqual({ firstFrame: 1001, framesPerSecond: 24 })
  expect(cameras.map(({ moves }) => moves)).toEqual([true])
  expect(points.length).toBeGreaterThan(40)
  expect(planes.map(({ name }) => name)).toEqual(['Stones', 'Crate'])
  const plates = readdirSync(join(media, 'plate'))
  expect(plates).toEqual(['quay-020_plate.1001.exr', 'quay-020_plate.1002.exr'])
}, 60_000)

describe('from the list', () => {
  let server: RunningServer
  beforeAll(async () => {
    server = await runServer(await newDatabase(), join(folder, 'data'))
  })
  afterAll(() => server.stop())
  const cameras = () => execFileSync('ps', ['-eo', 'args'], { encoding: 'utf8' }).split(`--media ${folder}`).length - 1

  test('a shot that is not made yet is offered, and begun as work that tells how far it is; cancelled, it stops', async () => {
    const offered = await ask<OfferedShot[]>(server, '/api/demo-shots')
    expect(offered.body.map(({ name }) => name)).toEqual(['quay-010', 'quay-020'])
    const [still, moving] = offered.body
    expect(still.seconds).toBeGreaterThan(60)
    expect(still.smallSeconds).toBeUndefined()
    expect(moving.smallSeconds).toBeLessThan(moving.seconds / 10)
    // One without a small size is not made at its full one instead.
    expect((await ask(server, '/api/demo-shots/quay-010', { small: true })).status).toBe(404)
    expect((await ask<{ message: string }>(server, '/api/demo-shots/quay-999', {})).status).toBe(404)
    const begun = await ask<WorkStatus>(server, '/api/demo-shots/quay-010', {})
    expect(begun.body).toMatchObject({ kind: 'demo-shot', title: 'quay-010 made by the stand-in camera' })
    // Asked for twice, it is made once.
    expect((await ask<WorkStatus>(server, '/api/demo-shots/quay-010', {})).body.id).toBe(begun.body.id)
    const status = async () => (await ask<WorkStatus>(server, `/api/work/${begun.body.id}`)).body
    await until(status, ({ progress }) => progress > 0)
    expect(cameras()).toBe(1)
    // What is being made is in the list of shots already, and no longer offered.
    const left = (await ask<OfferedShot[]>(server, '/api/demo-shots')).body
    expect(left.map(({ name }) => name)).toEqual(['quay-020'])
    const { shots } = (await ask<{ shots: { name: string }[] }>(server, '/api/shots')).body
    expect(shots.map(({ name }) => name)).toEqual(['quay-010'])
    await ask(server, `/api/work/${begun.body.id}/cancel`, {})
    await until(
      () => Promise.resolve(cameras()),
      (count) => count === 0,
    )
    expect((await status()).state).toBe('cancelled')
  }, 60_000)
})
