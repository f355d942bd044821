import fc from 'fast-check'
import { inverseOf, multiplied, throughMatrix } from './mapping'
import {
  atScale,
  cornerMatrix,
  cornersOf,
  isConvex,
  longestWay,
  placementMatrix,
  placementOf,
  type Placement,
} from './placing'

const still: Placement = { x: 0, y: 0, rotation: 0, scale: 1, stretch: 1, skew: 0, pivotX: 40, pivotY: 30 }
const where = (given: Partial<Placement>, x: number, y: number) =>
  throughMatrix(placementMatrix({ ...still, ...given }), x, y)
const close = (x: number, y: number) => [expect.closeTo(x, 9), expect.closeTo(y, 9)]

test('nothing given is nothing moved, to the bit', () =>
  expect(placementMatrix(still).map((v) => v + 0)).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1]))

test('the pivot stays where it is, however it is turned, scaled and skewed', () =>
  expect(where({ rotation: 33, scale: 2, stretch: 0.7, skew: 12 }, 40, 30)).toEqual(close(40, 30)))

test('turning is clockwise as the frame is seen, skew leans what is higher to the right', () => {
  expect(where({ rotation: 90 }, 50, 30)).toEqual([40, 40])
  expect(where({ scale: 2 }, 50, 35)).toEqual(close(60, 40))
  expect(where({ scale: 2, stretch: 3 }, 50, 35)).toEqual(close(100, 40))
  expect(where({ skew: 45 }, 40, 20)).toEqual(close(50, 20))
  expect(where({ x: 7, y: -2 }, 1, 1)).toEqual(close(8, -1))
})

test('the numbers of a matrix are those it was made of', () => {
  fc.assert(
    fc.property(
      fc.double({ min: -179, max: 179, noNaN: true }),
      fc.double({ min: 0.1, max: 9, noNaN: true }),
      fc.double({ min: 0.1, max: 9, noNaN: true }),
      fc.double({ min: -80, max: 80, noNaN: true }),
      (rotation, scale, stretch, skew) => {
        const found = placementOf(placementMatrix({ ...still, rotation, scale, stretch, skew }))
        expect(found?.rotation).toBeCloseTo(rotation, 6)
        expect(found?.scale).toBeCloseTo(scale, 6)
        expect(found?.stretch).toBeCloseTo(stretch, 6)
        expect(found?.skew).toBeCloseTo(skew, 6)
      },
    ),
  )
})

describe('a corner pin', () => {
  const box = { x: 10, y: 20, width: 100, height: 50 }
  const pulled = [
    [5, 22],
    [120, 14],
    [110, 90],
    [14, 75],
  ] as const

  test('leads each corner to where it is pulled, and straight lines stay straight', () => {
    const matrix = cornerMatrix(box, pulled)
    if (!matrix) throw new Error('folded')
    cornersOf(box).forEach(([x, y], i) =>
      expect(throughMatrix(matrix, x, y)).toEqual(close(pulled[i][0], pulled[i][1])),
    )
    const line = [0, 0.3, 1].map((t) => throughMatrix(matrix, 10 + 100 * t, 20 + 50 * t) ?? [0, 0])
    const [[ax, ay], [bx, by], [cx, cy]] = line
    expect((bx - ax) * (cy - ay) - (by - ay) * (cx - ax)).toBeCloseTo(0, 6)
  })

  test('corners that are not pulled move nothing', () =>
    expect(cornerMatrix(box, cornersOf(box))).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1].map((v) => expect.closeTo(v, 12))))

  test('folds where two corners have changed places, or one lies inside the others', () => {
    const [a, b, c, d] = cornersOf(box)
    expect(isConvex([a, b, c, d])).toBe(true)
    for (const folded of [
      [b, a, c, d],
      [a, b, [40, 35], d],
      [a, a, c, d],
    ] as const)
      expect(cornerMatrix(box, folded)).toBeNull()
  })
})

test('at half scale a place is half of what it is at full scale', () => {
  const matrix = multiplied(placementMatrix({ ...still, rotation: 20, x: 9 }), [1, 0, 0, 0, 1, 0, 0.001, 0.0005, 1])
  const [x, y] = throughMatrix(matrix, 60, 80) ?? [0, 0]
  expect(throughMatrix(atScale(matrix, 2), 30, 40)).toEqual(close(x / 2, y / 2))
  expect(inverseOf(atScale(matrix, 2))).not.toBeNull()
})

test('the longest way is that of the corner that travels farthest', () => {
  const turns = [0, 30, 60, 90].map((rotation) => placementMatrix({ ...still, pivotX: 0, pivotY: 0, rotation }))
  const chord = 2 * Math.hypot(30, 40) * Math.sin((15 * Math.PI) / 180)
  expect(longestWay({ x: 0, y: 0, width: 30, height: 40 }, turns)).toBeCloseTo(3 * chord, 9)
})
