import { smallShot } from '../test/small-shot'
import { canContinueBy, continuedBy } from './continued-track'
import { applyEdit } from './edits'
import type { Track, TrackPoint } from './types'

const range = { first: 1001, last: 1006 }
const found = (x: number, y: number, error = 0.03): TrackPoint => ({
  x,
  y,
  across: error,
  down: 2 * error,
  likeness: 0.9,
})
const track = (id: string, points: Track['points'], more: Partial<Track> = {}): Track => ({
  ...{ id, name: id, rank: id, model: 'translation', radius: 10, search: 12, points },
  ...more,
})
const lamp = track(
  'lamp',
  { 1001: { x: 100, y: 50, byHand: true }, 1002: found(101, 50), 1003: found(102, 51) },
  { lost: { 1004: 'nothing like it is near' } },
)
const sign = track('sign', {
  1000: found(129, 71),
  1002: found(131, 70.5, 0.04),
  1003: found(132, 71.5, 0.04),
  1004: found(133.5, 72, 0.12),
  1005: { x: 135, y: 73, byHand: true },
  1009: found(140, 80),
})

test('it goes on as far from the other as on the frame; what was known stays, and it is lost no more', () => {
  const edit = continuedBy(lamp, sign, 1003, range)
  expect(edit?.points).toEqual({
    1004: { x: 103.5, y: 51.5, across: 0.13, down: 0.26, likeness: 0.9 },
    1005: { x: 105, y: 52.5, across: 0.05, down: 0.1, likeness: 1 },
  })
  const shot = { ...smallShot, tracks: { byId: { lamp, sign } } }
  const after = applyEdit(shot, edit as never).shot.tracks.byId.lamp
  expect(after.points[1003]).toEqual(lamp.points[1003])
  expect(after.lost).toBeUndefined()
})

test('frames before are filled as well, those beyond the shot are not', () => {
  const late = track('late', { 1005: { x: 10, y: 10, byHand: true } })
  expect(Object.keys(continuedBy(late, sign, 1005, range)?.points ?? {})).toEqual(['1002', '1003', '1004'])
})

test('by itself, from a frame on which one of both is not known, or by one that knows nothing more, it cannot go on', () => {
  expect(continuedBy(lamp, lamp, 1003, range)).toBeNull()
  expect(continuedBy(lamp, sign, 1001, range)).toBeNull()
  expect(continuedBy(lamp, sign, 1005, range)).toBeNull()
  expect(canContinueBy(sign, lamp, 1003, { first: 1002, last: 1006 })).toBe(false)
  expect(canContinueBy(sign, lamp, 1003, range)).toBe(true)
})
