import fc from 'fast-check'
import { leastOfParabola } from './least-of-parabola'

test('a parabola’s lowest point, value and bend are found from any places', () => {
  const number = (least: number, most: number) => fc.double({ min: least, max: most, noNaN: true })
  fc.assert(
    fc.property(number(-2, 2), number(-5, 5), number(0.1, 9), (at, value, bend) => {
      const xs = [0.4, 0.7, 1, 1.45, 1.6]
      const found = leastOfParabola(
        xs,
        xs.map((x) => value + (bend / 2) * (x - at) ** 2),
      )
      expect(found?.at).toBeCloseTo(at, 6)
      expect(found?.value).toBeCloseTo(value, 6)
      expect(found?.bend).toBeCloseTo(bend, 6)
    }),
  )
})

test('what bends the other way, or not at all, has none', () => {
  expect(leastOfParabola([0, 1, 2], [0, 1, 0])).toBeNull()
  expect(leastOfParabola([0, 1, 2], [0, 1, 2])).toBeNull()
})
