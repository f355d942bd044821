import fc from 'fast-check'
import { isConstantly, keyframesOf, valueAt, withKeyframe, withoutKeyframe, withValue, type Curve } from './curve'

const list = fc.uniqueArray(
  fc.record({ frame: fc.integer({ min: -50, max: 1200 }), value: fc.double({ min: -10, max: 10, noNaN: true }) }),
  { minLength: 1, maxLength: 8, selector: ({ frame }) => frame },
)
const curves = list.map((all) => all.reduce<Curve>((curve, { frame, value }) => withKeyframe(curve, frame, value), 0))

test('a plain number is the same on every frame', () => expect(valueAt(0.3, 1234.5)).toBe(0.3))

test('a curve goes through its keyframes, stays level outside, and never overshoots between two', () => {
  fc.assert(
    fc.property(curves, fc.double({ min: -60, max: 1210, noNaN: true }), (curve, time) => {
      const keyframes = keyframesOf(curve)
      for (const { frame, value } of keyframes) expect(valueAt(curve, frame)).toBeCloseTo(value, 12)
      const before = keyframes.filter((k) => k.frame <= time).at(-1) ?? keyframes[0]
      const after = keyframes.find((k) => k.frame >= time) ?? keyframes[keyframes.length - 1]
      expect(valueAt(curve, time)).toBeGreaterThanOrEqual(Math.min(before.value, after.value) - 1e-9)
      expect(valueAt(curve, time)).toBeLessThanOrEqual(Math.max(before.value, after.value) + 1e-9)
    }),
  )
})

test('keyframes are in order, one a frame, before frame 0 too', () => {
  let curve: Curve = 5
  for (const frame of [7, -3, 11, 7, -20]) curve = withKeyframe(curve, frame, frame / 10)
  expect(keyframesOf(curve).map(({ frame }) => frame)).toEqual([-20, -3, 7, 11])
})

test('setting a value on a plain curve keeps it plain, on a keyed one sets a keyframe', () => {
  expect(withValue(1, 1001, 2)).toBe(2)
  expect(withValue({ keyframes: { 1001: 1 } }, 1005, 2)).toEqual({ keyframes: { 1001: 1, 1005: 2 } })
})

test('taking the last keyframe away leaves the number it held', () =>
  expect(withoutKeyframe({ keyframes: { 1001: 4 } }, 1001)).toBe(4))

test('a curve is constantly a value when every keyframe holds it', () => {
  expect([isConstantly(1, 1), isConstantly({ keyframes: { 1: 1, 9: 1 } }, 1)]).toEqual([true, true])
  expect([isConstantly(0.9, 1), isConstantly({ keyframes: { 1: 1, 9: 0.5 } }, 1)]).toEqual([false, false])
})
