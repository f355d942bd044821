import {
  parseShot,
  matteBase,
  newPlacing,
  differences,
  newTreatment,
  seenOutline,
  usersOf,
  type Change,
  type DrawnMatte,
  type Matte,
  type Shot,
} from '../shot'
import type { Scale } from '../graph/steps'
import { localEngine } from '../test/local-engine'
import { cgElement, edited, plan } from '../test/planned'
import { allThere, loadMadeUp, smallShot, treated } from '../test/small-shot'
import { lightIn, mostDifference, sameBits } from '../test/windows'
import { matteOf } from './element'
import { PlanMemo } from './memo'
import { nodeAt } from './node'

/** Mattes that lie in an element, or move with it. The CG is a disc of 30 px about 45, 75. */

const frame = { x: 0, y: 0, width: 300, height: 150 }
const box = { x: 15, y: 45, width: 60, height: 60 }
const placed = (given: object, shot: Shot = smallShot): Shot =>
  edited(shot, {
    ...{ kind: 'place-element', element: 'cg', placing: { ...newPlacing(box, given as never), shutter: 'closed' } },
  } as Change)
const covered = {
  ...matteBase(smallShot, 'channel', 'Covered'),
  ...{ id: 'covered', kind: 'channel', source: 'cg', part: null, channel: 'A' },
} as Matte
const alpha = { ...matteBase(smallShot, 'alpha', 'Alpha'), id: 'alpha', kind: 'alpha', element: 'cg' } as Matte
const withMattes = edited(smallShot, { kind: 'add-matte', matte: covered }, { kind: 'add-matte', matte: alpha })
const inElement = (shot: Shot) => edited(shot, { kind: 'set-matte', matte: 'covered', changes: { lies: 'cg' } })

async function coverage(shot: Shot, matte: string, time = 1001, scale: Scale = 1): Promise<Float32Array> {
  const planning = { shot, scale, files: allThere(), memo: new PlanMemo() }
  const step = nodeAt(planning, { kind: 'matte', matte }, time)
  const size = { ...frame, width: frame.width / scale, height: frame.height / scale }
  return step ? localEngine(1, loadMadeUp).light(step, size) : new Float32Array(size.width * size.height * 4)
}
const grey = (light: Float32Array) => light.filter((_, i) => i % 4 === 0)

describe('of a source’s own pixels', () => {
  const moved = placed({ x: [12], y: [-6] }, withMattes)

  test('in the frame it stays where it is; in the element it goes with it, bit for bit by whole pixels', async () => {
    const [still, gone] = await Promise.all([coverage(moved, 'covered'), coverage(inElement(moved), 'covered')])
    expect(sameBits(still, await coverage(withMattes, 'covered'))).toBe(true)
    const part = { x: 60, y: 30, width: 80, height: 60 }
    const before = { ...part, x: part.x - 12, y: part.y + 6 }
    expect(sameBits(lightIn(gone, frame, part), lightIn(still, frame, before))).toBe(true)
    expect(mostDifference(gone, still)).toBeGreaterThan(0.5)
  })

  test('turned, scaled and bent by a lens it is what the element covers, at full and at half scale', async () => {
    const lens = newTreatment('lens', 'bent', { k1: [-0.12], k2: [0.03] })
    const bent = inElement(treated(placed({ rotation: [25], scale: [1.3], x: [30] }, withMattes), cgElement, lens))
    for (const scale of [1, 2] as const) {
      const [own, shown] = await Promise.all([
        coverage(bent, 'covered', 1001, scale),
        coverage(bent, 'alpha', 1001, scale),
      ])
      expect(grey(own).some((one) => one > 0.9)).toBe(true)
      expect(
        mostDifference(
          grey(own),
          grey(shown).map((one) => Math.min(1, Math.max(0, one))),
        ),
      ).toBeLessThan(1e-6)
    }
  })

  test('of files at half size it lies where they do, enlarged', async () => {
    const halves = edited(moved, { kind: 'set-source', source: 'cg', changes: { enlarge: 2 } })
    const [own, shown] = await Promise.all([coverage(inElement(halves), 'covered'), coverage(halves, 'alpha')])
    expect(grey(own).some((one) => one > 0.9)).toBe(true)
    expect(
      mostDifference(
        grey(own),
        grey(shown).map((one) => Math.min(1, Math.max(0, one))),
      ),
    ).toBeLessThan(1e-6)
  })

  test('an element that is limited by a matte of its own pixels is no circle', () => {
    const limit = { matte: { kind: 'matte', matte: 'covered' }, parameters: { amount: [1] } } as never
    const limited = treated(inElement(moved), cgElement, newTreatment('exposure', 'brighter', { stops: [1, 1, 1] }), {
      limit,
    })
    expect(plan(limited).problems).toEqual([])
  })

  test('an element that is gone is a problem that names the matte; nothing else is', () => {
    const without = edited(inElement(moved), { kind: 'remove-element', element: 'cg' })
    expect(usersOf(inElement(moved), { kind: 'element', id: 'cg' })).toContain('matte Covered 1')
    const planning = { shot: without, scale: 1 as const, files: allThere(), memo: new PlanMemo() }
    expect(nodeAt(planning, { kind: 'matte', matte: 'covered' }, 1001)).toBeNull()
    expect(matteOf(planning, 'covered', 1001).problems.map(({ sentence }) => sentence)).toEqual([
      'Matte Covered 1 lies in an element that is gone.',
    ])
    expect(differences(moved, inElement(moved))).toEqual(['what matte Covered 1 is made of'])
  })

  test('only what is made of a source lies in an element', () => {
    expect(() => edited(withMattes, { kind: 'set-matte', matte: 'alpha', changes: { lies: 'cg' } })).toThrow(
      /has no element in which it lies/,
    )
  })
})

describe('drawn', () => {
  const going = placed({
    x: [{ keyframes: { 1001: { value: 0, to: 'straight' }, 1005: { value: 40, to: 'straight' } } }],
  })
  const pinned = edited(going, { kind: 'pin-matte', matte: 'post', pin: { element: 'cg', frame: 1001 } })
  const outline = (shot: Shot, at: number) => {
    const matte = shot.mattes.byId.post as DrawnMatte
    return seenOutline({ shot, matte, shape: matte.shapes.byId.outline, frame: at }).map(({ x, y }) => [x, y])
  }
  const near = (places: readonly (readonly number[])[]) =>
    places.map((place) => place.map((one) => expect.closeTo(one, 6) as number))

  test('moving with an element from here on moves nothing on any keyframe, nor does letting go', () => {
    const keyframes = Object.keys((smallShot.mattes.byId.post as DrawnMatte).shapes.byId.outline.keyframes).map(Number)
    expect(keyframes.length).toBeGreaterThan(1)
    const loose = edited(pinned, { kind: 'pin-matte', matte: 'post', pin: null })
    for (const at of keyframes) {
      expect(outline(pinned, at)).toEqual(near(outline(going, at)))
      expect(outline(loose, at)).toEqual(near(outline(going, at)))
    }
  })

  test('between and beyond its keyframes it goes where the element goes', () => {
    const one = edited(
      going,
      { kind: 'set-shape-places', matte: 'post', shape: 'outline', frames: { 1005: null } },
      { kind: 'pin-matte', matte: 'post', pin: { element: 'cg', frame: 1001 } },
    )
    const before = outline(one, 1001)
    expect(outline(one, 1003)).toEqual(near(before.map(([x, y]) => [x + 20, y])))
    expect(outline(one, 1008)).toEqual(near(before.map(([x, y]) => [x + 40, y])))
  })

  test('an element that turns takes it along about its own pivot', () => {
    const turning = placed({
      x: [30],
      rotation: [{ keyframes: { 1001: { value: 20, to: 'straight' }, 1005: { value: 110, to: 'straight' } } }],
    })
    const one = edited(
      turning,
      { kind: 'set-shape-places', matte: 'post', shape: 'outline', frames: { 1005: null } },
      { kind: 'pin-matte', matte: 'post', pin: { element: 'cg', frame: 1001 } },
    )
    // The pivot is the middle of the box, moved by 30: a quarter turn about 75, 75.
    const turned = outline(one, 1001).map(([x, y]) => [75 - (y - 75), 75 + (x - 75)])
    expect(outline(one, 1005)).toEqual(near(turned))
  })

  test('pinned to a track that has ended it fades, and inverted it covers all then', async () => {
    // The corner's track ends on 1003.
    const pin = { tracks: ['corner'], frame: 1001, by: 'position', beyond: 'faded', fade: 4 } as const
    const fading = edited(smallShot, { kind: 'pin-matte', matte: 'post', pin })
    const sum = async (at: number, shot = fading) => grey(await coverage(shot, 'post', at)).reduce((a, b) => a + b, 0)
    const whole = await sum(1003)
    expect(whole).toBeGreaterThan(1000)
    expect(await sum(1005)).toBeCloseTo(whole / 2, 0)
    expect(await sum(1007)).toBe(0)
    const inverted = edited(fading, { kind: 'set-matte', matte: 'post', changes: { inverted: true } })
    expect(await sum(1007, inverted)).toBe(frame.width * frame.height)
    expect(await sum(1005, inverted)).toBeCloseTo(frame.width * frame.height - whole / 2, 0)
  })

  test('it is read again as it was, and says so where its element is gone', async () => {
    expect(parseShot(JSON.parse(JSON.stringify(pinned)), 'small.shot.json')).toEqual(pinned)
    expect(usersOf(pinned, { kind: 'element', id: 'cg' })).toContain('matte Post')
    const { byId } = pinned.elements
    const { cg: _cg, ...others } = byId
    const without: Shot = { ...pinned, elements: { byId: others } }
    const held = treated(without, { kind: 'element', id: 'front' }, newTreatment('holdout', 'out'), {
      limit: { matte: { kind: 'matte', matte: 'post' }, parameters: { amount: [1] } } as never,
    })
    expect(plan(held).problems.map(({ sentence }) => sentence)).toContain(
      'Matte Post: the element that it moves with is gone, so it stays where it is.',
    )
  })

  test('an element that is not there is refused', () => {
    expect(() =>
      edited(going, { kind: 'pin-matte', matte: 'post', pin: { element: 'nothing', frame: 1001 } }),
    ).toThrow()
  })
})
