import fc from 'fast-check'
import { throughMatrix } from './mapping'
import { rectangleSeen } from './rectangle-seen'
import { rectangleBefore as seen } from './test/rectangle-before'

test('whatever way it is turned, its shape and the focal length come back, and its corners', () => {
  const angle = (least: number, most: number) => fc.double({ min: least, max: most, noNaN: true })
  fc.assert(
    fc.property(
      fc.double({ min: 0.2, max: 5, noNaN: true }),
      fc.double({ min: 300, max: 4000, noNaN: true }),
      fc.tuple(angle(0.2, 0.9), angle(0.2, 0.9), angle(-0.3, 0.3)),
      fc.tuple(angle(-200, 900), angle(-100, 700)),
      (ratio, focal, turns, middle) => {
        const corners = seen(ratio, 1, focal, turns, middle)
        const found = rectangleSeen(corners, middle)
        expect(found?.ratio).toBeCloseTo(ratio, 6)
        expect((found?.focal ?? 0) / focal).toBeCloseTo(1, 6)
        if (!found) return
        const units = [
          [0, 0],
          [1, 0],
          [1, 1],
          [0, 1],
        ] as const
        units.forEach(([u, v], i) => {
          const place = throughMatrix(found.matrix, u, v) ?? [NaN, NaN]
          expect(place[0]).toBeCloseTo(corners[i][0], 6)
          expect(place[1]).toBeCloseTo(corners[i][1], 6)
        })
      },
    ),
  )
})

test('from straight ahead, with two sides parallel, and where they fold, nothing is told', () => {
  expect(rectangleSeen(seen(2, 1, 1000, [0, 0, 0], [640, 360]), [640, 360])).toBeNull()
  expect(rectangleSeen(seen(2, 1, 1000, [0.5, 0, 0], [640, 360]), [640, 360])).toBeNull()
  const folded = [
    [0, 0],
    [10, 10],
    [10, 0],
    [0, 10],
  ] as const
  expect(rectangleSeen(folded, [5, 5])).toBeNull()
})
