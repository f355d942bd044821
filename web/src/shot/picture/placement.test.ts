import fc from 'fast-check'
import { cellsIn, centreFor, pictureAt, pictureInSight, placePicture } from './placement'

const place = { width: 800, height: 600 }
const frame = { width: 1280, height: 720 }

test('fit shows the whole picture as large as it can be, centred', () => {
  const { zoom, left, top } = placePicture(place, frame, null, { x: 0, y: 0 })
  expect(left).toBe(0)
  expect(left + frame.width * zoom).toBeCloseTo(place.width)
  expect(top + (frame.height * zoom) / 2).toBeCloseTo(300)
})

test('zooming keeps the picture point under the pointer to within half a screen pixel', () => {
  const numbers = fc.record({
    x: fc.integer({ min: 0, max: 800 }),
    y: fc.integer({ min: 0, max: 600 }),
    from: fc.double({ min: 0.1, max: 16, noNaN: true }),
    to: fc.double({ min: 0.1, max: 32, noNaN: true }),
  })
  fc.assert(
    fc.property(numbers, ({ x, y, from, to }) => {
      const before = placePicture(place, frame, from, { x: 600, y: 300 })
      const point = pictureAt(before, x, y)
      const after = placePicture(place, frame, to, centreFor(place, before, x, y, to))
      const moved = pictureAt(after, x, y)
      expect(Math.abs(moved.x - point.x) * to).toBeLessThanOrEqual(0.51)
      expect(Math.abs(moved.y - point.y) * to).toBeLessThanOrEqual(0.51)
    }),
  )
})

test('a zoomed picture starts on a whole screen pixel, so that its pixels are crisp', () => {
  const { left, top } = placePicture(place, frame, 4, { x: 100.3, y: 77.7 })
  expect([Number.isInteger(left), Number.isInteger(top)]).toEqual([true, true])
})

test('what is in sight holds every pixel whose place on screen is, and hardly more', () => {
  const points = fc.record({
    x: fc.double({ min: 0, max: 799.9, noNaN: true }),
    y: fc.double({ min: 0, max: 599.9, noNaN: true }),
    zoom: fc.double({ min: 0.2, max: 16, noNaN: true }),
    scale: fc.constantFrom(1, 2, 4),
  })
  fc.assert(
    fc.property(points, ({ x, y, zoom, scale }) => {
      const placement = placePicture(place, frame, zoom, { x: 600, y: 300 })
      const point = pictureAt(placement, x, y)
      const sight = pictureInSight(place, placement, scale)
      const [column, row] = [Math.floor(point.x / scale), Math.floor(point.y / scale)]
      expect(column >= sight.x && column < sight.x + sight.width).toBe(true)
      expect(row >= sight.y && row < sight.y + sight.height).toBe(true)
      expect(sight.width).toBeLessThanOrEqual(place.width / zoom / scale + 2)
    }),
  )
})

test('pictures on a board are as large as their place allows', () => {
  const wide = { width: 320, height: 180 }
  const room = { gap: 8, caption: 20 }
  // Three side by side make four rows; by width alone each could be 245 wide, by height less.
  expect(cellsIn({ width: 768, height: 598 }, wide, 10, room)).toEqual({ columns: 3, width: 212 })
  expect(cellsIn({ width: 2000, height: 200 }, wide, 10, room).columns).toBe(10)
  expect(cellsIn({ width: 200, height: 3000 }, wide, 10, room)).toEqual({ columns: 1, width: 184 })
})
