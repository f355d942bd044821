import type { Step } from '../graph/steps'
import { along, wayBack } from '../motion/way'
import { newTreatment, trackAt, type Change, type Pin, type Shot } from '../shot'
import { localEngine } from '../test/local-engine'
import { edited, light, only, plan, window } from '../test/planned'
import { allThere, frameSize, pictureOf, smallShot, treated } from '../test/small-shot'
import { lightIn, sameBits } from '../test/windows'
import { PlanMemo } from './memo'
import { planInPlate } from './plan'
import { outputWay } from './whole'

/** Stabilised and reframed: the whole picture is moved once, before the sensor. The corner's track goes by 2.5, -0.5 from 1001 to 1002. */

const finish = { kind: 'finish' } as const
const corner: Pin = { tracks: ['corner'], frame: 1001, by: 'position' }
const reframed = (values: Record<string, number>, shot: Shot = smallShot, id = 'reframe') =>
  treated(
    shot,
    finish,
    newTreatment('reframe', id, Object.fromEntries(Object.entries(values).map(([k, v]) => [k, [v]]))),
  )
const steadied = (values: Record<string, number> = {}, pin: Pin | null = corner, shot: Shot = smallShot) => {
  const settings = newTreatment(
    'steady',
    'steady',
    Object.fromEntries(Object.entries(values).map(([k, v]) => [k, [v]])),
  )
  const with_ = treated(shot, finish, settings)
  return pin ? edited(with_, { kind: 'pin-treatment', treatment: 'steady', pin }) : with_
}
const planning = (shot: Shot) => ({ shot, scale: 1 as const, files: allThere(), memo: new PlanMemo() })
const samplings = (step: Step): number =>
  (step.op === 'resample' ? 1 : 0) + step.inputs.reduce((sum, one) => Math.max(sum, samplings(one)), 0)

describe('reframed', () => {
  test('by nothing, the picture is the same step', () => {
    expect(plan(reframed({})).composite.key).toBe(plan(smallShot).composite.key)
    expect(outputWay(planning(reframed({})), 1001)).toBeNull()
  })

  test('by whole pixels, every pixel is the one beside it, bit for bit, plate and all', async () => {
    const before = await light(smallShot)
    const after = await light(reframed({ x: 7, y: -4 }))
    const part = { x: 10, y: 8, width: 60, height: 50 }
    const beside = { ...part, x: part.x - 7, y: part.y + 4 }
    expect(sameBits(lightIn(after, window, part), lightIn(before, window, beside))).toBe(true)
  })

  test('what is shown or delivered by itself can be moved alike, and lies where it lies in the whole', async () => {
    const { moved, elements } = plan(reframed({ x: 7, y: -4 }))
    const cg = elements.get('cg')
    if (!moved || !cg) throw new Error('nothing to move')
    const [before, after] = await Promise.all([cg, moved(cg)].map((step) => localEngine(1).light(step, window)))
    const part = { x: 10, y: 8, width: 60, height: 50 }
    const beside = { ...part, x: part.x - 7, y: part.y + 4 }
    expect(sameBits(lightIn(after, window, part), lightIn(before, window, beside))).toBe(true)
    expect(plan(smallShot).moved).toBeNull()
  })

  test('scaled about the middle, a place of the frame shows what lay half as far out', async () => {
    const way = outputWay(planning(reframed({ scale: 2 })), 1001)
    expect(way && along(way)(frameSize.width, 0)).toEqual([
      expect.closeTo(frameSize.width * 0.75, 9),
      expect.closeTo(frameSize.height * 0.25, 9),
    ])
    expect(plan(reframed({ scale: 2 })).problems).toEqual([])
  })

  test('at half scale the same part is seen', async () => {
    const shot = reframed({ x: 10, y: 6, scale: 1.25, rotation: 8 }, only('plate'))
    const [full, half] = await Promise.all(
      ([1, 2] as const).map((scale) => {
        const { composite } = pictureOf(shot, 1001, scale)
        const all = { x: 0, y: 0, width: frameSize.width / scale, height: frameSize.height / scale }
        if (!composite) throw new Error('no picture')
        return localEngine(1).light(composite, all)
      }),
    )
    // Means of two by two of the full picture, away from its black border.
    const [w, at] = [frameSize.width, (x: number, y: number, c: number) => 4 * (y * frameSize.width + x) + c]
    for (const [x, y] of [
      [30, 24],
      [40, 30],
      [35, 20],
    ]) {
      const mean = [0, 1].reduce(
        (sum, j) => sum + [0, 1].reduce((row, i) => row + full[at(2 * x + i, 2 * y + j, 0)] / 4, 0),
        0,
      )
      expect(Math.abs(half[4 * (y * (w / 2) + x)] - mean)).toBeLessThan(0.05)
    }
  })
})

test('what witnesses read is not moved: the picture before it', () => {
  const shot = reframed({ x: 9, scale: 1.3 })
  const unmoved = planInPlate(shot, 1001, 1, allThere('a'))
  expect(unmoved.composite?.key).toBe(plan(smallShot).composite.key)
  expect(unmoved.composite?.key).not.toBe(plan(shot).composite.key)
  // Where nothing moves it is planned as it is.
  expect(planInPlate(smallShot, 1001, 1, allThere('a')).composite?.key).toBe(plan(smallShot).composite.key)
})

describe('stabilised', () => {
  test('on its own frame nothing is moved; on another the corner lies where it lay', () => {
    expect(plan(steadied(), 1001).composite.key).toBe(plan(smallShot, 1001).composite.key)
    const shot = steadied()
    const way = outputWay(planning(shot), 1002)
    const { corner: track } = shot.tracks.byId
    const [there, rest] = [trackAt(track, 1002), trackAt(track, 1001)]
    expect(way && along(way)(...rest)).toEqual([expect.closeTo(there[0], 9), expect.closeTo(there[1], 9)])
  })

  test('and reframed after it, all is one sampling', () => {
    const both = reframed({ scale: 1.1 }, steadied())
    const alone = samplings(plan(smallShot, 1002).composite)
    expect(samplings(plan(both, 1002).composite)).toBe(alone + 1)
    // A pixel goes back through the reframing first, then through the motion.
    const [way, still] = [outputWay(planning(both), 1002), outputWay(planning(steadied()), 1002)]
    const middle = [frameSize.width / 2, frameSize.height / 2] as const
    const [x, y] = (still && along(still)(...middle)) as [number, number]
    expect(way && along(way)(...middle)).toEqual([expect.closeTo(x, 9), expect.closeTo(y, 9)])
    expect(way && wayBack(way)).not.toBeNull()
  })

  test('by no tracks it moves nothing; by one that is gone it says so', () => {
    expect(plan(steadied({}, null), 1002).composite.key).toBe(plan(smallShot, 1002).composite.key)
    const gone = edited(steadied(), { kind: 'remove-track', track: 'corner' } as Change)
    expect(plan(gone, 1002).problems.map(({ sentence }) => sentence)).toEqual([
      'Stabilise: a track that it is pinned to is gone, so nothing of its motion is taken away.',
    ])
    expect(plan(gone, 1002).composite.key).toBe(plan(smallShot, 1002).composite.key)
  })

  test('what the sensor does comes after: its grain is not enlarged, and lies on what is not the plate', async () => {
    const grain = newTreatment('grain', 'grain', { shot: [0.02, 0.02, 0.02], read: [0.01, 0.01, 0.01] })
    const grainy = (shot: Shot) => treated(shot, { kind: 'sensor' }, grain)
    const plain = reframed({ x: 9 }, only('plate'))
    // Only the plate is there, moved: nothing was made, so there is no grain to add.
    expect(sameBits(await light(grainy(plain)), await light(plain))).toBe(true)
    const withCg = reframed({ scale: 1.2 }, only('plate', 'cg'))
    expect(sameBits(await light(grainy(withCg)), await light(withCg))).toBe(false)
  })
})
