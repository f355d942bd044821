import { execFile } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { promisify } from 'node:util'
import { allOf, type Shot, type Track } from '../core/shot'
import { readCameras } from '../formats/camera'

/** A camera file brought in and a camera written, on the demo shot whose camera moves; beside what the plate shows. */

const folder = mkdtempSync(join(tmpdir(), 'enkrasis-camera-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))
const media = join(folder, 'media/quay-020')
const file = join(media, 'quay-020.shot.json')
const tracked = join(media, 'tracked.shot.json')
const enkrasis = (...args: string[]) => promisify(execFile)('node', ['bin/enkrasis.mjs', ...args])
const json = (path: string) => JSON.parse(readFileSync(path, 'utf8')) as unknown

const width = 256
const frames = [1001, 1002, 1003, 1004, 1005]
const fileOf = (path: string) =>
  readCameras(new Uint8Array(readFileSync(resolve(media, path))), path, () =>
    Promise.reject(new Error('it names no other file')),
  )
let tracks: readonly Track[]
beforeAll(async () => {
  const how = ['--size', `${width}x144`, '--frames', String(frames.length), '--seed', '4', '--out', folder]
  await enkrasis('standin', '--shot', 'quay-020', ...how)
  await enkrasis('camera', file, '--source', 'Shot camera', '--out', tracked)
  tracks = allOf((json(tracked) as Shot).tracks)
}, 120_000)

test('every point and plane of the file becomes a track on every frame', () => {
  const ofPlanes = tracks.filter(({ region }) => region)
  expect(ofPlanes.map(({ name }) => name)).toEqual(
    ['Stones', 'Crate'].flatMap((name) => [1, 2, 3, 4].map((i) => `${name}, corner ${i}`)),
  )
  expect(ofPlanes[0].region?.plane).toEqual({
    ratio: expect.closeTo(1, 6) as number,
    height: expect.closeTo(3, 6) as number,
  })
  expect(tracks.length - ofPlanes.length).toBeGreaterThan(40)
  for (const { points } of tracks) expect(Object.keys(points).map(Number)).toEqual(frames)
})

test('what the camera sees goes as what is followed on the plate, lens, zoom and frames and all', async () => {
  const { points: places } = await fileOf('camera/quay-020_camera.gltf')
  const points = tracks.filter(({ region }) => !region)
  // Boats and far sheds: what is seen around them goes as they do, and nothing is mirrored in them.
  const far = points.filter((_, i) => places[i].place[2] < -25)
  const away: number[] = []
  for (const { points: seen } of far) {
    const { x, y } = seen[1001]
    const out = join(folder, 'track.json')
    const isFound = await enkrasis('track', file, '--point', `${x.toFixed(3)},${y.toFixed(3)}`, '--json', out).then(
      () => true,
      () => false,
    )
    if (!isFound) continue
    const { points: followed } = json(out) as { points: { frame: number; at: { x: number; y: number } }[] }
    for (const { frame, at } of followed.slice(1)) away.push(Math.hypot(at.x - seen[frame].x, at.y - seen[frame].y))
  }
  away.sort((a, b) => a - b)
  expect(away.length).toBeGreaterThan(12)
  expect(away[Math.floor(away.length / 2)]).toBeLessThan(0.2)
  // The camera has carried them by much more than that, and near ones otherwise.
  const wayOf = (all: readonly Track[]) =>
    all.map(({ points: seen }) => seen[1005].x - seen[1001].x).sort((a, b) => a - b)[Math.floor(all.length / 2)]
  const near = points.filter((_, i) => places[i].place[2] > -8)
  expect(wayOf(far)).toBeGreaterThan(3)
  expect(wayOf(far) - wayOf(near)).toBeGreaterThan(3)
}, 120_000)

test('the camera that the stones tell is the one that took them', async () => {
  const out = join(folder, 'camera.gltf')
  const { stdout } = await enkrasis('camera', tracked, '--plane', 'Stones', '--out', out)
  const [, focal] = /Focal length ([\d.]+) px/.exec(stdout) ?? []
  expect(Number(focal) / (1.094 * width)).toBeGreaterThan(0.98)
  expect(Number(focal) / (1.094 * width)).toBeLessThan(1.03)
  const written = await fileOf(out)
  expect(written.timing).toEqual({ firstFrame: 1001, framesPerSecond: 24 })
  // Turned and set down elsewhere: how far it went is the same, in metres, since the stones have theirs.
  const truth = await fileOf('camera/quay-020_camera.gltf')
  const went = ({ cameras: [{ poseAt, keys }] }: typeof truth) => {
    const [from, to] = (keys ?? [0, 0]).map((seconds) => poseAt?.(seconds).place ?? [NaN, NaN, NaN])
    return Math.hypot(...from.map((value, i) => to[i] - value))
  }
  expect(Math.abs(went(written) / went(truth) - 1)).toBeLessThan(0.15)
  const height = truth.cameras[0].poseAt?.(0).place[1] ?? NaN
  expect(written.cameras[0].poseAt?.(0).place[1]).toBeCloseTo(height, 1)
})

test('what cannot be done is said', async () => {
  const refused = (...args: string[]) =>
    expect(enkrasis('camera', tracked, '--out', join(folder, 'x'), ...args)).rejects
  await refused().toThrow(/Name the plane with --plane, or a source/)
  await refused('--plane', 'Sea').toThrow(/quay-020 has no plane "Sea"/)
  await refused('--source', 'Sea').toThrow(/quay-020 has no source "Sea"/)
  const path = join(media, 'camera/quay-020_camera.gltf')
  const before = readFileSync(path)
  writeFileSync(path, JSON.stringify({ asset: { version: '2.0' }, nodes: [{}] }))
  await refused('--source', 'Shot camera').toThrow(/Shot camera has no camera that stands in its scene/)
  writeFileSync(path, before)
})
