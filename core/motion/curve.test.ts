import fc from 'fast-check'
import { keyedFrames, valueAt, withKey, withoutKey, withValue, type Curve } from './curve'

const keys = fc.uniqueArray(
  fc.record({ frame: fc.integer({ min: 1001, max: 1100 }), value: fc.double({ min: -5, max: 5, noNaN: true }) }),
  { minLength: 1, maxLength: 8, selector: (k) => k.frame },
)
const curves = keys.map((list) => list.reduce<Curve>((curve, { frame, value }) => withKey(curve, frame, value), 0))

test('a plain number holds on every frame', () => expect(valueAt(0.3, 99999)).toBe(0.3))

test('a curve goes through its keys, stays level outside, and never overshoots between two', () => {
  fc.assert(
    fc.property(curves, fc.integer({ min: 990, max: 1110 }), (curve, frame) => {
      if (typeof curve === 'number') throw new Error('not keyed')
      for (const key of curve.keys) expect(valueAt(curve, key.frame)).toBeCloseTo(key.value, 12)
      const before = curve.keys.filter((k) => k.frame <= frame).at(-1) ?? curve.keys[0]
      const after = curve.keys.find((k) => k.frame >= frame) ?? curve.keys.at(-1)
      const ends = [before.value, after?.value ?? 0]
      expect(valueAt(curve, frame)).toBeGreaterThanOrEqual(Math.min(...ends) - 1e-9)
      expect(valueAt(curve, frame)).toBeLessThanOrEqual(Math.max(...ends) + 1e-9)
    }),
  )
})

test('keys stay in order, one a frame', () => {
  fc.assert(
    fc.property(curves, (curve) => {
      const frames = keyedFrames(curve)
      expect(frames).toEqual([...new Set(frames)].sort((a, b) => a - b))
    }),
  )
})

test('setting a value on a plain curve keeps it plain, on a keyed one sets a key', () => {
  expect(withValue(1, 1005, 2)).toBe(2)
  expect(withValue(withKey(1, 1001, 1), 1005, 2)).toEqual({
    keys: [
      { frame: 1001, value: 1 },
      { frame: 1005, value: 2 },
    ],
  })
})

test('taking the last key away leaves the number it held', () =>
  expect(withoutKey(withKey(0, 1003, 0.7), 1003)).toBe(0.7))
