import fc from 'fast-check'
import { solved } from './solved'

const number = fc.double({ min: -10, max: 10, noNaN: true })

describe('linear equations', () => {
  it('are solved, also where the first pivot is zero', () => {
    // 2 y + z = 5, x + z = 3, 3 x + y = 5
    const found = solved([0, 2, 1, 1, 0, 1, 3, 1, 0], [5, 3, 5]) as Float64Array
    ;[1.142857142857143, 1.5714285714285714, 1.8571428571428572].forEach((value, i) =>
      expect(found[i]).toBeCloseTo(value, 12),
    )
  })

  it('tell what was put in, whatever it is', () => {
    fc.assert(
      fc.property(
        fc.array(fc.array(number, { minLength: 4, maxLength: 4 }), { minLength: 4, maxLength: 4 }),
        fc.array(number, { minLength: 4, maxLength: 4 }),
        (rows, wanted) => {
          // Made strong along the diagonal, so that they tell.
          const matrix = rows.flatMap((row, i) => row.map((value, j) => value + (i === j ? 50 : 0)))
          const right = rows.map((_, i) => wanted.reduce((sum, value, j) => sum + matrix[i * 4 + j] * value, 0))
          const found = solved(matrix, right) as Float64Array
          wanted.forEach((value, i) => expect(found[i]).toBeCloseTo(value, 9))
        },
      ),
    )
  })

  it('that say the same twice are not solved', () => {
    expect(solved([1, 2, 2, 4], [3, 6])).toBeNull()
    expect(solved([0, 0, 0, 0], [0, 0])).toBeNull()
  })
})
