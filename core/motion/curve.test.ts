import fc from 'fast-check'
import {
  isConstantly,
  jumpsOf,
  keyframesOf,
  mappedCurve,
  rateOf,
  steadily,
  valueAt,
  ways,
  withKeyframe,
  withoutKeyframe,
  withValue,
  type BeyondKeyframes,
  type Curve,
  type KeyframeSettings,
  type Way,
} from './curve'

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

describe('ways from a keyframe to the next', () => {
  const from = (to: Way, more: Partial<KeyframeSettings> = {}): Curve => ({
    keyframes: { 0: { value: 0, to, ...more }, 10: 4 },
  })
  const at = (to: Way, time: number) => valueAt(from(to), time)

  test('level stays until the next, straight is in the middle half-way, gentle too, but slow where it stops', () => {
    expect([at('level', 9.99), at('level', 10)]).toEqual([0, 4])
    expect([at('straight', 2.5), at('straight', 5)]).toEqual([1, 2])
    expect(at('gentle', 5)).toBeCloseTo(2, 12)
    expect(at('gentle', 1)).toBeCloseTo(4 * (0.03 - 0.002), 12)
    expect(at('gentle-start', 1)).toBeCloseTo(0.04, 12)
    expect(at('gentle-end', 9)).toBeCloseTo(4 - 0.04, 12)
  })

  test('pop goes beyond the next value, comes back, and ends just on it', () => {
    const values = Array.from({ length: 101 }, (_, i) => at('pop', i / 10))
    expect([values[0], values[100]]).toEqual([0, 4])
    expect(Math.max(...values)).toBeGreaterThan(4.3)
    const top = values.indexOf(Math.max(...values))
    expect(Math.min(...values.slice(top))).toBeLessThan(4)
    for (const value of values.slice(80)) expect(Math.abs(value - 4)).toBeLessThan(0.05)
  })

  test('every way goes through both its keyframes', () => {
    for (const to of ways) for (const time of [0, 10]) expect(at(to, time)).toBeCloseTo(time === 0 ? 0 : 4, 12)
  })

  test('a smooth line has no corner, and its slope is that of its handles', () => {
    const curve: Curve = {
      keyframes: {
        0: { value: 0, to: 'smooth', after: 0.7 },
        10: { value: 4, to: 'smooth', before: -0.3, after: -0.3 },
        14: { value: 1, to: 'smooth' },
        20: { value: 2, to: 'smooth' },
      },
    }
    const slope = (time: number, side: -1 | 1) =>
      ((valueAt(curve, time + side * 1e-6) - valueAt(curve, time)) / 1e-6) * side
    expect([slope(0, 1), slope(10, -1), slope(10, 1)]).toEqual([
      expect.closeTo(0.7, 4),
      expect.closeTo(-0.3, 4),
      expect.closeTo(-0.3, 4),
    ])
    // By its neighbours: from 4 at 10 to 2 at 20.
    expect([slope(14, -1), slope(14, 1)]).toEqual([expect.closeTo(-0.2, 4), expect.closeTo(-0.2, 4)])
  })
})

describe('beyond the keyframes', () => {
  const saw: Curve = { keyframes: { 10: { value: 0, to: 'straight' }, 14: 8 } }
  const beyond = (how: BeyondKeyframes): Curve => ({ ...saw, beyond: how })

  test('level, again, to and fro, or on at the slope', () => {
    expect([5, 20].map((time) => valueAt(saw, time))).toEqual([0, 8])
    expect([9, 11, 14, 15, 18].map((time) => valueAt(beyond('repeat'), time))).toEqual([6, 2, 0, 2, 0])
    expect([9, 11, 15, 19].map((time) => valueAt(beyond('ping-pong'), time))).toEqual([2, 2, 6, 2])
    expect([8, 16].map((time) => valueAt(beyond('go-on'), time))).toEqual([
      expect.closeTo(-4, 9),
      expect.closeTo(12, 9),
    ])
  })

  test('a constant rate is one keyframe that goes on: it has its rate for ever', () => {
    const steady = steadily(1001, 5, 0.25)
    expect([1001, 1005, 997, 3001].map((time) => valueAt(steady, time))).toEqual([5, 6, 4, 505])
    expect(rateOf(steady)).toBe(0.25)
    expect([rateOf(saw), rateOf(3), rateOf(beyond('go-on'))]).toEqual([null, null, null])
    expect(isConstantly(steady, 5)).toBe(false)
  })

  test('jumps are where a level piece ends, and where a repeated curve begins again elsewhere', () => {
    const stepped: Curve = { keyframes: { 10: { value: 0, to: 'level' }, 14: { value: 8, to: 'straight' }, 20: 9 } }
    expect(jumpsOf(stepped, 9, 30)).toEqual([14])
    expect(jumpsOf(stepped, 14, 30)).toEqual([])
    expect(jumpsOf(beyond('repeat'), 9, 20)).toEqual([10, 14, 18])
    expect(jumpsOf(beyond('ping-pong'), 9, 20)).toEqual([])
    for (const how of ['repeat', 'ping-pong'] as const) {
      const curve: Curve = { ...stepped, beyond: how }
      const found = jumpsOf(curve, -20, 60)
      for (let time = -19.99; time < 60; time += 0.01) {
        const leap = Math.abs(valueAt(curve, time) - valueAt(curve, time - 0.01)) > 4
        if (leap) expect(found.some((one) => one > time - 0.011 && one <= time + 1e-9)).toBe(true)
      }
    }
  })
})

test('a keyframe keeps its way when its value changes; a new one goes on as the piece it lies in', () => {
  const curve: Curve = { keyframes: { 1: { value: 0, to: 'gentle', after: 2 }, 9: 1 } }
  expect(withValue(curve, 1, 3)).toEqual({ keyframes: { 1: { value: 3, to: 'gentle', after: 2 }, 9: 1 } })
  expect(withValue(curve, 5, 3)).toMatchObject({ keyframes: { 5: { value: 3, to: 'gentle' } } })
  expect(withKeyframe(7, 5, 7, 'smooth')).toEqual({ keyframes: { 5: { value: 7, to: 'smooth' } } })
})

test('a straight function of a curve is that of its values, between its keyframes too', () => {
  const curve: Curve = { keyframes: { 0: { value: 1, to: 'smooth', after: 3 }, 10: { value: 2, to: 'pop' }, 16: 0 } }
  for (const time of [-3, 0, 2.5, 10, 11.3, 20])
    expect(valueAt(mappedCurve(curve, -2, 5), time)).toBeCloseTo(valueAt(curve, time) * -2 + 5, 12)
})
