import { bent } from '../motion/lens'
import type { Vector3 } from '../algebra/vector3'
import { seenBy, type CameraPose } from '../motion/scene-camera'
import type { Spot } from '../motion/placing'
import { edited, only } from '../test/planned'
import { treated } from '../test/small-shot'
import {
  allOf,
  cameraOfPlane,
  cornersOfRegion,
  lensOver,
  newTreatment,
  placeOnPlate,
  rectangleThrough,
  regionOfRectangle,
  trackOfPlace,
  type Change,
  type FramePose,
  type Shot,
  type Track,
} from '.'

const base = only('plate', 'cg')
const picture = { ...base.frameSize, pixelAspect: base.pixelAspect }
const lens = newTreatment('lens', 'lens', { k1: [-0.12], k2: [0.02], x: [4], y: [-3] })
const bentShot = treated(base, { kind: 'glass' }, lens)

/** Looking down by 20 degrees from 1.5 m, carried to the right. */
const poses = [1001, 1002, 1003, 1004].map((frame, i): FramePose => ({
  frame,
  place: [0.2 * i - 0.3, 1.5, 0.1 * i],
  turn: [Math.sin(-0.175), 0, 0, Math.cos(0.175)],
  height: 0.6,
  offset: [0.02, -0.01],
}))
const stones: readonly Vector3[] = [[-0.8, 0, -5], [1.2, 0, -5], [1.2, 0, -4], [-0.8, 0, -4]] // prettier-ignore
const [point] = stones

const added = (shot: Shot, change: Change | null) => edited(shot, change as Change)
const trackIn = (shot: Shot, name: string) => allOf(shot.tracks).find((track) => track.name === name) as Track
const cornersIn = (shot: Shot) =>
  cornersOfRegion(
    shot,
    allOf(shot.tracks).find(({ name }) => name.startsWith('Stones'))?.region?.id ?? '',
  ) as readonly Track[]

describe('a place of the scene that becomes a track', () => {
  test('is where the camera sees it on each frame, through the lens', () => {
    const shot = added(bentShot, trackOfPlace(bentShot, poses, 'point 7', point))
    const { points } = trackIn(shot, 'Point 7')
    const over = lensOver(bentShot, null)
    for (const pose of poses) {
      const straight = seenBy(pose, point, picture) as Spot
      const [x, y] = over ? bent(over.at(pose.frame), straight) : [NaN, NaN]
      expect(Math.hypot(x - straight[0], y - straight[1])).toBeGreaterThan(0.05)
      expect(points[pose.frame]).toEqual({
        x: expect.closeTo(x, 3) as number,
        y: expect.closeTo(y, 3) as number,
        solved: true,
      })
    }
    expect(Object.keys(points)).toHaveLength(4)
    // The same again is another track, with a name of its own.
    expect(trackIn(added(shot, trackOfPlace(shot, poses, 'point 7', point)), 'Point 7 2')).toBeTruthy()
  })

  test('behind the camera it is not known, and where no frame sees it there is no track', () => {
    const passed: Vector3 = [0, 1.5, -0.05]
    const forward = poses.map((pose, i) => ({ ...pose, place: [0, 1.5, 1 - i] as const }))
    const { points } = trackIn(added(base, trackOfPlace(base, forward, 'point', passed)), 'Point')
    expect(Object.keys(points)).toEqual(['1001', '1002'])
    expect(trackOfPlace(base, poses, 'point', [0, 1.5, 30])).toBeNull()
    // What is almost beside the camera would lie a thousand frames away.
    expect(placeOnPlate(base, { ...poses[0], turn: [0, 0, 0, 1] }, [50, 1.5, -0.01])).toBeNull()
  })
})

describe('a rectangle of the scene that becomes a plane', () => {
  test('has its corners clockwise from the upper left, and its true shape, whichever way round the file has them', () => {
    for (const corners of [stones, [...stones].reverse(), [...stones.slice(2), ...stones.slice(0, 2)]]) {
      const shot = added(base, regionOfRectangle(base, poses, 'Stones', corners))
      const found = cornersIn(shot)
      expect(found[0].region?.plane?.ratio).toBeCloseTo(2, 9)
      expect(found.map(({ name }) => name)[0]).toBe('Stones, corner 1')
      const [ul, ur, lr, ll] = found.map(({ points }) => points[1001])
      expect(ul.x).toBeLessThan(ur.x)
      expect(ll.x).toBeLessThan(lr.x)
      expect(ul.y).toBeLessThan(ll.y)
      expect(ur.y).toBeLessThan(lr.y)
    }
  })
})

test('the rectangle around places that lie in a plane', () => {
  const wall: readonly Vector3[] = [[0, 0, -3], [2, 1, -3], [1, 3, -3], [1.5, 0.5, -3]] // prettier-ignore
  const found = rectangleThrough(wall) ?? []
  expect(found.map((corner) => corner.map((value) => Math.round(value * 1e9) / 1e9 + 0)).sort()).toEqual([[0, 0, -3], [0, 3, -3], [2, 0, -3], [2, 3, -3]]) // prettier-ignore
  const floor = rectangleThrough([[0, 0, -3], [2, 0, -4], [1, 0, -6]]) // prettier-ignore
  expect(Math.max(...(floor ?? []).map(([, y]) => Math.abs(y)))).toBeLessThan(1e-12)
  expect(rectangleThrough([[0, 0, 0], [1, 1, 1], [2, 2, 2]])).toBeNull() // prettier-ignore
  expect(rectangleThrough([[1, 1, 1], [1, 1, 1], [1, 1, 1]])).toBeNull() // prettier-ignore
})

describe('the camera of a plane', () => {
  const over = lensOver(bentShot, null)
  const middle = over?.at(1001).centre as Spot
  const offset = [
    (middle[0] - picture.width / 2) / picture.height,
    (middle[1] - picture.height / 2) / picture.height,
  ] as const
  const centred = poses.map((pose) => ({ ...pose, offset }))
  const withPlane = added(bentShot, regionOfRectangle(bentShot, centred, 'Stones', stones))
  test('sees what the camera saw, laid down as a floor in metres', () => {
    const found = cameraOfPlane(withPlane, cornersIn(withPlane))
    expect(found?.lies).toBe(true)
    expect(found?.rms).toBeLessThan(1e-3)
    const focal = picture.height / 2 / Math.tan(0.3)
    expect(Math.abs((found?.focal ?? 0) / focal - 1)).toBeLessThan(1e-3)
    // Its origin is the lower left corner, (-0.8, 0, -4) of the scene.
    found?.poses.forEach(({ frame, place }, i) => {
      expect(frame).toBe(1001 + i)
      const [x, y, z] = centred[i].place
      expect(place[0]).toBeCloseTo(x + 0.8, 2)
      expect(place[1]).toBeCloseTo(y, 2)
      expect(place[2]).toBeCloseTo(z + 4, 2)
    })
    const twice = edited(
      withPlane,
      ...cornersIn(withPlane).map(({ id, region }): Change => ({
        kind: 'set-track',
        track: id,
        changes: { plane: { ...region?.plane, height: 2 } },
      })),
    )
    const [pose] = cameraOfPlane(twice, cornersIn(twice))?.poses ?? []
    expect(pose.place[1]).toBeCloseTo(2 * (found?.poses[0].place[1] ?? NaN), 6)
    expect(found?.corners[3]).toEqual([0, 0, 0].map((value) => expect.closeTo(value, 9) as number))
  })

  test('places something on the plane where the scene has it', () => {
    const found = cameraOfPlane(withPlane, cornersIn(withPlane))
    const thing: Vector3 = [0.4, 0.7, -4.5]
    found?.poses.forEach((pose, i) => {
      const there = seenBy(centred[i] as CameraPose, thing, picture) as Spot
      const here = seenBy(pose, [thing[0] + 0.8, thing[1], thing[2] + 4], picture) as Spot
      expect(Math.hypot(here[0] - there[0], here[1] - there[1])).toBeLessThan(0.05)
    })
  })

  test('corners that were never followed together tell none', () => {
    const [first, ...rest] = cornersIn(withPlane)
    const apart = [{ ...first, points: { 1009: first.points[1001] } }, ...rest]
    expect(cameraOfPlane(withPlane, apart)).toBeNull()
  })
})
