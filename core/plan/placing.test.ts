import { localEngine } from '../test/local-engine'
import { edited, only } from '../test/planned'
import { loadMadeUp, pictureOf } from '../test/small-shot'
import { sameBits, mostDifference } from '../test/windows'
import { groupInputs, newBlend, newElement, newPlacing, type Change, type Parameters, type Shot } from '../shot'
import type { Curve, KeyedCurve, StoredKeyframe } from '../motion/curve'
import { wayField, type Scale, type Step } from '../graph/steps'
import { byField, byShift } from '../motion/mapping'
import { behind } from './placing'
import type { Window } from '../image/window'

/** A disc of 30 px about 45, 75; its box is drawn round it. */
const box = { x: 15, y: 45, width: 60, height: 60 }
const frame: Window = { x: -60, y: -60, width: 260, height: 230 }
const plain = only('plate', 'cg')

const placed = (given: Parameters, more: object = {}): Shot =>
  edited(plain, { kind: 'place-element', element: 'cg', placing: { ...newPlacing(box, given), ...more } } as Change)
const stepOf = (shot: Shot, time = 1001, scale: Scale = 1): Step | undefined =>
  pictureOf(shot, time, scale).elements.get('cg')
async function pixels(shot: Shot, time = 1001, window = frame, scale: Scale = 1): Promise<Float32Array> {
  const step = stepOf(shot, time, scale)
  if (!step) return new Float32Array(window.width * window.height * 4)
  return localEngine(1, loadMadeUp).light(step, window)
}
const alphaOf = (light: Float32Array) => light.filter((_, i) => i % 4 === 3)
function middle(light: Float32Array, { x, y, width }: Window = frame) {
  const alpha = alphaOf(light)
  const sum = alpha.reduce((a, b) => a + b, 0)
  const mean = (of: (i: number) => number) => alpha.reduce((a, v, i) => a + v * of(i), 0) / sum
  return { x: mean((i) => x + (i % width) + 0.5), y: mean((i) => y + Math.floor(i / width) + 0.5), sum }
}
const keyed = (keyframes: Record<number, StoredKeyframe>): readonly Curve[] => [{ keyframes }]

test('placed and not moved it is the same step: no bit changes', () =>
  expect(stepOf(placed({}))?.key).toBe(stepOf(plain)?.key))

test('moved by whole pixels it is the same pixels elsewhere; by half a one its middle is there, and no light is lost', async () => {
  const [here, there] = [
    await pixels(plain),
    await pixels(placed({ x: [7], y: [-3] }), 1001, { ...frame, x: -53, y: -63 }),
  ]
  expect(sameBits(there, here)).toBe(true)
  const [before, after] = [middle(here), middle(await pixels(placed({ x: [10.5], y: [2.25] })))]
  expect([after.x - before.x, after.y - before.y]).toEqual([expect.closeTo(10.5, 1), expect.closeTo(2.25, 1)])
  expect(after.sum / before.sum).toBeCloseTo(1, 2)
})

test('scaled it covers the square of the scale, about the pivot; turned by quarters it comes back', async () => {
  const before = middle(await pixels(plain))
  for (const filter of ['bilinear', 'catmull-rom', 'lanczos-3', 'area']) {
    const half = middle(await pixels(placed({ scale: [0.5] }, { filter })))
    expect(half.sum / before.sum).toBeCloseTo(0.25, 2)
    expect([half.x, half.y]).toEqual([expect.closeTo((before.x + 45) / 2, 1), expect.closeTo((before.y + 75) / 2, 1)])
  }
  const round = await pixels(placed({ rotation: [360] }))
  expect(mostDifference(round, await pixels(plain))).toBeLessThan(1e-6)
})

test('at half scale it lies at half the place', async () => {
  const window = { x: -30, y: -30, width: 130, height: 115 }
  const given = { x: [13], scale: [1.4], rotation: [25] }
  const [full, half] = [
    middle(await pixels(placed(given))),
    middle(await pixels(placed(given), 1001, window, 2), window),
  ]
  expect([half.x * 2, half.y * 2]).toEqual([expect.closeTo(full.x, 0), expect.closeTo(full.y, 0)])
  expect((half.sum * 4) / full.sum).toBeCloseTo(1, 1)
})

test('it moves with another element, and with the group it is in; the numbers of both are one sampling', async () => {
  const moved: Change[] = [
    { kind: 'place-element', element: 'plate', placing: newPlacing({ x: 0, y: 0, width: 120, height: 90 }) },
  ]
  expect(() => edited(plain, ...moved)).toThrow('The plate is never moved')
  const groups: Change = {
    kind: 'add-element',
    element: {
      ...newElement('set', 'Set', 'a9', newBlend('over'), groupInputs()),
      placing: newPlacing({ x: 0, y: 0, width: 120, height: 90 }, { x: [20], scale: [2], pivotX: [0], pivotY: [0] }),
    },
    treatments: [],
    uses: [],
  }
  const into: Change = { kind: 'move-element', element: 'cg', parent: 'set', rank: 'a0' }
  const shot = edited(placed({ x: [3] }), groups, into)
  const [before, after] = [
    middle(await pixels(plain)),
    middle(await pixels(shot, 1001, { x: 0, y: 0, width: 320, height: 320 }), { x: 0, y: 0, width: 320, height: 320 }),
  ]
  expect([after.x, after.y]).toEqual([expect.closeTo((before.x + 3) * 2 + 20, 1), expect.closeTo(before.y * 2, 1)])
  const step = stepOf(shot)
  expect([step?.op, step?.inputs[0].op]).toEqual(['resample', 'frame'])
})

test('a corner pin that folds is left out with a sentence; scaled to nothing it is not seen, with another', async () => {
  const folded = placed({ topLeftX: [200] })
  const problems = pictureOf(folded, 1001).problems.map(({ sentence }) => sentence)
  expect(problems).toEqual([expect.stringMatching(/^The corners of .* fold over each other at frame 1001/)])
  expect(stepOf(folded)?.key).toBe(stepOf(plain)?.key)
  const none = placed({ scale: [0] })
  expect(stepOf(none)).toBeUndefined()
  expect(pictureOf(none, 1001).problems[0].sentence).toMatch(/scaled to nothing/)
  // A scale that only passes through 0 is a keyframe like others.
  const popping = placed({ scale: keyed({ 1001: { value: 0, to: 'pop' }, 1006: 1 }) })
  expect(pictureOf(popping, 1001).problems).toEqual([])
  expect(stepOf(popping, 1006)).toBeDefined()
})

test('bent, its middle is higher and its sides are where they were; twisted, it keeps its middle and its light', async () => {
  const bent = await pixels(placed({ bend: [0.5] }))
  const straight = await pixels(plain)
  const top = (light: Float32Array, x: number) => {
    const alpha = alphaOf(light)
    return Array.from({ length: frame.height }, (_, row) => alpha[row * frame.width + x - frame.x]).findIndex(
      (a) => a > 0.5,
    )
  }
  // Half of half the height of 60.
  expect(top(straight, 45) - top(bent, 45)).toBe(15)
  expect(Math.abs(top(straight, 17) - top(bent, 17))).toBeLessThanOrEqual(1)
  const [before, twisted] = [middle(straight), middle(await pixels(placed({ twist: [60] })))]
  expect(twisted.sum / before.sum).toBeCloseTo(1, 2)
  const back = await pixels(placed({ twist: [0] }))
  expect(sameBits(back, straight)).toBe(true)
})

test('a part of a bent and turned picture is that part of the whole', async () => {
  const shot = placed({ bend: [0.4], twist: [50], rotation: [20], scale: [0.7], topLeftX: [6] })
  const whole = await pixels(shot)
  const part: Window = { x: 20, y: 50, width: 40, height: 33 }
  const cut = await pixels(shot, 1001, part)
  for (let y = 0; y < part.height; y++)
    for (let i = 0; i < part.width * 4; i++) {
      const at = ((part.y - frame.y + y) * frame.width + part.x - frame.x) * 4 + i
      expect(cut[y * part.width * 4 + i]).toBe(whole[at])
    }
})

describe('motion blur of its own', () => {
  const crossing = keyed({ 1001: { value: 0, to: 'straight' }, 1005: { value: 48, to: 'straight' } })
  const shutterOf = (shot: Shot, time: number) => {
    const step = stepOf(shot, time)
    return step?.op === 'resample' ? step.shutter : []
  }

  test('light is kept, the middle is where the keyframes have it, and the trail is as long as speed times shutter', async () => {
    const before = middle(await pixels(plain, 1003))
    const blurred = await pixels(placed({ x: crossing }, { filter: 'bilinear' }), 1003)
    const after = middle(blurred)
    expect(after.sum / before.sum).toBeCloseTo(1, 4)
    expect([after.x - before.x, after.y - before.y]).toEqual([expect.closeTo(24, 1), expect.closeTo(0, 3)])
    // 12 px a frame, open for half of it: coverage rises over 6 px at the side of the disc.
    const row = alphaOf(blurred).slice((75 - frame.y) * frame.width, (76 - frame.y) * frame.width)
    const rising = row.filter((a) => a > 0.02 && a < 0.98).length
    expect(rising).toBeGreaterThanOrEqual(10)
    expect(rising).toBeLessThanOrEqual(16)
  })

  test('as many samples as its way has pixels, none where it stands still or its shutter is closed', () => {
    expect(shutterOf(placed({ x: crossing }), 1003)).toHaveLength(7)
    expect(shutterOf(placed({ x: crossing }), 1008)).toEqual([])
    expect(shutterOf(placed({ x: crossing }, { shutter: 'closed' }), 1003)).toEqual([])
    expect(shutterOf(placed({ x: crossing, angle: [360] }, { shutter: 'own' }), 1003)).toHaveLength(13)
    expect(shutterOf(placed({ x: crossing, angle: [360], samples: [5] }, { shutter: 'own' }), 1003)).toHaveLength(5)
  })

  test('it does not cross the end of a level piece', async () => {
    const jumping = keyed({ 1001: { value: 0, to: 'level' }, 1003: { value: 60, to: 'level' } })
    for (const time of [1002, 1003]) {
      const light = await pixels(placed({ x: jumping }), time)
      const still = await pixels(placed({ x: [time < 1003 ? 0 : 60] }), time)
      expect(sameBits(light, still)).toBe(true)
    }
  })

  test('nor the join of a loop', () => {
    const looped = [{ ...(crossing[0] as KeyedCurve), beyond: 'repeat' }] as const
    const samples = shutterOf(placed({ x: looped }), 1005)
    // Of the frame that begins again only what lies after the join: 3 px of way.
    expect(samples).toHaveLength(4)
    for (const { matrix } of samples) expect(Math.abs(matrix[2])).toBeLessThan(4)
  })

  test('a bend that is keyed is blurred as well, at any window the same', async () => {
    const shot = placed({ bend: keyed({ 1001: { value: 0, to: 'straight' }, 1005: { value: 1, to: 'straight' } }) })
    expect(shutterOf(shot, 1003).length).toBeGreaterThan(2)
    const part: Window = { x: 30, y: 20, width: 30, height: 40 }
    const [whole, cut] = [await pixels(shot, 1003), await pixels(shot, 1003, part)]
    expect(cut[4 * (10 * 30 + 12)]).toBe(whole[4 * ((30 - frame.y) * frame.width + 42 - frame.x)])
    expect(middle(whole).sum / middle(await pixels(plain, 1003)).sum).toBeCloseTo(1, 1)
  })
})

test('what comes before a field that is computed is taken into it: where the shutter moves it, nothing is left to be done twice', () => {
  const lens = { centre: [48, 32] as const, unit: 58, squeeze: 1, k1: -0.1, k2: 0, k3: 0, p1: 0, p2: 0 }
  const window = { x: 0, y: 0, width: 96, height: 64 }
  const { field } = byField(wayField({ way: [{ lens, leads: 'to-straight' }], window }))
  const [first, last] = [byShift(2, 0), byShift(5, 1)].map(({ matrix }) => ({ matrix }))
  const lies = { mapping: { field, ...first }, shutter: [first, last], filter: 'catmull-rom' } as const
  const all = behind(byShift(-4, 3), lies)
  expect(all?.shutter).toEqual([first, last])
  expect(all?.mapping.matrix).toEqual(first.matrix)
  expect(all?.mapping.field?.request.way?.way).toEqual([
    { matrix: byShift(-4, 3).matrix },
    { lens, leads: 'to-straight' },
  ])
  // With no field, each of the shutter's mappings takes it along.
  const plain = behind(byShift(-4, 3), { ...lies, mapping: { field: null, ...first } })
  expect(plain?.shutter.map(({ matrix }) => [matrix[2], matrix[5]])).toEqual([
    [-2, 3],
    [1, 4],
  ])
})
