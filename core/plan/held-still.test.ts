import { newTreatment, pinRestingOn, type Pin } from '../shot'
import { edited, light, plan, window } from '../test/planned'
import { allThere, smallShot, treated } from '../test/small-shot'
import { lightIn, sameBits } from '../test/windows'
import { heldStill, unmovedByFinish } from './held-still'
import { PlanMemo } from './memo'
import { planInPlate } from './plan'
import { outputWay } from './whole'

/** Held still for the eye. The corner's track goes by 2.5, -0.5 from 1001 to 1002. */

const corner: Pin = { tracks: ['corner'], frame: 1001, by: 'position' }
const reframed = treated(smallShot, { kind: 'finish' }, newTreatment('reframe', 'reframe', { x: [9] }))
const wayOf = (shot: typeof smallShot, frame: number) =>
  outputWay({ shot, scale: 1, files: allThere(), memo: new PlanMemo() }, frame)

test('what the track follows stays where it is on the frame of the pin', () => {
  const held = heldStill(smallShot, corner)
  expect(wayOf(held, 1001)).toBeNull()
  expect(wayOf(held, 1002)).toEqual([
    { matrix: [1, 0, expect.closeTo(2.5, 9), 0, 1, expect.closeTo(-0.5, 9), 0, 0, 1] },
  ])
})

test('on the frame of the pin every bit of the picture stands, whatever the finish moves', async () => {
  const [held, before] = await Promise.all([light(heldStill(reframed, corner)), light(smallShot)])
  expect(sameBits(lightIn(held, window, window), lightIn(before, window, window))).toBe(true)
  expect(wayOf(reframed, 1001)).not.toBeNull()
})

test('what is read in the plate is the same, held or not', () => {
  const keyOf = (shot: typeof smallShot) => planInPlate(shot, 1002, 1, allThere()).composite?.key
  expect(keyOf(heldStill(smallShot, corner))).toBe(keyOf(smallShot))
  expect(plan(heldStill(smallShot, corner), 1002).composite.key).not.toBe(plan(smallShot, 1002).composite.key)
})

test('the same shot held on the same tracks is the same document, and the shot itself is as it was', () => {
  const uses = smallShot.uses
  expect(heldStill(smallShot, corner)).toBe(heldStill(smallShot, corner))
  expect(smallShot.uses).toBe(uses)
  expect(unmovedByFinish(smallShot)).toBe(smallShot)
})

test('where a track is not known the picture is held as on the nearest frame where it is', () => {
  expect(pinRestingOn(smallShot, corner, 900)?.frame).toBe(1001)
  expect(pinRestingOn(smallShot, corner, 1002)).toEqual({ ...corner, frame: 1002 })
  const without = edited(smallShot, { kind: 'remove-track', track: 'corner' })
  expect(pinRestingOn(without, corner, 1001)).toBeNull()
})

test('a track that is removed while the picture is held on it is a problem that is said, and the picture is there', () => {
  const without = edited(smallShot, { kind: 'remove-track', track: 'corner' })
  const { composite, problems } = plan(heldStill(without, corner), 1002)
  expect(composite.key).toBe(plan(without, 1002).composite.key)
  expect(problems.length).toBe(1)
})
