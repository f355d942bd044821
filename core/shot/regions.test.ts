import type { Matrix3 } from '../graph/steps'
import type { Window } from '../image/window'
import { inverseOf, throughMatrix } from '../motion/mapping'
import { cornersOf, placementMatrix } from '../motion/placing'
import { randomOf } from '../test/random'
import { smallShot } from '../test/small-shot'
import { textureOf } from '../track/test/texture'
import { applyEdit, type Change } from './edits'
import { newPlacing } from './defaults'
import { placedMatrix } from './placed'
import { cornersOfRegion, followRegion, laidOn, newCameraShake, newRegion, outlinedOn } from './regions'
import { pinMatrix, trackAt } from './tracks'
import { leftOutOf, leftOutOn } from './left-out'
import { matteBase, nameOfRegion, newShape, tableOf, throughSpots } from '.'
import { usersOf } from './refs'
import type { DrawnMatte } from './matte-types'
import type { Pin, Shot } from './types'

/** A region in the document: its corners are tracks, found on texture that moves as is known. */

const frameSize = { width: 220, height: 150 }
const outline = [
  [70, 45],
  [150, 45],
  [150, 105],
  [70, 105],
] as const
const motionAt = (frame: number): Matrix3 => {
  const n = frame - 1002
  return placementMatrix({
    ...{ x: 2.5 * n, y: -1.2 * n, rotation: 0.8 * n, scale: 1 + 0.01 * n },
    ...{ stretch: 1, skew: 0, pivotX: 110, pivotY: 75 },
  })
}
const texture = textureOf(3, 9)
const plate =
  (cut = Infinity) =>
  (frame: number, { x: left, y: top, width, height }: Window): Promise<Float32Array> => {
    const { normal } = randomOf(frame * 13)
    const back = inverseOf(motionAt(frame)) as Matrix3
    const light = new Float32Array(width * height * 4)
    for (let i = 0; i < width * height; i++) {
      const [x, y] = [left + (i % width) + 0.5, top + Math.floor(i / width) + 0.5]
      const [u, v] = throughMatrix(back, x, y) as [number, number]
      const value = frame >= cut ? 0.3 : 0.5 + 0.1 * texture(u, v) + 0.01 * normal()
      light.set([value, value, value, 1], 4 * i)
    }
    return Promise.resolve(light)
  }

const shot: Shot = { ...smallShot, tracks: { byId: {} } }
const made = (now: Shot, ...edits: readonly Change[]) =>
  edits.reduce((before, edit) => applyEdit(before, edit).shot, now)
const outlined = made(shot, newRegion(shot, 1002, outline, 'similarity'))
const regionId = Object.values(outlined.tracks.byId)[0].region?.id ?? ''
const corners = cornersOfRegion(outlined, regionId) ?? []
const stretches = [
  { from: 1002, to: 1006 },
  { from: 1002, to: 1001 },
]

test('an outlined region is four tracks, set by hand, in order around it; the next has another name', () => {
  expect(corners.map(({ points }) => points[1002])).toEqual(outline.map(([x, y]) => ({ x, y, byHand: true })))
  expect(corners.map(({ name }) => name)).toEqual([1, 2, 3, 4].map((n) => `Region 1, corner ${n}`))
  expect([nameOfRegion(corners[2]), outlinedOn(corners)]).toEqual(['Region 1', 1002])
  const more = made(outlined, newRegion(outlined, 1001, outline, 'affine'))
  expect(Object.values(more.tracks.byId).filter(({ name }) => name.startsWith('Region 2'))).toHaveLength(4)
})

test('both ways its corners are where they went, within their stated errors, as one edit', async () => {
  const told: number[] = []
  const edit = await followRegion(corners, stretches, {
    ...{ light: plate(), frameSize },
    found: (frame, points) => told.push(frame, Object.keys(points).length),
  })
  expect(told).toEqual([1003, 4, 1004, 4, 1005, 4, 1006, 4, 1001, 4])
  const found = made(outlined, edit)
  const now = cornersOfRegion(found, regionId) ?? []
  for (const frame of [1001, 1003, 1006])
    now.forEach((corner, i) => {
      const [x, y] = trackAt(corner, frame)
      const [ox, oy] = outline[i]
      const [tx, ty] = throughMatrix(motionAt(frame), ox, oy) as [number, number]
      const point = corner.points[frame]
      if (!('across' in point)) throw new Error('it was found')
      expect(Math.abs(x - tx)).toBeLessThan(4 * point.across + 0.003)
      expect(Math.abs(y - ty)).toBeLessThan(4 * point.down + 0.003)
      expect(point.across).toBeLessThan(0.1)
      expect(point.likeness).toBeGreaterThan(0.8)
    })
  // What is pinned to it goes where the region went, in perspective as well.
  const pin: Pin = { tracks: now.map(({ id }) => id), frame: 1002, by: 'homography' }
  const [x, y] = throughMatrix(pinMatrix(found, pin, 1006), 110, 75) as [number, number]
  const [tx, ty] = throughMatrix(motionAt(1006), 110, 75) as [number, number]
  expect(Math.hypot(x - tx, y - ty)).toBeLessThan(0.1)
})

test('a corner that was set by hand elsewhere stays, and where it is cut the region is lost with the reason', async () => {
  const byHand = { x: 151, y: 46, byHand: true } as const
  const nudged = made(outlined, { kind: 'set-track-points', track: corners[1].id, points: { 1004: byHand } })
  const edit = await followRegion(cornersOfRegion(nudged, regionId) ?? [], [{ from: 1002, to: 1008 }], {
    ...{ light: plate(1006), frameSize },
  })
  const now = cornersOfRegion(made(nudged, edit), regionId) ?? []
  expect(now[1].points[1004]).toEqual(byHand)
  expect(now.map(({ lost }) => Object.keys(lost ?? {}))).toEqual([['1006'], ['1006'], ['1006'], ['1006']])
  expect(Object.keys(now[0].points)).toEqual(['1002', '1003', '1004', '1005'])
})

test('a picture laid on it fills its corners, and goes with them in perspective', async () => {
  const found = made(outlined, await followRegion(corners, stretches, { light: plate(), frameSize }))
  const box = { x: 10, y: 20, width: 60, height: 40 }
  const placed = made(found, { kind: 'place-element', element: 'cg', placing: newPlacing(box, { x: [5] }) } as Change)
  const now = cornersOfRegion(placed, regionId) ?? []
  const edit = laidOn(placed, placed.elements.byId.cg, now, 1002)
  if (!edit) throw new Error('it was not laid')
  const laid = made(placed, edit)
  const off = (frame: number) =>
    Math.max(
      ...cornersOf(box).map(([x, y], i) => {
        const [px, py] = throughMatrix(placedMatrix(laid, 'cg', frame) as Matrix3, x, y) as [number, number]
        const [tx, ty] = trackAt(now[i], frame)
        return Math.hypot(px - tx, py - ty)
      }),
    )
  expect(off(1002)).toBeLessThan(1e-6)
  expect(off(1006)).toBeLessThan(0.05)
  // Before it was tracked there, it is not known where that would be.
  expect(laidOn(placed, placed.elements.byId.cg, now, 1012)).toBeNull()
})

test('with a corner gone it is no region any more, and only a corner has a region’s model', () => {
  const less = made(outlined, { kind: 'remove-track', track: corners[0].id })
  expect(cornersOfRegion(less, regionId)).toBeNull()
  const affine = made(outlined, { kind: 'set-track', track: corners[0].id, changes: { regionModel: 'affine' } })
  expect(affine.tracks.byId[corners[0].id].region?.model).toBe('affine')
  const plain = { kind: 'set-track', track: 'corner', changes: { regionModel: 'affine' } } as const
  expect(() => made(smallShot, plain)).toThrow('is no corner of a region')
})

test('a camera shake is four corners that move as the whole frame does, told by points; whatever goes with tracks goes with it', async () => {
  const shaken = made({ ...shot, frameSize }, newCameraShake({ ...shot, frameSize }, 1003))
  const all = Object.values(shaken.tracks.byId)
  const own = cornersOfRegion(shaken, all[0].region?.id ?? '') ?? []
  expect(own.map(({ name }) => name)).toEqual([1, 2, 3, 4].map((n) => `Camera shake 1, corner ${n}`))
  expect(own[2].points).toEqual({ 1003: { x: (7 * 220) / 8, y: (7 * 150) / 8, byHand: true } })
  const edit = await followRegion(
    own,
    [
      { from: 1003, to: 1006 },
      { from: 1003, to: 1001 },
    ],
    { light: plate(1006), frameSize },
  )
  const tracked = made(shaken, edit)
  const back = inverseOf(motionAt(1003)) as Matrix3
  for (const frame of [1001, 1002, 1004, 1005])
    for (const { id } of own) {
      const [x, y] = trackAt(tracked.tracks.byId[id], frame)
      const { points } = shaken.tracks.byId[id]
      const there = throughMatrix(back, points[1003].x, points[1003].y) as [number, number]
      const [tx, ty] = throughMatrix(motionAt(frame), ...there) as [number, number]
      expect(Math.hypot(x - tx, y - ty)).toBeLessThan(0.15)
    }
  expect(tracked.tracks.byId[own[0].id].lost?.[1006]).toMatch(/the shot was cut/)
  const pin: Pin = { tracks: own.map(({ id }) => id), frame: 1003, by: 'similarity' }
  expect(pinMatrix(tracked, pin, 1003)).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1])
  expect(made(tracked, newCameraShake(tracked, 1001)).tracks.byId).not.toEqual(tracked.tracks.byId)
  expect(Object.values(made(tracked, newCameraShake(tracked, 1001)).tracks.byId).at(-1)?.name).toBe(
    'Camera shake 2, corner 4',
  )
})

describe('what a matte covers is left out of a region', () => {
  /** Most of the region is covered by what moves the other way. */
  const other = { x: 78, y: 52, width: 68, height: 50 }
  const crossed = async (frame: number, window: Window): Promise<Float32Array> => {
    const light = await plate()(frame, window)
    const n = frame - 1002
    for (let i = 0; i < window.width * window.height; i++) {
      const [x, y] = [window.x + (i % window.width) + 0.5 + 3 * n, window.y + Math.floor(i / window.width) + 0.5]
      if (x < other.x || y < other.y || x >= other.x + other.width || y >= other.y + other.height) continue
      const value = 0.5 + 0.1 * texture(x + 400, y + 300)
      light.set([value, value, value], 4 * i)
    }
    return light
  }
  const base: DrawnMatte = { ...matteBase(outlined, 'drawn'), id: 'passing', name: 'Passing', shapes: tableOf([]) }
  const rim = [
    [other.x - 6, other.y - 2],
    [other.x + other.width + 4, other.y - 2],
    [other.x + other.width + 4, other.y + other.height + 2],
    [other.x - 6, other.y + other.height + 2],
  ] as const
  const shape = newShape(base, 1002, throughSpots(rim.map((spot) => ({ spot, corner: true }))))
  const drawn = made(outlined, { kind: 'add-matte', matte: { ...base, shapes: tableOf([shape]) } })
  const leaving = corners.reduce(
    (now, { id }) => made(now, { kind: 'set-track', track: id, changes: { leavesOut: 'passing' } }),
    drawn,
  )
  const own = cornersOfRegion(leaving, regionId) ?? []
  const offOn = async (frame: number, leftOut?: (at: number) => ReturnType<typeof leftOutOf>) => {
    const edit = await followRegion(own, [{ from: 1002, to: frame }], {
      ...{ light: crossed, frameSize },
      ...(leftOut ? { leftOut } : {}),
    })
    const found = made(leaving, edit)
    return Math.max(
      ...own.map(({ id }, i) => {
        if (!Object.hasOwn(found.tracks.byId[id].points, frame)) return Infinity
        const [x, y] = trackAt(found.tracks.byId[id], frame)
        const [tx, ty] = throughMatrix(motionAt(frame), outline[i][0], outline[i][1]) as [number, number]
        return Math.hypot(x - tx, y - ty)
      }),
    )
  }

  test('the outline of the matte on the frame where the region was outlined', () => {
    const [polygon, ...more] = leftOutOf(leaving, own, 1002)
    expect(more).toEqual([])
    for (const [x, y] of rim)
      expect(Math.min(...polygon.map(([px, py]) => Math.hypot(px - x, py - y)))).toBeLessThan(0.01)
    expect(leftOutOf(outlined, corners, 1002)).toEqual([])
  })

  test('seen on another frame it is moved as the region is, and nowhere where that is not known', async () => {
    const edit = await followRegion(own, [{ from: 1002, to: 1004 }], {
      ...{ light: plate(), frameSize },
      leftOut: (at) => leftOutOf(leaving, own, at),
    })
    const found = made(leaving, edit)
    const now = cornersOfRegion(found, regionId) ?? []
    expect(leftOutOn(found, now, 1002)).toEqual(leftOutOf(leaving, own, 1002))
    const [there] = leftOutOn(found, now, 1004)
    leftOutOf(leaving, own, 1002)[0].forEach(([x, y], i) => {
      const [tx, ty] = throughMatrix(motionAt(1004), x, y) as [number, number]
      expect(Math.hypot(there[i][0] - tx, there[i][1] - ty)).toBeLessThan(0.2)
    })
    expect(leftOutOn(found, now, 1009)).toEqual([])
  })

  test('it is followed by the rest, where what covers most of it would have led away', async () => {
    expect(await offOn(1005)).toBeGreaterThan(1)
    expect(await offOn(1005, (at) => leftOutOf(leaving, own, at))).toBeLessThan(0.2)
  })

  test('the matte knows who leaves it out; none again is one edit, and only regions leave out', () => {
    expect(usersOf(leaving, { kind: 'matte', id: 'passing' })).toEqual(['Region 1'])
    const none = made(leaving, { kind: 'set-track', track: own[0].id, changes: { leavesOut: null } })
    expect('leavesOut' in (none.tracks.byId[own[0].id].region ?? {})).toBe(false)
    const plain = { kind: 'set-track', track: 'corner', changes: { leavesOut: 'post' } } as const
    expect(() => made(smallShot, plain)).toThrow('is no corner of a region')
    // One that is gone leaves nothing out.
    const gone = made(leaving, { kind: 'remove-matte', matte: 'passing' })
    expect(leftOutOf(gone, cornersOfRegion(gone, regionId) ?? [], 1002)).toEqual([])
  })
})
