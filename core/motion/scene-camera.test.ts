import fc from 'fast-check'
import type { Vector3 } from '../algebra/vector3'
import { cameraOverPlane, floorness, laidDown, seenBy, type CameraPose } from './scene-camera'
import type { Spot } from './placing'

const picture = { width: 1280, height: 720, pixelAspect: 1 }
/** Half of 720 pixels at a focal length of 1000. */
const height = 2 * Math.atan(360 / 1000)
const ahead: CameraPose = { place: [0, 0, 0], turn: [0, 0, 0, 1], height, offset: [0, 0] }

/** About the upright, then up and down, then about the axis. */
function turned(yaw: number, pitch: number, roll: number): CameraPose['turn'] {
  const [cy, sy, cp, sp, cr, sr] = [yaw, pitch, roll].flatMap((angle) => [Math.cos(angle / 2), Math.sin(angle / 2)])
  return [
    cy * sp * cr + sy * cp * sr,
    sy * cp * cr - cy * sp * sr,
    cy * cp * sr - sy * sp * cr,
    cy * cp * cr + sy * sp * sr,
  ]
}

describe('where a camera shows a place', () => {
  test('by the focal length, about the middle', () => {
    expect(seenBy(ahead, [1, 0.5, -10], picture)).toEqual([expect.closeTo(740, 9), expect.closeTo(310, 9)])
    expect(seenBy(ahead, [1, 0.5, 10], picture)).toBeNull()
    expect(seenBy(ahead, [1, 0.5, 0], picture)).toBeNull()
  })

  test('by the offset of its film-back, in heights of the picture', () => {
    const spot = seenBy({ ...ahead, offset: [0.01, -0.02] }, [0, 0, -5], picture)
    expect(spot).toEqual([expect.closeTo(647.2, 9), expect.closeTo(345.6, 9)])
  })

  test('with pixels that are twice as wide as high, half as far across', () => {
    const spot = seenBy(ahead, [1, 0, -10], { ...picture, width: 640, pixelAspect: 2 })
    expect(spot).toEqual([expect.closeTo(370, 9), expect.closeTo(360, 9)])
  })

  test('a camera turned to the left by a quarter sees to the left what lay behind it', () => {
    const left = { ...ahead, turn: turned(Math.PI / 2, 0, 0) }
    expect(seenBy(left, [-10, 0, 1], picture)).toEqual([expect.closeTo(540, 9), expect.closeTo(360, 9)])
  })
})

/** Corners of the rectangle that stands in the plane z = 0, 1 high. */
const cornersOf = (ratio: number): readonly Vector3[] => [[0, 1, 0], [ratio, 1, 0], [ratio, 0, 0], [0, 0, 0]] // prettier-ignore
const seenCorners = (pose: CameraPose, ratio: number) => cornersOf(ratio).map((at) => seenBy(pose, at, picture) as Spot)

describe('the camera over a plane', () => {
  const poses = [0, 1, 2, 3].map((i): CameraPose => ({
    ...{ place: [0.3 + 0.25 * i, 1.4 - 0.1 * i, 2.5 - 0.15 * i], turn: turned(0.15 - 0.05 * i, -0.35, 0.02 * i) },
    ...{ height, offset: [0.004, -0.006] },
  }))
  const middle: Spot = [640 + 0.004 * 720, 360 - 0.006 * 720]
  const seen = { frames: poses.map((pose) => seenCorners(pose, 1.5)), ratio: 1.5, middle, picture, cornerError: 0.05 }

  test('is the camera that saw it: place, turn, focal length', () => {
    const found = cameraOverPlane(seen)
    expect(found?.focal).toBeCloseTo(1000, 2)
    expect(found?.rms).toBeLessThan(1e-4)
    poses.forEach((pose, i) => {
      const one = found?.poses[i]
      one?.place.forEach((value, k) => expect(value).toBeCloseTo(pose.place[k], 4))
      expect(Math.abs(pose.turn.reduce((sum, value, k) => sum + value * (one?.turn[k] ?? 0), 0))).toBeCloseTo(1, 8)
      expect(one?.offset).toEqual(pose.offset.map((value) => expect.closeTo(value, 9) as number))
    })
  })

  test('whatever the camera, a given focal length gives its pose', () => {
    const angle = fc.double({ min: -0.7, max: 0.7, noNaN: true })
    const metres = (min: number, max: number) => fc.double({ min, max, noNaN: true })
    fc.assert(
      fc.property(angle, angle, angle, metres(-1, 2), metres(-1, 2), metres(1.5, 6), (yaw, pitch, roll, x, y, z) => {
        const pose = { ...ahead, place: [x, y, z] as const, turn: turned(yaw, pitch, roll) }
        fc.pre(cornersOf(2).every((at) => seenBy(pose, at, picture) !== null))
        const spots = seenCorners(pose, 2)
        fc.pre(spots.every(([px, py]) => Math.abs(px - 640) < 3000 && Math.abs(py - 360) < 3000))
        const found = cameraOverPlane({ ...seen, frames: [spots], ratio: 2, middle: [640, 360], focal: 1000 })
        found?.poses[0]?.place.forEach((value, k) => expect(value).toBeCloseTo(pose.place[k], 5))
        expect(found?.poses[0]).toBeTruthy()
      }),
    )
  })

  test('the stated error of the focal length is that of its scatter', () => {
    let state = 1
    const random = () => (state = (state * 16807) % 2147483647) / 2147483647
    const gaussian = () => Math.sqrt(-2 * Math.log(random())) * Math.cos(2 * Math.PI * random())
    const found = Array.from({ length: 40 }, () =>
      cameraOverPlane({
        ...seen,
        frames: seen.frames.map((corners) =>
          corners.map(([x, y]): Spot => [x + 0.05 * gaussian(), y + 0.05 * gaussian()]),
        ),
      }),
    )
    const scaled = found.map((one) => ((one?.focal ?? 0) - 1000) / (one?.error ?? 0))
    const spread = Math.sqrt(scaled.reduce((sum, z) => sum + z * z, 0) / scaled.length)
    expect(spread).toBeGreaterThan(0.75)
    expect(spread).toBeLessThan(1.3)
  })

  test('a plane seen from straight ahead tells no focal length, and its pose where one is given', () => {
    const straight = { ...ahead, place: [0.75, 0.5, 3] as const }
    const plane = { ...seen, frames: [seenCorners(straight, 1.5)], middle: [640, 360] as Spot }
    expect(cameraOverPlane(plane)).toBeNull()
    const given = cameraOverPlane({ ...plane, focal: 1000 })
    expect(given?.poses[0]?.place).toEqual([0.75, 0.5, 3].map((value) => expect.closeTo(value, 6) as number))
    expect(given?.error).toBe(0)
  })

  test('a frame on which the corners fold has no pose; the others have theirs', () => {
    const [first, ...rest] = seen.frames
    const folded = [first[0], first[2], first[1], first[3]]
    const found = cameraOverPlane({ ...seen, frames: [folded, ...rest], focal: 1000 })
    expect(found?.poses.map((pose) => pose !== null)).toEqual([false, true, true, true])
  })
})

test('a scene laid down and enlarged is seen as before', () => {
  const pose = { ...ahead, place: [0.3, 1.4, 2.5] as const, turn: turned(0.15, -0.35, 0.1) }
  const [x, y, z] = [0.8, 0.2, 0.3]
  const before = seenBy(pose, [x, y, z], picture) as Spot
  const after = seenBy(laidDown(pose, true, 2.5), [2.5 * x, 2.5 * z, -2.5 * y], picture)
  expect(after).toEqual(before.map((value) => expect.closeTo(value, 6) as number))
  expect(seenBy(laidDown(pose, false, 2.5), [2.5 * x, 2.5 * y, 2.5 * z], picture)).toEqual(
    before.map((value) => expect.closeTo(value, 6) as number),
  )
  // It looks along the plane's normal: a wall. Pitched by a quarter it looks down on it.
  expect(floorness(ahead)).toBeCloseTo(0, 9)
  expect(floorness({ ...ahead, turn: turned(0, Math.PI / 2, 0) })).toBeCloseTo(1, 9)
})
