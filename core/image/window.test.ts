import fc from 'fast-check'
import {
  contains,
  emptyWindow,
  intersect,
  isEmpty,
  pixelCount,
  reduceWindow,
  tilesOf,
  union,
  type Window,
} from './window'

const windows = fc.record({
  x: fc.integer({ min: -40, max: 40 }),
  y: fc.integer({ min: -40, max: 40 }),
  width: fc.integer({ min: 0, max: 50 }),
  height: fc.integer({ min: 0, max: 50 }),
})
const has = (w: Window, x: number, y: number) => x >= w.x && y >= w.y && x < w.x + w.width && y < w.y + w.height
const points = fc.tuple(fc.integer({ min: -60, max: 110 }), fc.integer({ min: -60, max: 110 }))

test('a point is in the intersection exactly when it is in both', () => {
  fc.assert(
    fc.property(windows, windows, points, (a, b, [x, y]) => {
      expect(has(intersect(a, b), x, y)).toBe(has(a, x, y) && has(b, x, y))
    }),
  )
})

test('the union holds both, and nothing smaller would', () => {
  fc.assert(
    fc.property(windows, windows, (a, b) => {
      const both = union(a, b)
      expect(contains(both, a) && contains(both, b)).toBe(true)
      if (isEmpty(a) || isEmpty(b)) return
      expect(both.x === a.x || both.x === b.x).toBe(true)
      expect([a.x + a.width, b.x + b.width]).toContain(both.x + both.width)
      expect([a.y + a.height, b.y + b.height]).toContain(both.y + both.height)
    }),
  )
})

test('every window contains the empty one, and itself', () => {
  fc.assert(
    fc.property(windows, (w) => {
      expect(contains(w, emptyWindow)).toBe(true)
      expect(contains(w, w)).toBe(true)
    }),
  )
})

test('tiles cover every pixel exactly once', () => {
  fc.assert(
    fc.property(windows, fc.integer({ min: 4, max: 20 }), fc.integer({ min: 4, max: 20 }), (w, width, height) => {
      const tiles = tilesOf(w, width, height)
      expect(tiles.reduce((sum, tile) => sum + pixelCount(tile), 0)).toBe(pixelCount(w))
      tiles.forEach((tile, i) => {
        expect(contains(w, tile)).toBe(true)
        for (const other of tiles.slice(i + 1)) expect(isEmpty(intersect(tile, other))).toBe(true)
      })
    }),
  )
})

test('a reduced window holds every pixel that any source pixel falls into, and no others', () => {
  fc.assert(
    fc.property(windows, fc.constantFrom(2, 4), points, (w, scale, [x, y]) => {
      const reduced = reduceWindow(w, scale)
      if (has(w, x, y)) expect(has(reduced, Math.floor(x / scale), Math.floor(y / scale))).toBe(true)
      const touches = !isEmpty(intersect(w, { x: x * scale, y: y * scale, width: scale, height: scale }))
      expect(has(reduced, x, y)).toBe(touches)
    }),
  )
})
