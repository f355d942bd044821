import { edited, only } from '../test/planned'
import { allOf, cornersOfRegion, newTrack, outlinedOn, planeOfTracks, type Shot, type Track, type TrackPoint } from '.'

/** Four tracks that go to the right by a pixel a frame, set by hand on 1002. */

const at = [
  [100, 40],
  [20, 45],
  [110, 90],
  [15, 95],
] as const
const found = { across: 0.03, down: 0.04, likeness: 0.97 }
const points = ([x, y]: readonly [number, number], frames: readonly number[]): Record<string, TrackPoint> =>
  Object.fromEntries(
    frames.map((frame) => [frame, frame === 1002 ? { x, y, byHand: true } : { x: x + frame - 1002, y, ...found }]),
  )
const tracks = at.map((place, i): Track => ({
  ...newTrack(only('plate'), 1002, place),
  ...{ id: `t${i}`, name: `T${i}`, rank: `a${i}`, radius: 9 },
  points: points(place, i === 3 ? [1002, 1003, 1004] : [1001, 1002, 1003, 1004]),
}))
const base: Shot = { ...only('plate', 'cg'), tracks: { byId: Object.fromEntries(tracks.map((one) => [one.id, one])) } }

test('has its corners where the tracks are, clockwise from the upper left, on the frames that all of them know', () => {
  const shot = edited(base, planeOfTracks(base, tracks) as NonNullable<ReturnType<typeof planeOfTracks>>)
  const region = allOf(shot.tracks).find((one) => one.region)?.region?.id ?? ''
  const corners = cornersOfRegion(shot, region) ?? []
  expect(corners.map((one) => [one.points[1002].x, one.points[1002].y])).toEqual(
    [at[1], at[0], at[2], at[3]].map((one) => [...one]),
  )
  for (const corner of corners) expect(Object.keys(corner.points)).toEqual(['1002', '1003', '1004'])
  expect(corners[0].points[1004]).toEqual(tracks[1].points[1004])
  expect(outlinedOn(corners)).toBe(1002)
  expect(corners[0].name).toBe('Plane 1, corner 1')
  expect(corners[0].radius).toBe(9)
  // The tracks stay, and a second plane has a name of its own.
  expect(allOf(shot.tracks)).toHaveLength(8)
  expect(planeOfTracks(shot, tracks)?.label).toBe('Make plane 2 of T0, T1, T2, T3')
})

test('where no frame knows all of them, three lie in a line, or there are not four, there is none', () => {
  const elsewhere = { ...tracks[0], points: points(at[0], [1009]) }
  expect(planeOfTracks(base, [elsewhere, ...tracks.slice(1)])).toBeNull()
  const inLine = { ...tracks[0], points: points([62.5, 92.5], [1002]) }
  expect(planeOfTracks(base, [inLine, ...tracks.slice(1)])).toBeNull()
  expect(planeOfTracks(base, tracks.slice(1))).toBeNull()
})

test('where none was set by hand together it is outlined on the first frame that all know', () => {
  const late = tracks.map((one) => ({ ...one, points: { 1003: one.points[1003], 1004: one.points[1004] } }))
  const plane = planeOfTracks(base, late)
  const [first] = plane?.changes ?? []
  expect(first.kind === 'add-track' && first.track.points[1003]).toEqual({ x: 21, y: 45, byHand: true })
})
