import type { Matrix3 } from '../graph/steps'
import type { Window } from '../image/window'
import { throughMatrix } from '../motion/mapping'
import {
  applyEdit,
  groupInputs,
  newBlend,
  newElement,
  newPlacing,
  parseShot,
  pinMoved,
  pinned,
  placedMatrix,
  shutterTimes,
  type Change,
  type Pin,
  type Shot,
  type Track,
} from '../shot'
import { localEngine } from '../test/local-engine'
import { edited, only } from '../test/planned'
import { loadMadeUp, pictureOf } from '../test/small-shot'
import { sameBits } from '../test/windows'

/** The corner is at 60.5, 70.5 on 1001, at 63, 70 on 1002 and at 66.5, 71.5 on 1003, its last: what is pinned to it goes along. */

const box = { x: 15, y: 45, width: 60, height: 60 }
const toCorner: Pin = { tracks: ['corner'], frame: 1001, by: 'position' }
const still = { shutter: 'closed' } as const
const placed = (pin: Pin | null, given = {}, more: object = still, on = only('plate', 'cg')): Shot =>
  edited(on, {
    ...{ kind: 'place-element', element: 'cg' },
    placing: { ...newPlacing(box, given), ...(pin ? { pin } : {}), ...more },
  } as Change)
const goes = (shot: Shot, frame: number, x = 45, y = 75) =>
  throughMatrix(placedMatrix(shot, 'cg', frame), x, y) as readonly [number, number]
const window: Window = { x: -20, y: -20, width: 180, height: 160 }
async function pixels(shot: Shot, frame: number, at = window): Promise<Float32Array> {
  const step = pictureOf(shot, frame).elements.get('cg')
  return step ? localEngine(1, loadMadeUp).light(step, at) : new Float32Array(at.width * at.height * 4)
}
const problemsOf = (shot: Shot, frame: number) => pictureOf(shot, frame).problems.map(({ sentence }) => sentence)

/** A second and a third point, of a quarter turn about the corner and twice the distance on 1003. */
const withTracks = (shot: Shot): Shot => {
  const track = (id: string, from: readonly [number, number], to: readonly [number, number]): Track => ({
    ...{ id, name: id, rank: 'a7', model: 'translation', radius: 10, search: 12 },
    points: {
      1001: { x: from[0], y: from[1], byHand: true },
      1003: { x: to[0], y: to[1], byHand: true },
    },
  })
  return edited(
    shot,
    { kind: 'add-track', track: track('right', [80.5, 70.5], [66.5, 111.5]) },
    { kind: 'add-track', track: track('below', [60.5, 80.5], [46.5, 71.5]) },
  )
}

test('on its own frame it is the same step as unpinned; on others it goes where the track went, whole pixels and fractions', async () => {
  const [shot, loose] = [placed(toCorner), placed(null)]
  expect(pictureOf(shot, 1001).elements.get('cg')?.key).toBe(pictureOf(loose, 1001).elements.get('cg')?.key)
  expect(goes(shot, 1002)).toEqual([47.5, 74.5])
  expect(goes(shot, 1003)).toEqual([51, 76])
  // Six pixels across and one down are whole ones: not a bit changes on the way.
  const there = await pixels(shot, 1003)
  expect(sameBits(there, await pixels(placed(null, { x: [6], y: [1] }), 1003))).toBe(true)
})

test('between frames it goes on smoothly, not in straight lines and without a rest at the end', () => {
  const shot = placed(toCorner)
  const [x] = goes(shot, 1002.5)
  // In a straight line it would be at 49.25; a parabola goes through its three frames.
  expect(x).toBeCloseTo(49.125, 6)
})

test('after its last frame it stays there, or is gone', async () => {
  expect(goes(placed(toCorner), 1007)).toEqual([51, 76])
  const ends = placed({ ...toCorner, beyond: 'gone' })
  expect(pictureOf(ends, 1003).elements.get('cg')).toBeDefined()
  expect(pictureOf(ends, 1004).elements.get('cg')).toBeUndefined()
  expect((await pixels(ends, 1004)).every((value) => value === 0)).toBe(true)
})

test('by position, rotation and scale of two points it turns and grows with them; by position it does not', () => {
  const shot = placed(
    { tracks: ['corner', 'right'], frame: 1001, by: 'similarity' },
    {},
    still,
    withTracks(only('plate', 'cg')),
  )
  const [x, y] = goes(shot, 1003, 60.5, 70.5)
  expect([x, y]).toEqual([expect.closeTo(66.5, 9), expect.closeTo(71.5, 9)])
  // Ten pixels below turn to the left, at twice the distance.
  const [bx, by] = goes(shot, 1003, 60.5, 80.5)
  expect([bx, by]).toEqual([expect.closeTo(46.5, 9), expect.closeTo(71.5, 9)])
  const level = placed(
    { tracks: ['corner', 'right'], frame: 1001, by: 'position' },
    {},
    still,
    withTracks(only('plate', 'cg')),
  )
  expect(goes(level, 1003, 60.5, 80.5)[0]).toBeCloseTo(60.5 + (6 - 14) / 2, 9)
})

test('what is in a pinned group, and what moves with a pinned element, goes along, once', () => {
  const group: Change = {
    kind: 'add-element',
    element: {
      ...newElement('set', 'Set', 'a9', newBlend('over'), groupInputs()),
      placing: { ...newPlacing(box), pin: toCorner },
    },
    treatments: [],
    uses: [],
  }
  const into: Change = { kind: 'move-element', element: 'cg', parent: 'set', rank: 'a0' }
  expect(goes(edited(placed(null), group, into), 1003)).toEqual([51, 76])
  const carried = edited(
    only('plate', 'cg', 'front'),
    { kind: 'place-element', element: 'front', placing: { ...newPlacing(box), pin: toCorner } },
    { kind: 'place-element', element: 'cg', placing: { ...newPlacing(box, { x: [3] }), with: 'front' } },
  )
  expect(goes(carried, 1003)).toEqual([54, 76])
})

test('its own motion blur includes the pin', () => {
  const blurred = placed(toCorner, {}, {})
  expect(shutterTimes(blurred, 'cg', 1002, 1).length).toBeGreaterThan(1)
  expect(shutterTimes(placed(null, {}, {}), 'cg', 1002, 1)).toEqual([])
})

test('pinning, unpinning, and letting it lie as placed on another frame move nothing on that frame; each is one undo', () => {
  const loose = placed(null, { x: [5], rotation: [20], scale: [1.3] })
  const near = (a: Matrix3, b: Matrix3) => a.forEach((value, i) => expect(value).toBeCloseTo(b[i], 9))
  const at = (shot: Shot, frame: number) => placedMatrix(shot, 'cg', frame)
  const made = applyEdit(loose, pinned(loose, 'cg', { ...toCorner, frame: 1002 }) as Change)
  near(at(made.shot, 1002), at(loose, 1002))
  expect(at(made.shot, 1003)).not.toEqual(at(loose, 1003))
  const moved = edited(made.shot, pinMoved(made.shot, 'cg', 1003) as Change)
  near(at(moved, 1003), at(made.shot, 1003))
  near(at(moved, 1002), at(made.shot, 1002))
  const off = edited(moved, pinned(moved, 'cg', null) as Change)
  near(at(off, 1003), at(moved, 1003))
  expect(pinned(off, 'cg', null)).toBeNull()
  expect(pinMoved(off, 'cg', 1001)).toBeNull()
})

describe('a pin that cannot hold moves nothing, and says why', () => {
  test.each<[string, (shot: Shot) => Shot, Pin, RegExp]>([
    [
      'its track was removed',
      (shot) => edited(shot, { kind: 'remove-track', track: 'corner' }),
      toCorner,
      /track that it is pinned to is gone/,
    ],
    [
      'its frame lies outside the track',
      (shot) => shot,
      { ...toCorner, frame: 1008 },
      /rests on frame 1008, but track Corner is known from 1001 to 1003/,
    ],
    [
      'its tracks are one place',
      (shot) =>
        edited(shot, {
          ...{ kind: 'set-track-points', track: 'right' },
          points: { 1001: { x: 60.5, y: 70.5, byHand: true } },
        }),
      { tracks: ['corner', 'right'], frame: 1001, by: 'similarity' },
      /in one place or on one line/,
    ],
  ])('%s', (_name, change, pin, says) => {
    const before = pin.tracks.length > 1 ? withTracks(placed(null)) : placed(null)
    const shot = change(edited(before, { kind: 'set-placing', element: 'cg', changes: { pin } }))
    expect(problemsOf(shot, 1003)).toEqual([expect.stringMatching(says)])
    expect(goes(shot, 1003)).toEqual(goes(before, 1003))
    // The picture is there all the same.
    expect(pictureOf(shot, 1003).elements.get('cg')).toBeDefined()
  })
})

test('a pin to fewer tracks than it takes, or to one that is not there, is refused', () => {
  const pin = { tracks: ['corner'], frame: 1001, by: 'position' } as const
  expect(() =>
    edited(placed(null), { kind: 'set-placing', element: 'cg', changes: { pin: { ...pin, tracks: ['none'] } } }),
  ).toThrow('There is no track "none"')
})

describe('evened out', () => {
  /** Goes on by 4 and 1 a frame, and trembles by a pixel from frame to frame. */
  const trembling = (frame: number) =>
    [60 + 4 * (frame - 1001) + (frame % 2 === 0 ? 1 : -1), 70 + frame - 1001] as const
  const frames = [1001, 1002, 1003, 1004, 1005, 1006, 1007, 1008, 1009]
  const shaken = edited(only('plate', 'cg'), {
    kind: 'add-track',
    track: {
      ...{ id: 'shaken', name: 'Shaken', rank: 'a8', model: 'translation', radius: 10, search: 12 },
      points: Object.fromEntries(
        frames.map((frame) => [frame, { x: trembling(frame)[0], y: trembling(frame)[1], byHand: true }]),
      ),
    } as Track,
  })
  const to = (more: Partial<Pin>): Pin => ({ tracks: ['shaken'], frame: 1001, by: 'position', ...more })
  const path = (pin: Pin) => frames.map((frame) => goes(placed(pin, {}, still, shaken), frame)[0])
  const trembles = (xs: readonly number[]) =>
    Math.max(...xs.slice(2).map((x, i) => Math.abs(x - 2 * xs[i + 1] + xs[i])))

  test('what trembles goes on evenly, and on the first and last frame of the track it is where it was', () => {
    const [plain, even] = [path(to({})), path(to({ smooth: 5 }))]
    expect(trembles(plain)).toBeCloseTo(4, 6)
    expect(trembles(even)).toBeLessThan(0.8)
    expect([even[0], even[8]]).toEqual([expect.closeTo(plain[0], 6), expect.closeTo(plain[8], 6)])
  })

  test('resting on another frame it moves nothing there, and follows the same path', () => {
    const other = path(to({ smooth: 5, frame: 1004 }))
    expect(other[3]).toBeCloseTo(45, 9)
    const first = path(to({ smooth: 5 }))
    other.forEach((x, i) => expect(x - other[0]).toBeCloseTo(first[i] - first[0], 6))
  })

  test('what turns and grows evenly is not held up by it', () => {
    const turning = withTracks(only('plate', 'cg'))
    const pin: Pin = { tracks: ['corner', 'right', 'below'], frame: 1001, by: 'similarity' }
    const [plain, even] = [{ ...pin }, { ...pin, smooth: 1 }].map((one) => goes(placed(one, {}, still, turning), 1003))
    expect(even[0]).toBeCloseTo(plain[0], 6)
    expect(even[1]).toBeCloseTo(plain[1], 6)
  })
})

test('where its track has ended it fades over so many frames, and is gone then', async () => {
  const fading = placed({ ...toCorner, beyond: 'faded', fade: 4 })
  const alpha = async (frame: number, shot = fading) =>
    (await pixels(shot, frame)).reduce((sum, one, i) => (i % 4 === 3 ? sum + one : sum), 0)
  const whole = await alpha(1003)
  expect(whole).toBeGreaterThan(100)
  expect(await alpha(1004)).toBeCloseTo(0.75 * whole, 1)
  expect(await alpha(1006)).toBeCloseTo(0.25 * whole, 1)
  expect(pictureOf(fading, 1007).elements.get('cg')).toBeUndefined()
  const parsed = parseShot(JSON.parse(JSON.stringify(fading)), 'small.shot.json')
  expect(parsed.elements.byId.cg).toEqual(fading.elements.byId.cg)
})
