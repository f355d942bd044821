import fc from 'fast-check'
import { bellPoseAt, guestSpace, toWorld, castGuest, newGuestHit } from './bell'
import { aim, distort, eye, lensFor, project, swayAt, turnedView, undistort, type Projected } from './camera'
import { renderGround } from './ground-passes'
import { renderGuest, type PassRequest } from './guest-passes'
import { addGrain, record, recordingFor } from './sensor'
import type { Ray } from './solids'

const frame = { width: 160, height: 90 }
const lens = lensFor(frame, 1)
const requestAt = (index: number): PassRequest => ({
  frame,
  view: turnedView(lens, swayAt(index, 1)),
  nextView: turnedView(lens, swayAt(index + 1, 1)),
  pose: bellPoseAt(index),
  nextPose: bellPoseAt(index + 1),
  shot: { time: 0, withFront: true, lampLevels: [1, 1] },
})
const at = fc.record({
  x: fc.double({ min: -8, max: 168, noNaN: true }),
  y: fc.double({ min: -4, max: 94, noNaN: true }),
})

describe('camera', () => {
  test('undistorting what the lens distorted gives the place back', () => {
    fc.assert(
      fc.property(at, ({ x, y }) => {
        const [u, v] = distort(x, y, lens)
        const [back, backY] = undistort(u, v, lens)
        expect(Math.hypot(back - x, backY - y)).toBeLessThan(1e-6)
      }),
    )
  })

  test('a ray aimed through a pixel meets the things that project to it', () => {
    const view = turnedView(lens, swayAt(7, 3))
    const ray: Ray = { ox: 0, oy: 0, oz: 0, dx: 0, dy: 0, dz: 0 }
    const seen: Projected = { x: 0, y: 0, depth: 0 }
    fc.assert(
      fc.property(at, fc.double({ min: 0.5, max: 90, noNaN: true }), ({ x, y }, distance) => {
        aim(ray, x, y, view)
        project(eye.x + ray.dx * distance, eye.y + ray.dy * distance, eye.z + ray.dz * distance, view, seen)
        expect(Math.hypot(seen.x - x, seen.y - y)).toBeLessThan(1e-6)
        expect(seen.depth).toBeGreaterThan(0)
      }),
    )
  })
})

describe('the bell', () => {
  test('comes down and is at rest on the stones in the second half of the shot', () => {
    expect(toWorld(guestSpace(bellPoseAt(0)), 0, 0, 0)[1]).toBeGreaterThan(0.3)
    for (const index of [34, 40, 47]) expect(toWorld(guestSpace(bellPoseAt(index)), 0, 0, 0)[1]).toBeCloseTo(0, 6)
    guestSpace(bellPoseAt(40)).m.forEach((value, i) => expect(value).toBeCloseTo(guestSpace(bellPoseAt(47)).m[i], 12))
  })

  test('hangs from the hook whatever its swing', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 47 }), (index) => {
        const pose = bellPoseAt(index)
        const hook = toWorld(guestSpace(pose), 0, 2.7 - pose.lift, 0)
        hook.forEach((value, i) => expect(value).toBeCloseTo([0.3, 2.7, -8][i], 9))
      }),
    )
  })

  test('is hit where it stands, with a unit normal that faces the ray', () => {
    const hit = newGuestHit()
    castGuest({ ox: 0.3, oy: 0.9, oz: 0, dx: 0, dy: 0, dz: -1 }, guestSpace(bellPoseAt(47)), hit, false)
    expect(hit.t).toBeCloseTo(8 - 0.62, 1)
    expect(Math.hypot(hit.nx, hit.ny, hit.nz)).toBeCloseTo(1, 9)
    expect(hit.nz).toBeGreaterThan(0.9)
    castGuest({ ox: 2, oy: 0.9, oz: 0, dx: 0, dy: 0, dz: -1 }, guestSpace(bellPoseAt(47)), hit, false)
    expect(hit.t).toBe(Infinity)
  })
})

describe('passes', () => {
  const guest = renderGuest(requestAt(10))
  const ground = renderGround(requestAt(40))

  test('are the same when rendered again', () => {
    expect(renderGuest(requestAt(10))).toEqual(guest)
  })

  test('have soft edges, a solid inside, and nothing outside', () => {
    const partly = guest.alpha.filter((a) => a > 0 && a < 1).length
    expect(partly).toBeGreaterThan(60)
    expect(guest.alpha.filter((a) => a === 1).length).toBeGreaterThan(partly)
    guest.alpha.forEach((a, i) => {
      if (a > 0) return
      for (const pass of guest.light) expect(pass[i * 3]).toBe(0)
      expect(guest.depth[i]).toBe(0)
    })
  })

  test('depth is that of a bell eight metres away, and it moves down the picture', () => {
    const depths = guest.depth.filter((z) => z > 0)
    expect(Math.min(...depths)).toBeGreaterThan(7)
    expect(Math.max(...depths)).toBeLessThan(9)
    const down = guest.motion.filter((_, i) => i % 2 === 1 && guest.alpha[i >> 1] === 1)
    expect(down.reduce((sum, v) => sum + v, 0) / down.length).toBeGreaterThan(0)
  })

  test('shadow and occlusion stay within 0..1 and are there under the bell', () => {
    expect(Math.max(...ground.shadow)).toBeGreaterThan(0.2)
    for (const v of ground.shadow) expect(v >= 0 && v <= 1).toBe(true)
    expect(Math.min(...ground.occlusion)).toBeLessThan(0.4)
    for (const v of ground.occlusion) expect(v >= 0 && v <= 1).toBe(true)
  })

  test('where one lamp alone is away, the shadow has its colour: one lamp is warm, the other cool', () => {
    const [warm, cool] = [0, 2].map((most) => {
      let count = 0
      for (let i = 0; i < ground.shadow.length; i += 3)
        if (ground.shadow[i + most] > 0.1 && ground.shadow[i + most] > 1.5 * ground.shadow[i + 2 - most]) count++
      return count
    })
    expect(Math.min(warm, cool)).toBeGreaterThan(20)
  })
})

describe('the recording', () => {
  const flat = (value: number) => new Float32Array(frame.width * frame.height * 3).fill(value)
  const recording = recordingFor(1)

  test('the veil lifts black by its own amount and nothing is clipped below it', () => {
    const black = record(flat(0), frame, recording, 1)
    recording.veil.forEach((veil, c) => expect(black[c]).toBeCloseTo(veil, 6))
  })

  test('grain has the variance that is written into the truth, and is new on every frame', () => {
    for (const level of [0.02, 0.3]) {
      const grainy = addGrain(flat(level), frame, recording, 1001, 1)
      const other = addGrain(flat(level), frame, recording, 1002, 1)
      for (const c of [0, 1, 2]) {
        const noise = grainy.filter((_, i) => i % 3 === c).map((v) => v - level)
        const next = other.filter((_, i) => i % 3 === c).map((v) => v - level)
        const variance = noise.reduce((sum, v) => sum + v * v, 0) / noise.length
        const expected = recording.shot[c] * level + recording.read[c]
        expect(variance / expected).toBeGreaterThan(0.94)
        expect(variance / expected).toBeLessThan(1.06)
        const shared = noise.reduce((sum, v, i) => sum + v * next[i], 0) / noise.length
        expect(Math.abs(shared / variance)).toBeLessThan(0.04)
      }
    }
  })
})
