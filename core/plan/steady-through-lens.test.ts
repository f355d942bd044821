import { fittedMotion } from '../motion/fitted-motion'
import { bent, straightener, type Lens } from '../motion/lens'
import { along } from '../motion/way'
import type { Spot } from '../motion/placing'
import { throughMatrix } from '../motion/mapping'
import type { Matrix3, Step } from '../graph/steps'
import { lensOver, newTreatment, type Pin, type Shot, type Track } from '../shot'
import { localEngine } from '../test/local-engine'
import { edited, light, only, plan, window } from '../test/planned'
import { allThere, frameSize, pictureOf, smallShot, treated } from '../test/small-shot'
import { lightIn, mostDifference, sameBits } from '../test/windows'
import { borderOf } from './border'
import { PlanMemo } from './memo'
import { outputWay } from './whole'

/**
 * Stabilised behind a lens: what is flat in the scene moves by a homography in the straight picture, not in the plate. Four tracks lie where the
 * lens puts what so moves; every other place must be held as still as they are.
 */

const { width, height } = frameSize
const values = { k1: [-0.16], k2: [0.03], x: [2] }
const swayed: Matrix3 = [1.01, -0.03, 4.5, 0.025, 0.995, -3.2, 0.0002, -0.0001, 1]
const behindLens = treated(smallShot, { kind: 'glass' }, newTreatment('lens', 'lens', values))
const lens = (lensOver(behindLens, null) as NonNullable<ReturnType<typeof lensOver>>).at(1001)

/** Where a place of the plate at 1001 is seen at 1002. */
function seenAt(lens: Lens, [x, y]: Spot): Spot {
  const straight = straightener(lens)(x, y) as Spot
  return bent(lens, throughMatrix(swayed, ...straight) as Spot)
}

const places: readonly Spot[] = [
  [6, 5],
  [width - 7, 4],
  [width - 5, height - 8],
  [8, height - 6],
]
const tracks: readonly Track[] = places.map((at, i) => {
  const [x, y] = seenAt(lens, at)
  return {
    ...{ id: `t${i}`, name: `T${i}`, rank: `a${i}`, model: 'translation', radius: 5, search: 5 },
    points: { 1001: { x: at[0], y: at[1], byHand: true }, 1002: { x, y, byHand: true } },
  } as Track
})
const pin: Pin = { tracks: tracks.map(({ id }) => id), frame: 1001, by: 'homography' }
const tracked = (shot: Shot): Shot => ({
  ...shot,
  tracks: { byId: { ...shot.tracks.byId, ...Object.fromEntries(tracks.map((track) => [track.id, track])) } },
})
const steadied = (shot: Shot, more: Record<string, number[]> = {}) =>
  edited(treated(tracked(shot), { kind: 'finish' }, newTreatment('steady', 'steady', more)), {
    kind: 'pin-treatment',
    ...{ treatment: 'steady', pin },
  })
const planning = (shot: Shot) => ({ shot, scale: 1 as const, files: allThere(), memo: new PlanMemo() })
const samplings = (step: Step): number =>
  (step.op === 'resample' ? 1 : 0) + step.inputs.reduce((sum, one) => Math.max(sum, samplings(one)), 0)
const inside: readonly Spot[] = [
  [width / 2, height / 2],
  [12, 30],
  [60, 9],
  [width - 20, height / 3],
]

test('every place of the picture shows what is there on the resting frame, not the tracks alone', () => {
  const way = outputWay(planning(steadied(behindLens)), 1002)
  if (!way) throw new Error('nothing is moved')
  for (const at of [...places, ...inside]) {
    const [x, y] = seenAt(lens, at)
    expect(along(way)(...at)).toEqual([expect.closeTo(x, 5), expect.closeTo(y, 5)])
  }
  // As if there were no lens, the same tracks hold other places less still.
  const flat = fittedMotion(
    places,
    places.map((at) => seenAt(lens, at)),
    'homography',
  ) as Matrix3
  const slips = inside.map((at) => {
    const [[x, y], [u, v]] = [seenAt(lens, at), throughMatrix(flat, ...at) as Spot]
    return Math.hypot(x - u, y - v)
  })
  expect(Math.max(...slips)).toBeGreaterThan(0.2)
})

test('on the resting frame nothing is moved, and no pixel is sampled', () => {
  expect(plan(steadied(behindLens), 1001).composite.key).toBe(plan(behindLens, 1001).composite.key)
  expect(outputWay(planning(steadied(behindLens)), 1001)).toBeNull()
})

test('scaled and reframed before or after it, it is one sampling, and a place goes through all', () => {
  const reframe = newTreatment('reframe', 'reframe', { scale: [1.2], x: [5] })
  const both = treated(steadied(behindLens, { scale: [1.1] }), { kind: 'finish' }, reframe)
  const alone = samplings(plan(behindLens, 1002).composite)
  expect(samplings(plan(both, 1002).composite)).toBe(alone + 1)
  const [way, still] = [both, steadied(behindLens)].map((shot) => outputWay(planning(shot), 1002))
  if (!way || !still) throw new Error('nothing is moved')
  // Out of the reframing, out of the scale, and through the motion.
  const [x, y] = [30, 20]
  const unframed = [(x - 5 - width / 2) / 1.2, (y - height / 2) / 1.2].map((one) => one / 1.1)
  const expected = along(still)(unframed[0] + width / 2, unframed[1] + height / 2) as Spot
  expect(along(way)(x, y)).toEqual([expect.closeTo(expected[0], 6), expect.closeTo(expected[1], 6)])
})

test('half taken away, what is left and what was taken make the whole', () => {
  const way = outputWay(planning(steadied(behindLens, { amount: [0.5] })), 1002)
  const whole = outputWay(planning(steadied(behindLens)), 1002)
  const [half, all] = [way, whole].map((one) => along(one ?? [])(width / 2, height / 2) as Spot)
  expect(half[0] - width / 2).toBeGreaterThan(0.35 * (all[0] - width / 2))
  expect(half[0] - width / 2).toBeLessThan(0.65 * (all[0] - width / 2))
})

test('its border is told by all of its edge, which bows', () => {
  const { filledBy, pixels } = borderOf(planning(steadied(behindLens)))
  expect(pixels).toBeGreaterThan(1)
  const filled = planning(steadied(behindLens, { scale: [filledBy + 1e-3] }))
  const way = along(outputWay(filled, 1002) ?? [])
  for (let k = 0; k <= 40; k++)
    for (const [x, y] of [
      [(k / 40) * width, 0],
      [(k / 40) * width, height],
      [0, (k / 40) * height],
      [width, (k / 40) * height],
    ]) {
      const [u, v] = way(x, y) as Spot
      expect(Math.min(u, v, width - u, height - v)).toBeGreaterThan(-0.02)
    }
})

test('where it comes in farthest between the corners, that is told', () => {
  // A barrel moves the middles of the edges farther than the corners.
  const aside: Pin = { tracks: ['t0'], frame: 1001, by: 'position' }
  const shot = edited(steadied(behindLens), { kind: 'pin-treatment', treatment: 'steady', pin: aside })
  const way = along(outputWay(planning(shot), 1002) ?? [])
  const beyond = (x: number, y: number) => {
    const [u, v] = way(x, y) as Spot
    return Math.max(-u, u - width, -v, v - height)
  }
  const corners = Math.max(...[0, width].flatMap((x) => [0, height].map((y) => beyond(x, y))))
  const all = Array.from({ length: 401 }, (_, k) => k / 400).flatMap((share) => [
    ...[0, height].map((y) => beyond(share * width, y)),
    ...[0, width].map((x) => beyond(x, share * height)),
  ])
  const worst = Math.max(...all)
  expect(worst - corners).toBeGreaterThan(0.1)
  expect(Math.abs(borderOf(planning(shot)).pixels - worst)).toBeLessThan(0.02)
})

test('at half scale the same part is seen, and a window of it has the same bits', async () => {
  const shot = steadied({ ...behindLens, ...{ elements: only('plate').elements } })
  const { composite: full } = pictureOf(shot, 1002, 1)
  const { composite: half } = pictureOf(shot, 1002, 2)
  const part = { x: 17, y: 11, width: 24, height: 13 }
  const [all, cut] = await Promise.all([window, part].map((one) => localEngine(1).light(full as Step, one)))
  expect(sameBits(lightIn(all, window, part), cut)).toBe(true)
  const halved = await localEngine(1).light(half as Step, { x: 10, y: 8, width: 12, height: 8 })
  const means = Float32Array.from({ length: halved.length }, (_, i) => {
    const [c, x, y] = [i % 4, Math.floor(i / 4) % 12, Math.floor(i / 48)]
    const at = (dx: number, dy: number) =>
      all[4 * ((2 * (y + 8) + dy - window.y) * window.width + 2 * (x + 10) + dx - window.x) + c]
    return (at(0, 0) + at(1, 0) + at(0, 1) + at(1, 1)) / 4
  })
  expect(mostDifference(halved, means)).toBeLessThan(0.08)
})

test('a transparent element, and light without coverage, are moved as they lie', async () => {
  const shot = steadied(behindLens)
  const { moved, elements } = plan(shot, 1002)
  const cg = elements.get('cg')
  if (!moved || !cg) throw new Error('nothing to move')
  const whole = await localEngine(1).light(moved(cg), window)
  const before = await localEngine(1).light(cg, window)
  const sum = (light: Float32Array, c: number) => light.reduce((total, one, i) => total + (i % 4 === c ? one : 0), 0)
  // Nothing of it goes lost but what leaves the frame: coverage and light together.
  expect(sum(whole, 3) / sum(before, 3)).toBeCloseTo(sum(whole, 0) / sum(before, 0), 1)
  expect(sum(whole, 3)).toBeGreaterThan(0)
})

test('in another working space the same places are seen, in its numbers', async () => {
  const shot = steadied(behindLens)
  const other: Shot = { ...shot, workingSpace: 'acescg' }
  const way = outputWay(planning(other), 1002)
  expect(way).toEqual(outputWay(planning(shot), 1002))
  const [unmoved, moved] = await Promise.all([
    light({ ...behindLens, workingSpace: 'acescg' }, 1002),
    light(other, 1002),
  ])
  const [u, v] = along(way ?? [])(40.5, 28.5) as Spot
  const at = (x: number, y: number) => unmoved[4 * (Math.floor(y) * width + Math.floor(x))]
  expect(moved[4 * (28 * width + 40)]).toBeGreaterThan(0.5 * Math.min(at(u, v), at(u + 1, v), at(u, v + 1)))
})

test('a lens whose bend changes: held still, the picture has that of the resting frame', () => {
  const keyed = { keyframes: { 1001: { value: -0.16, to: 'straight' }, 1002: { value: -0.05, to: 'straight' } } }
  const zooming = treated(
    smallShot,
    { kind: 'glass' },
    newTreatment('lens', 'lens', { k1: [keyed as never], k2: [0.03], x: [2] }),
  )
  const over = lensOver(zooming, null)
  const way = outputWay(planning(steadied(zooming)), 1002)
  if (!over || !way) throw new Error('no lens')
  // What the tracks follow stays where it is on 1001.
  places.forEach((at, i) => {
    const point = tracks[i].points[1002 as never] as { readonly x: number; readonly y: number }
    expect(along(way)(...at)).toEqual([expect.closeTo(point.x, 1), expect.closeTo(point.y, 1)])
  })
})
