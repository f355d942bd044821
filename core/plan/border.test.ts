import { newTreatment } from '../shot'
import { allThere, frameSize, smallShot, treated } from '../test/small-shot'
import { borderOf } from './border'
import { PlanMemo } from './memo'

const { width, height } = frameSize
const of = (values: Record<string, readonly number[]>) =>
  borderOf({
    shot: treated(smallShot, { kind: 'finish' }, newTreatment('reframe', 'reframe', values)),
    ...{ scale: 1, files: allThere(), memo: new PlanMemo() },
  })

test('a picture that is not moved, or enlarged, has none', () => {
  expect(of({})).toEqual({ pixels: 0, frame: smallShot.frames.first, filledBy: 1 })
  expect(of({ scale: [1.5] }).pixels).toBe(0)
})

test('one that is moved aside comes in by so much, and is filled by so much scale', () => {
  const { pixels, filledBy } = of({ x: [12] })
  expect(pixels).toBeCloseTo(12, 6)
  // Half of the frame's width must become what is left of it on that side.
  expect(filledBy).toBeCloseTo(width / 2 / (width / 2 - 12), 3)
})

test('one that moves in the course of the shot is told by its worst frame', () => {
  const moving = { keyframes: { 1001: { value: 0, to: 'straight' }, 1005: { value: 16, to: 'straight' } } }
  const { pixels, frame } = of({ x: [moving as never] })
  expect([pixels, frame]).toEqual([expect.closeTo(16, 6), 1005])
})

test('one that is made smaller by half lacks half of its size on each side', () => {
  const { pixels, filledBy } = of({ scale: [0.5] })
  expect(pixels).toBeCloseTo(Math.max(width, height) / 2, 6)
  expect(filledBy).toBeCloseTo(2, 3)
})
