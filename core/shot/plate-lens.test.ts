import { bent, straightener } from '../motion/lens'
import { throughMatrix } from '../motion/mapping'
import { edited, only } from '../test/planned'
import { smallShot, treated } from '../test/small-shot'
import type { Matrix3 } from '../graph/steps'
import {
  allOf,
  expectedSlip,
  find,
  isBentByMap,
  laidOn,
  lensOver,
  matteMotion,
  newPlacing,
  newRegion,
  newTreatment,
  outlineAlong,
  placedMatrix,
  cornersOfRegion,
  type Change,
  type DrawnMatte,
  type Element,
  type Pin,
  type Shot,
  type Track,
  type UseOwner,
} from '.'

/** A board behind a barrel lens whose motion in the straight picture is known: what is pinned to its tracks moves by that, and is bent after. */

const glass: UseOwner = { kind: 'glass' }
const element: UseOwner = { kind: 'element', id: 'cg' }
const barrel = { k1: [-0.25], k2: [0.05], x: [6], y: [-4] }
const withLens = (shot: Shot, owner: UseOwner, more: object = barrel): Shot =>
  treated(shot, owner, {
    ...newTreatment('lens', 'lens'),
    parameters: { ...newTreatment('lens', 'lens').parameters, ...more },
  })

const lensUse = (shot: Shot) => allOf(shot.uses).find(({ treatment }) => treatment === 'lens')?.id ?? ''

const motion: Matrix3 = [1.05, 0.03, 4, -0.02, 1.02, -3, 2e-4, 1e-4, 1]
const corners = [
  [30, 25],
  [110, 30],
  [105, 85],
  [25, 80],
] as const
const lensOfPlate = (shot: Shot) => (lensOver(shot, null) as NonNullable<ReturnType<typeof lensOver>>).at(1001)

/** Tracks of the corners, as they are seen through the glass. */
function followed(shot: Shot, lenses = [lensOfPlate(shot), lensOfPlate(shot)]): Shot {
  const tracks = corners.map((corner, i): Track => {
    const [from, to] = [corner, throughMatrix(motion, corner[0], corner[1]) as readonly [number, number]].map((at, n) =>
      bent(lenses[n], at),
    )
    return {
      ...{ id: `c${i}`, name: `Corner ${i}`, rank: `a${i + 5}`, model: 'translation', radius: 10, search: 12 },
      points: {
        1001: { x: from[0], y: from[1], byHand: true },
        1003: { x: to[0], y: to[1], across: 0.05, down: 0.05, likeness: 1 },
      },
    }
  })
  return edited(shot, ...tracks.map((track): Change => ({ kind: 'add-track', track })))
}
const pin: Pin = { tracks: ['c0', 'c1', 'c2', 'c3'], frame: 1001, by: 'homography' }
const box = { x: 20, y: 20, width: 80, height: 60 }
const pinnedCg = (shot: Shot, more: Partial<Pin> = {}) =>
  edited(shot, {
    kind: 'place-element',
    element: 'cg',
    placing: { ...newPlacing(box, {}), pin: { ...pin, ...more } },
  } as Change)
const close = (a: readonly number[] | null, b: readonly number[] | null, digits = 6) => {
  expect(a?.[0]).toBeCloseTo(b?.[0] ?? NaN, digits)
  expect(a?.[1]).toBeCloseTo(b?.[1] ?? NaN, digits)
}
const far = (a: readonly number[] | null, b: readonly number[] | null) =>
  Math.hypot((a?.[0] ?? 0) - (b?.[0] ?? 0), (a?.[1] ?? 0) - (b?.[1] ?? 0))

test('what is pinned moves as the scene does before the lens; without the lens it would slip', () => {
  const shot = pinnedCg(followed(withLens(only('plate', 'cg'), glass)))
  const places: readonly (readonly [number, number])[] = [...corners, [70, 50], [140, 5]]
  for (const [x, y] of places) close(throughMatrix(placedMatrix(shot, 'cg', 1003), x, y), throughMatrix(motion, x, y))
  const off = edited(shot, { kind: 'turn-treatment', use: lensUse(shot), on: false })
  expect(far(throughMatrix(placedMatrix(off, 'cg', 1003), 140, 5), throughMatrix(motion, 140, 5))).toBeGreaterThan(0.25)
  // On its own frame nothing moves, with the lens or without.
  expect(placedMatrix(shot, 'cg', 1001)).toEqual(placedMatrix(off, 'cg', 1001))
})

test('while the lens zooms each frame is straightened by its own', () => {
  const zooming = {
    k1: [{ keyframes: { 1001: { value: -0.25, to: 'straight' }, 1003: { value: -0.1, to: 'straight' } } }],
  }
  const base = withLens(only('plate', 'cg'), glass, zooming)
  const lens = lensOver(base, null)
  if (!lens) throw new Error('There is no lens.')
  const shot = pinnedCg(followed(base, [lens.at(1001), lens.at(1003)]))
  for (const [x, y] of corners) close(throughMatrix(placedMatrix(shot, 'cg', 1003), x, y), throughMatrix(motion, x, y))
  const matte = { ...(find(smallShot.mattes, 'post') as DrawnMatte), pin }
  const straight = straightener(lens.at(1001))(120, 15) as readonly [number, number]
  const spot = { x: 120, y: 15, before: [0, 0], after: [0, 0] } as const
  const [{ x, y }] = outlineAlong(matteMotion(shot, matte, 1003), [spot])
  close([x, y], bent(lens.at(1003), throughMatrix(motion, ...straight) as readonly [number, number]), 5)
})

test('smoothed, in a group, and with a lens of its own as with that of the glass', () => {
  const shot = followed(withLens(only('plate', 'cg'), glass))
  const smooth = pinnedCg(shot, { smooth: 3 })
  const before = placedMatrix(smooth, 'cg', 1003)
  expect(before.every(Number.isFinite)).toBe(true)
  expect(placedMatrix(smooth, 'cg', 1001)).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1])
  // A lens of its own: the glass does not bend it, so its pin goes by that lens.
  const own = withLens(pinnedCg(shot), element, { k1: [-0.1] })
  const lens = lensOver(own, find(own.elements, 'cg') ?? null)?.at(1001)
  expect(lens?.k1).toBe(-0.1)
  const track = find(own.tracks, 'c2') as Track
  const [from, to] = [1001, 1003].map((frame) => {
    const { x, y } = track.points[frame]
    return straightener(lens as NonNullable<typeof lens>)(x, y)
  })
  close(throughMatrix(placedMatrix(own, 'cg', 1003), ...(from as readonly [number, number])), to)
})

test('a lens that is off, limited, bends nothing or is kept from an element is none', () => {
  const plain = only('plate', 'cg')
  expect(lensOver(plain, null)).toBeNull()
  expect(lensOver(withLens(plain, glass, { k1: [0], x: [5] }), null)).toBeNull()
  const shot = withLens(plain, glass)
  const use = lensUse(shot)
  expect(lensOver(shot, null)?.at(1001).centre).toEqual([shot.frameSize.width / 2 + 6, shot.frameSize.height / 2 - 4])
  expect(lensOver(edited(shot, { kind: 'turn-treatment', use, on: false }), null)).toBeNull()
  const limit = { matte: null, inverted: false, parameters: { amount: [0.5] } }
  expect(lensOver(edited(shot, { kind: 'set-limit', use, limit }), null)).toBeNull()
  const cg = find(shot.elements, 'cg') ?? null
  expect(lensOver(shot, cg)).not.toBeNull()
  expect(lensOver(shot, cg && { ...cg, ownGlass: true })).toBeNull()
  expect(lensOver(shot, find(shot.elements, 'plate') ?? null)).toBeNull()
})

test('what is bent by a map has no lens by numbers, and is told so', () => {
  const map = { ...newTreatment('lens-map', 'map'), sources: { map: 'matte' } }
  const cgOf = (shot: Shot) => find(shot.elements, 'cg') as Element
  const plain = only('plate', 'cg')
  expect(isBentByMap(plain, cgOf(plain))).toBe(false)
  const inGlass = treated(plain, glass, map)
  expect([isBentByMap(inGlass, cgOf(inGlass)), lensOver(inGlass, cgOf(inGlass))]).toEqual([true, null])
  expect(isBentByMap(inGlass, { ...cgOf(inGlass), ownGlass: true })).toBe(false)
  const own = treated(plain, element, map)
  expect(isBentByMap(own, cgOf(own))).toBe(true)
  const numbers = withLens(plain, glass)
  expect(isBentByMap(numbers, cgOf(numbers))).toBe(false)
})

test('a lens that zooms is another one on each frame', () => {
  const keyed = withLens(only('plate', 'cg'), glass, {
    k1: [{ keyframes: { 1001: { value: -0.2, to: 'straight' }, 1003: { value: -0.1, to: 'straight' } } }],
  })
  const lens = lensOver(keyed, null)
  expect(lens?.at(1001).k1).toBeCloseTo(-0.2, 12)
  expect(lens?.at(1002).k1).toBeCloseTo(-0.15, 12)
  expect(lens?.at(1002)).toBe(lens?.at(1002))
})

test('an outline that moves with tracks or with an element goes through the lens and back to the bit of a pixel', () => {
  const shot = pinnedCg(followed(withLens(smallShot, glass)))
  const lens = lensOfPlate(shot)
  const matte = find(shot.mattes, 'post') as DrawnMatte
  const spot = { x: 120, y: 15, before: [0, 0], after: [0, 0] } as const
  const straight = straightener(lens)(120, 15) as readonly [number, number]
  const there = bent(lens, throughMatrix(motion, ...straight) as readonly [number, number])
  for (const by of [pin, { element: 'cg', frame: 1001 }]) {
    const [{ x, y }] = outlineAlong(matteMotion(shot, { ...matte, pin: by }, 1003), [spot])
    close([x, y], there, 5)
    expect(outlineAlong(matteMotion(shot, { ...matte, pin: by }, 1001), [spot])).toEqual([spot])
  }
})

test('what is laid on a region has its corners where they are seen, through its lens', () => {
  const shot = pinnedCg(followed(withLens(only('plate', 'cg'), glass)))
  const lens = lensOfPlate(shot)
  const seen = corners.map((corner) => bent(lens, corner))
  const region = newRegion(shot, 1001, seen, 'homography')
  const outlined = edited(shot, region)
  const id = (region.changes[0] as { track: Track }).track.region?.id ?? ''
  const cg = find(outlined.elements, 'cg')
  const tracks = cornersOfRegion(outlined, id)
  const laid = cg && tracks && laidOn(outlined, cg, tracks, 1001)
  if (!laid) throw new Error('It cannot be laid there.')
  const matrix = placedMatrix(edited(outlined, laid), 'cg', 1001)
  const own = [
    [20, 20],
    [100, 20],
    [100, 80],
    [20, 80],
  ] as const
  own.forEach(([x, y], i) => close(bent(lens, throughMatrix(matrix, x, y) as readonly [number, number]), seen[i], 4))
})

test('the slip to expect grows with the distance from the tracks behind a lens as without', () => {
  const shot = pinnedCg(followed(withLens(only('plate', 'cg'), glass)))
  const slip = expectedSlip(shot, 'cg', 1003)?.pixels ?? 0
  expect(slip).toBeGreaterThan(0.03)
  expect(slip).toBeLessThan(0.2)
})
