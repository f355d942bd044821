import fc from 'fast-check'
import type { GuestPose } from './bell'
import { distort, lensFor, project, turnedView, type Projected } from './camera'
import { renderGuest } from './guest-passes'
import { cameraPose, crossingPoseAt, movingView, scenePlanes, scenePoints, shutterOpen } from './moving-camera'
import { renderMoving } from './moving-plate'
import { undistortMap } from './plate'

const frame = { width: 160, height: 90 }
const lens = lensFor(frame, 3)
const viewAt = (index: number) => movingView(index, 3, lens)

/** A pinhole by the camera file alone: turn back by the quaternion, then by the height of view and the offset. */
function seenBy(index: number, place: readonly number[]): readonly [number, number] {
  const { place: eye, turn, height, offset } = cameraPose(index, 3, lens, frame)
  const [qx, qy, qz, qw] = turn
  const [x, y, z] = place.map((value, i) => value - eye[i])
  // The columns of the turn are the camera's axes.
  const right = [1 - 2 * (qy * qy + qz * qz), 2 * (qx * qy + qz * qw), 2 * (qx * qz - qy * qw)]
  const up = [2 * (qx * qy - qz * qw), 1 - 2 * (qx * qx + qz * qz), 2 * (qy * qz + qx * qw)]
  const back = [2 * (qx * qz + qy * qw), 2 * (qy * qz - qx * qw), 1 - 2 * (qx * qx + qy * qy)]
  const along = (axis: readonly number[]) => axis[0] * x + axis[1] * y + axis[2] * z
  const focal = frame.height / 2 / Math.tan(height / 2)
  return [
    frame.width / 2 + offset[0] * frame.height + (focal * along(right)) / -along(back),
    frame.height / 2 + offset[1] * frame.height - (focal * along(up)) / -along(back),
  ]
}

describe('the camera file of a camera that moves', () => {
  test('shows every place where the renderer sees it, between frames too', () => {
    const out: Projected = { x: 0, y: 0, depth: 0 }
    const metres = (min: number, max: number) => fc.double({ min, max, noNaN: true })
    fc.assert(
      fc.property(metres(-4, 4), metres(0, 4), metres(-40, -5), metres(0, 47), (x, y, z, index) => {
        project(x, y, z, viewAt(index), out)
        const [px, py] = seenBy(index, [x, y, z])
        expect(Math.hypot(px - out.x, py - out.y)).toBeLessThan(1e-6)
      }),
    )
  })

  test('a camera that only turns is one that stands still', () => {
    const out: Projected = { x: 0, y: 0, depth: 0 }
    project(0.5, 1, -6, turnedView(lens, { yaw: 0, pitch: 0, roll: 0 }), out)
    expect(out.x).toBeCloseTo(lens.centreX + (lens.focal * 0.5) / 6, 9)
    expect(out.y).toBeCloseTo(lens.centreY + (lens.focal * 0.55) / 6, 9)
  })

  test('near things pass before far ones, and the lens zooms', () => {
    const travel = (z: number) => seenBy(24, [0, 1, z])[0] - seenBy(0, [0, 1, z])[0]
    expect(Math.abs(travel(-5.6) - travel(-30))).toBeGreaterThan(5)
    expect(cameraPose(24, 3, lens, frame).height).toBeLessThan(cameraPose(0, 3, lens, frame).height * 0.97)
  })

  test('its points lie inside the frame on the first, the middle and the last frame', () => {
    const points = scenePoints(12, 3, lens, frame)
    expect(points.length).toBeGreaterThan(40)
    for (const { place } of points)
      for (const index of [0, 5.5, 11]) {
        const [x, y] = distort(...seenBy(index, place), lens)
        expect(x > 0 && y > 0 && x < frame.width && y < frame.height).toBe(true)
      }
    expect(new Set(scenePlanes.map(({ name }) => name)).size).toBe(scenePlanes.length)
  })
})

describe('a real shutter', () => {
  const wide = { width: 240, height: 135 }
  const wideLens = lensFor(wide, 1)
  const shot = { time: 0, withFront: true, lampLevels: [1, 1] as const }
  const row = 60
  const render = (guestAt: ((index: number) => GuestPose) | null, at = row) =>
    renderMoving({
      ...{ frame: wide, map: undistortMap(wide, wideLens), index: 8, shot, guestAt, rows: [at, at] },
      viewAt: (index) => movingView(index, 1, wideLens),
    })
  const moving = render(crossingPoseAt)
  const frozen = render(() => crossingPoseAt(8))
  /** Columns in which the bell shows, a hand's breadth above its rim. */
  const columns = ({ plate, truth }: ReturnType<typeof render>) => {
    return Array.from({ length: wide.width }, (_, x) => x).filter(
      (x) => Math.abs((truth?.[(row * wide.width + x) * 3] ?? 0) - plate[(row * wide.width + x) * 3]) > 1e-6,
    )
  }

  test('spreads what crosses over the way that it goes while the shutter is open, to both sides alike', () => {
    const poses = { pose: crossingPoseAt(8), nextPose: crossingPoseAt(9) }
    const view = { view: movingView(8, 1, wideLens), nextView: movingView(9, 1, wideLens) }
    const { motion, alpha } = renderGuest({ frame: wide, ...view, ...poses, shot })
    const across = [...alpha.keys()].filter((i) => alpha[i] === 1).map((i) => motion[i * 2])
    const way = shutterOpen * (across.reduce((sum, value) => sum + value, 0) / across.length)
    expect(way).toBeGreaterThan(3)
    const [sharp, blurred] = [columns(frozen), columns(moving)]
    expect(sharp[0] - blurred[0]).toBeGreaterThanOrEqual(Math.floor(way / 2) - 1)
    expect(blurred.length - sharp.length).toBeGreaterThan(way - 2.5)
    expect(blurred.length - sharp.length).toBeLessThan(way + 2.5)
  })

  test('what the guest neither covers, shades nor is mirrored in is the plate, bit for bit', () => {
    const sky = render(crossingPoseAt, 4)
    expect(sky.plate.some((value) => value > 0)).toBe(true)
    expect(sky.truth).toEqual(sky.plate)
    expect(moving.truth).not.toEqual(moving.plate)
    expect(render(null, 4).truth).toBeNull()
    const low = render(crossingPoseAt, 105)
    // The bollard hides whatever passes behind it.
    const covered = low.front.findIndex((share) => share === 1)
    expect(covered).toBeGreaterThan(0)
    expect(low.truth?.[covered * 3]).toBe(low.plate[covered * 3])
  })
})
