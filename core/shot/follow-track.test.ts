import type { Window } from '../image/window'
import { randomOf } from '../test/random'
import { smallShot } from '../test/small-shot'
import { textureOf } from '../track/test/texture'
import { applyEdit } from './edits'
import { followTrack, stretchesAround, stretchesFrom, type Stretch } from './follow-track'
import { newTrack, trackAt } from './tracks'
import type { Shot, Track, TrackPoint } from './types'

/** A track in the document on texture that moves as is known: found, corrected by hand, and found anew between corrections. */

const frameSize = { width: 300, height: 150 }
const range = { first: 1001, last: 1012 }
const way = (frame: number) => ({ x: 2.3 * (frame - 1001), y: 3 * Math.sin((frame - 1001) / 3) })
const texture = textureOf(5)
function plate(covered: (frame: number) => boolean = () => false) {
  return (frame: number, { x: left, y: top, width, height }: Window): Promise<Float32Array> => {
    const { normal } = randomOf(frame * 31)
    const light = new Float32Array(width * height * 4)
    for (let i = 0; i < width * height; i++) {
      const [x, y] = [left + (i % width) + 0.5 - way(frame).x, top + Math.floor(i / width) + 0.5 - way(frame).y]
      const value = covered(frame) ? 0.3 : 0.4 + 0.1 * texture(x, y) + 0.01 * normal()
      light.set([value, value, value, 1], 4 * i)
    }
    return Promise.resolve(light)
  }
}
const start = { x: 100.5, y: 70.25 }
const shot: Shot = { ...smallShot, tracks: { byId: {} } }
const track: Track = newTrack(shot, 1005, [start.x + way(1005).x, start.y + way(1005).y])
const withTrack: Shot = { ...shot, tracks: { byId: { [track.id]: track } } }
const after = (now: Shot, edit: Awaited<ReturnType<typeof followTrack>>): Track =>
  applyEdit(now, edit).shot.tracks.byId[track.id]
const off = (of: Track, frame: number) => {
  const [x, y] = trackAt(of, frame)
  return Math.hypot(x - start.x - way(frame).x, y - start.y - way(frame).y)
}
const all = Array.from({ length: 12 }, (_, i) => 1001 + i)

test('both ways from the frame where it was set it is found on all frames; what was set by hand stays to the bit', async () => {
  const told: number[] = []
  const edit = await followTrack(track, stretchesFrom(track, 1005, 'both', range), {
    ...{ light: plate(), frameSize },
    found: (soFar) => told.push(Object.keys(soFar().points).length),
  })
  const found = after(withTrack, edit)
  expect(Object.keys(found.points).map(Number)).toEqual(all)
  expect(told).toEqual(Array.from({ length: 11 }, (_, i) => i + 1))
  expect(found.points[1005]).toEqual(track.points[1005])
  // Nobody had chosen how large: it is measured once, and kept.
  expect(edit.size?.radius).toBeLessThan(20)
  expect(found).toMatchObject(edit.size ?? {})
  expect(found.unsized).toBeUndefined()
  const again = await followTrack(found, stretchesFrom(found, 1005, 'forward', range), { light: plate(), frameSize })
  expect(again.size).toBeUndefined()
  for (const frame of all) expect(off(found, frame)).toBeLessThan(0.05)
})

test('from a frame on, and back from one, between the frames that were set by hand', () => {
  const byHand = (frames: readonly number[]): Track => ({
    ...track,
    points: Object.fromEntries(frames.map((frame): [number, TrackPoint] => [frame, { x: 9, y: 9, byHand: true }])),
  })
  const two = byHand([1004, 1008])
  expect(stretchesFrom(two, 1006, 'forward', range)).toEqual<Stretch[]>([
    { from: 1004, to: 1007 },
    { from: 1008, to: 1012 },
  ])
  expect(stretchesFrom(two, 1006, 'backward', range)).toEqual<Stretch[]>([
    { from: 1008, to: 1005 },
    { from: 1004, to: 1001 },
  ])
  expect(stretchesFrom(two, 1010, 'forward', range)).toEqual<Stretch[]>([{ from: 1008, to: 1012 }])
  // Before the first it goes on from the first.
  expect(stretchesFrom(two, 1002, 'forward', range)).toHaveLength(2)
  expect(stretchesFrom(byHand([1012]), 1012, 'forward', range)).toEqual([])
  expect(stretchesAround(byHand([1001, 1006, 1012]), 1006, range)).toEqual<Stretch[]>([
    { from: 1006, to: 1011 },
    { from: 1006, to: 1002 },
  ])
})

test('frames of the track beyond those of the shot are left as they are, since the plate has none there', () => {
  const imported: Track = {
    ...track,
    points: Object.fromEntries([990, 1005, 1040].map((frame) => [frame, { x: 9, y: 9, byHand: true }])),
  }
  expect(stretchesFrom(imported, 1005, 'both', range)).toEqual<Stretch[]>([
    { from: 1005, to: 1012 },
    { from: 1005, to: 1001 },
  ])
  expect(stretchesAround(imported, 1005, range)).toEqual([])
  expect(stretchesAround(imported, 990, range)).toEqual([])
})

test('where it is set by hand it is lost no more', () => {
  const lost: Track = { ...track, lost: { 1009: 'it left the frame', 1010: 'it left the frame' } }
  const now: Shot = { ...shot, tracks: { byId: { [track.id]: lost } } }
  const points = { 1009: { x: 1, y: 2, byHand: true } } as const
  const set = applyEdit(now, { kind: 'set-track-points', track: track.id, points }).shot
  expect(set.tracks.byId[track.id].lost).toEqual({ 1010: 'it left the frame' })
})

test('corrected by hand, its neighbours follow the correction, more so the nearer they are; nothing jumps at the frame set before', async () => {
  const first = newTrack(shot, 1001, [start.x, start.y])
  const own = { ...first, id: track.id }
  const found = after(
    { ...shot, tracks: { byId: { [own.id]: own } } },
    await followTrack(own, stretchesFrom(own, 1001, 'forward', range), { light: plate(), frameSize }),
  )
  const [x, y] = trackAt(found, 1009)
  const nudged: Track = { ...found, points: { ...found.points, 1009: { x: x + 1, y, byHand: true } } }
  const now: Shot = { ...shot, tracks: { byId: { [nudged.id]: nudged } } }
  const next = after(
    now,
    await followTrack(nudged, stretchesAround(nudged, 1009, range), { light: plate(), frameSize }),
  )
  // A pixel off at 1009 and after it; from there down to nothing at 1001.
  for (const frame of all) {
    const share = frame >= 1009 ? 1 : (frame - 1001) / 8
    expect(trackAt(next, frame)[0] - start.x - way(frame).x).toBeCloseTo(share, 1)
    expect(trackAt(next, frame)[1] - start.y - way(frame).y).toBeCloseTo(0, 1)
  }
})

test('where it is lost it says why, and what was known beyond from elsewhere is known no more; found again, it is lost no more', async () => {
  const known: Track = { ...track, points: { ...track.points, 1011: { x: 1, y: 1, across: 0, down: 0, likeness: 1 } } }
  const now: Shot = { ...shot, tracks: { byId: { [known.id]: known } } }
  const forward = stretchesFrom(known, 1005, 'forward', range)
  const covered = await followTrack(known, forward, { light: plate((frame) => frame >= 1009), frameSize })
  const lost = after(now, covered)
  expect(Object.keys(lost.points).map(Number)).toEqual([1005, 1006, 1007, 1008])
  expect(lost.lost).toEqual({ 1009: 'the plate has nothing there' })
  const again = await followTrack(lost, forward, { light: plate(), frameSize })
  expect(after({ ...now, tracks: { byId: { [known.id]: lost } } }, again).lost).toBeUndefined()
})

test('stopped, it keeps what was found', async () => {
  const stopping = new AbortController()
  const edit = await followTrack(track, stretchesFrom(track, 1005, 'forward', range), {
    ...{ light: plate(), frameSize, signal: stopping.signal },
    found: (_soFar, frame) => frame === 1008 && stopping.abort(),
  })
  expect(Object.keys(edit.points)).toEqual(['1006', '1007', '1008'])
  expect(edit.lost).toEqual({})
})

test('a size that somebody chose stays', async () => {
  const chosen = applyEdit(withTrack, { kind: 'set-track', track: track.id, changes: { radius: 9 } }).shot
  const own = chosen.tracks.byId[track.id]
  expect([own.radius, own.search, own.unsized]).toEqual([9, 12, undefined])
  const edit = await followTrack(own, stretchesFrom(own, 1005, 'forward', range), { light: plate(), frameSize })
  expect(edit.size).toBeUndefined()
  expect(after(chosen, edit).radius).toBe(9)
})
