import fc from 'fast-check'
import { smallShot } from '../test/small-shot'
import { newPlacing } from './defaults'
import { expectedSlip, mostExpectedSlip } from './expected-slip'
import { inOrder } from './find'
import type { Pin, Shot, Track, TrackPoint } from './types'

const frames = [1001, 1002, 1003]
const found = (x: number, y: number, error: number): TrackPoint => ({ x, y, across: error, down: error, likeness: 0.9 })
const track = (id: string, x: number, y: number, error: (frame: number) => number): Track => ({
  ...{ id, name: id, rank: id, model: 'translation', radius: 10, search: 12 },
  points: Object.fromEntries(frames.map((frame) => [frame, found(x + frame - 1001, y, error(frame))])),
})

const [first] = inOrder(smallShot.elements)
function pinnedShot(pin: Omit<Pin, 'tracks'>, tracks: readonly Track[]): Shot {
  const placing = {
    ...(first.placing ?? newPlacing({ x: 0, y: 0, width: 100, height: 100 })),
    box: { x: 0, y: 0, width: 100, height: 100 },
    pin: { ...pin, tracks: tracks.map(({ id }) => id) },
  }
  return {
    ...smallShot,
    frames: { ...smallShot.frames, first: 1001, last: 1003 },
    elements: { byId: { ...smallShot.elements.byId, [first.id]: { ...first, placing } } },
    tracks: { byId: Object.fromEntries(tracks.map((one) => [one.id, one])) },
  }
}
const slip = (shot: Shot, frame: number) => expectedSlip(shot, first.id, frame)?.pixels

test('by position it slips as the track does, all over; on the pin’s own frame not at all', () => {
  const shot = pinnedShot({ frame: 1001, by: 'position' }, [track('a', 20, 20, () => 0.1)])
  expect(slip(shot, 1002)).toBeCloseTo(0.1 * Math.SQRT2, 6)
  expect(slip(shot, 1001)).toBe(0)
})

test('two tracks halve the variance between them; far from them turn and scale tell less', () => {
  const tracks = [track('a', 0, 50, () => 0.1), track('b', 100, 50, () => 0.1)]
  const byPosition = pinnedShot({ frame: 1001, by: 'position' }, tracks)
  expect(slip(byPosition, 1003)).toBeCloseTo(0.1, 6)
  // A similarity's variance an axis: s2 (1 / n + r2 / sum of squares), r of the corner about the middle.
  const bySimilarity = pinnedShot({ frame: 1001, by: 'similarity' }, tracks)
  const variance = 0.01 * (1 / 2 + 5000 / 5000)
  expect(slip(bySimilarity, 1003)).toBeCloseTo(Math.sqrt(2 * variance), 3)
})

test('a smoothed pin is told as it was measured', () => {
  const tracks = [track('a', 20, 20, () => 0.1)]
  const plain = pinnedShot({ frame: 1001, by: 'position' }, tracks)
  expect(slip(pinnedShot({ frame: 1001, by: 'position', smooth: 3 }, tracks), 1002)).toBeCloseTo(
    slip(plain, 1002) ?? NaN,
    9,
  )
})

test('it grows with the errors in proportion, whatever they are', () => {
  fc.assert(
    fc.property(fc.double({ min: 0.001, max: 0.2, noNaN: true }), (error) => {
      const by = (size: number) =>
        slip(
          pinnedShot({ frame: 1001, by: 'similarity' }, [
            track('a', 10, 20, () => size),
            track('b', 90, 60, () => 2 * size),
          ]),
          1002,
        ) as number
      expect(by(error) / by(0.001)).toBeCloseTo(error / 0.001, 1)
    }),
  )
})

test('the frame on which it may slip most is told; what is set by hand counts as exact; where tracks end nothing is told', () => {
  const shot = pinnedShot({ frame: 1001, by: 'position' }, [
    track('a', 20, 20, (frame) => (frame === 1003 ? 0.3 : 0.1)),
  ])
  expect(mostExpectedSlip(shot, first.id)?.frame).toBe(1003)
  const byHand: Track = {
    ...track('a', 20, 20, () => 0.1),
    points: { 1001: { x: 20, y: 20, byHand: true }, 1002: { x: 21, y: 20, byHand: true } },
  }
  const set = pinnedShot({ frame: 1001, by: 'position' }, [byHand])
  expect([slip(set, 1002), slip(set, 1003)]).toEqual([0, undefined])
  expect(mostExpectedSlip(smallShot, first.id)).toBeNull()
})
