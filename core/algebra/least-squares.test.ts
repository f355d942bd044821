import fc from 'fast-check'
import { leastSquares } from './least-squares'

test('finds the valley of Rosenbrock (1960), which bends', () => {
  const { at } = leastSquares([-1.2, 1], ([x, y]) => Float64Array.of(10 * (y - x * x), 1 - x))
  expect(at).toEqual([expect.closeTo(1, 6), expect.closeTo(1, 6)])
})

test('a straight line through places is that of the sums', () => {
  const y = [1, 3, 2, 5]
  const { at } = leastSquares([0, 0], ([a, b]) => Float64Array.from(y, (one, x) => a + b * x - one))
  expect(at).toEqual([expect.closeTo(1.1, 6), expect.closeTo(1.1, 6)])
})

test('it never leaves more than where it began', () => {
  fc.assert(
    fc.property(fc.array(fc.double({ min: -3, max: 3, noNaN: true }), { minLength: 2, maxLength: 2 }), (from) => {
      const of = ([a, b]: readonly number[]) => Float64Array.of(Math.sin(a) + b, a * b - 1, 0.1 * a)
      const sum = (left: Float64Array) => left.reduce((total, one) => total + one * one, 0)
      expect(sum(leastSquares(from, of).left)).toBeLessThanOrEqual(sum(of(from)))
    }),
  )
})

test('where a number says nothing it stays, and nothing breaks', () => {
  const { at } = leastSquares([0, 7], ([a]) => Float64Array.of(a - 2, a - 2))
  expect(at).toEqual([expect.closeTo(2, 9), 7])
})
