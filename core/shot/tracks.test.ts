import fc from 'fast-check'
import type { Track } from './types'
import { newTrack, trackAt } from './tracks'
import { smallShot } from '../test/small-shot'

/** Where a track is between its frames, and beside them. */

function trackOf(frames: readonly number[], place: (frame: number) => readonly [number, number]): Track {
  const points = frames.map((frame) => {
    const [x, y] = place(frame)
    return [frame, { x, y, byHand: true as const }] as const
  })
  return { ...newTrack(smallShot, frames[0], [0, 0]), points: Object.fromEntries(points) }
}
const frames = [1001, 1002, 1003, 1004, 1005]
const number = fc.double({ min: -40, max: 40, noNaN: true })

test('what moves evenly does so from the first frame to the last, and as long as the shutters of these are open', () => {
  fc.assert(
    fc.property(number, number, fc.double({ min: -0.5, max: 4.5, noNaN: true }), (vx, vy, t) => {
      const [x, y] = trackAt(
        trackOf(frames, (n) => [vx * (n - 1001), 7 + vy * (n - 1001)]),
        1001 + t,
      )
      expect(x).toBeCloseTo(vx * t, 6)
      expect(y).toBeCloseTo(7 + vy * t, 6)
    }),
  )
})

test('what speeds up evenly has its own speed at both ends', () => {
  const track = trackOf(frames, (n) => [3 * (n - 1001) ** 2, 0])
  const speed = (at: number) => (trackAt(track, at + 1e-4)[0] - trackAt(track, at - 1e-4)[0]) / 2e-4
  expect(speed(1001)).toBeCloseTo(0, 2)
  expect(speed(1005)).toBeCloseTo(24, 2)
  // Frames that are not next to each other tell the same.
  const sparse = trackOf([1001, 1003, 1009], (n) => [3 * (n - 1001) ** 2, 0])
  expect(trackAt(sparse, 1009.25)[0]).toBeCloseTo(192 + 48 * 0.25, 6)
})

test('on frames where it is not known it is as on the nearest', () => {
  const track = trackOf(frames, (n) => [5 * n, -2 * n])
  expect(trackAt(track, 1000)).toEqual(trackAt(track, 1001))
  expect(trackAt(track, 1040)).toEqual(trackAt(track, 1005))
})

test('one that is known on one frame stands still; through every frame it goes where it is known', () => {
  const alone = trackOf([1003], () => [4, 5])
  for (const at of [1001, 1002.75, 1003, 1003.25, 1010]) expect(trackAt(alone, at)).toEqual([4, 5])
  const wild = trackOf(frames, (n) => [(n * 7919) % 13, (n * 104729) % 17])
  for (const n of frames) expect(trackAt(wild, n)).toEqual([(n * 7919) % 13, (n * 104729) % 17])
})
