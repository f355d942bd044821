import fc from 'fast-check'
import { resample, wayField, type Lens, type Matrix3, type Way } from '../graph/steps'
import { byField, byMatrix, byShift, composed, inverseOf } from './mapping'
import { along, placesOver, lensAtScale, throughLens, wayAtScale, wayBack } from './way'
import { bent, straightener } from './lens'
import type { Spot } from './placing'
import { someFrame } from '../test/steps'

const barrel: Lens = { centre: [330, 170], unit: 367, squeeze: 1, k1: -0.08, k2: 0.01, k3: 0, p1: 0.001, p2: -0.0005 }
const squeezed: Lens = { ...barrel, centre: [310, 190], squeeze: 2, k1: 0.05, k2: 0 }
const turned: Matrix3 = [0.99, -0.04, 12, 0.05, 1.01, -7, 0.00004, -0.00002, 1]
const way = throughLens(turned, { from: barrel, to: squeezed })
const place = fc.tuple(fc.double({ min: 0, max: 640, noNaN: true }), fc.double({ min: 0, max: 360, noNaN: true }))
const near = ([x, y]: Spot, digits = 5) => [expect.closeTo(x, digits), expect.closeTo(y, digits)]

test('a way leads through each of its parts, one after the other', () => {
  const straight = straightener(barrel)(100, 80) as Spot
  const [x, y] = straight
  const w = turned[6] * x + turned[7] * y + 1
  const there: Spot = [(turned[0] * x + turned[1] * y + turned[2]) / w, (turned[3] * x + turned[4] * y + turned[5]) / w]
  expect(along(way)(100, 80)).toEqual(near(bent(squeezed, there), 9))
  expect(along([])(3, 4)).toEqual([3, 4])
})

test('back along it every place is itself again', () => {
  const [forth, back] = [along(way), along(wayBack(way) as Way)]
  fc.assert(
    fc.property(place, ([x, y]) => {
      const there = forth(x, y)
      expect(there && back(...there)).toEqual(near([x, y]))
    }),
  )
})

test('a matrix that flattens everything has no way back', () => {
  expect(wayBack([{ matrix: [1, 1, 0, 1, 1, 0, 0, 0, 1] }])).toBeNull()
})

test('in smaller pixels it is the same way', () => {
  const [full, half] = [along(way), along(wayAtScale(way, 2))]
  fc.assert(
    fc.property(place, ([x, y]) => {
      const there = half(x / 2, y / 2) as Spot
      expect(full(x, y)).toEqual(near([2 * there[0], 2 * there[1]]))
    }),
  )
  expect(lensAtScale(barrel, 4).unit).toBeCloseTo(barrel.unit / 4, 12)
})

test('beyond the fold it leads nowhere', () => {
  const folding = { ...barrel, k1: -0.6, k2: 0, p1: 0, p2: 0 }
  expect(along(throughLens(turned, { from: folding, to: folding }))(0, 0)).toBeNull()
})

describe('composed into one sampling', () => {
  const window = { x: 0, y: 0, width: 64, height: 36 }
  const small = wayAtScale(way, 10)
  const field = byField(wayField({ way: small, window }))
  const placeOf = (field: NonNullable<ReturnType<typeof composed>>['field'], x: number, y: number) => {
    const over = field?.request.way
    const at = 2 * (y * window.width + x)
    return over ? [...placesOver(over).subarray(at, at + 2)] : []
  }

  test('a matrix before a computed field is taken into it', () => {
    const first = byShift(3.25, -1.5)
    const both = composed(first, field)
    expect(both?.matrix).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1])
    expect(placeOf(both?.field ?? null, 5, 4)).toEqual(near(along(small)(5.5 + 3.25, 4.5 - 1.5) as Spot, 9))
    // Nothing is left of it where the way leads back.
    const back = composed(field, byField(wayField({ way: wayBack(small) as Way, window })))
    expect(placeOf(back?.field ?? null, 7, 9)).toEqual(near([7.5, 9.5]))
  })

  test('a matrix between two computed fields too, and one after them stays a matrix', () => {
    const between = byMatrix([0.98, 0.01, 2, -0.02, 1.02, 1, 0, 0, 1])
    const first = composed(field, between)
    const all = first && composed(composed(first, field) ?? first, byShift(4, 0))
    expect(all?.matrix).toEqual(byShift(4, 0).matrix)
    const through = along(small)
    const [x, y] = through(20.5, 10.5) as Spot
    const expected = through(0.98 * x + 0.01 * y + 2, -0.02 * x + 1.02 * y + 1) as Spot
    expect(placeOf(all?.field ?? null, 20, 10)).toEqual(near(expected, 9))
    expect(all && resample(someFrame(), all, 'catmull-rom').op).toBe('resample')
  })

  test('what comes from a file stays where it is: that takes two samplings', () => {
    const file = byField(someFrame({ takes: 'vec2' }))
    expect(composed(byShift(1, 0), file)).toBeNull()
    expect(composed(file, field)).toBeNull()
    expect(composed(field, byMatrix(inverseOf(turned) as Matrix3))?.field).toBe(field.field)
  })
})

describe('every pixel of a window', () => {
  const window = { x: -37, y: -11, width: 83, height: 45 }

  test.each([
    ['a barrel', barrel],
    ['one that folds inside the window', { ...barrel, centre: [0, 0] as const, unit: 40, k1: -0.3, p1: 0, p2: 0 }],
    ['a squeezed one', squeezed],
  ])('leads where the way leads, within 2e-6 px: %s', (_, lens) => {
    const leads = throughLens(turned, { from: lens, to: barrel })
    const through = along(leads)
    const places = placesOver({ way: leads, window })
    expect(places).toHaveLength(2 * window.width * window.height)
    let worst = 0
    let nowhere = 0
    for (let i = 0; i < places.length / 2; i++) {
      const place = through(window.x + (i % window.width) + 0.5, window.y + Math.floor(i / window.width) + 0.5)
      if (!place) nowhere++
      expect(Number.isNaN(places[2 * i])).toBe(place === null)
      if (place) worst = Math.max(worst, Math.abs(place[0] - places[2 * i]), Math.abs(place[1] - places[2 * i + 1]))
    }
    expect(worst).toBeLessThan(2e-6)
    expect(nowhere > 0).toBe(lens.unit === 40)
  })
})
