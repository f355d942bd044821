import fc from 'fast-check'
import type { Planes } from '../image/planes'
import type { Window } from '../image/window'
import { holesIn, isUpsideDown } from './map-faults'

const display: Window = { x: 3, y: -2, width: 40, height: 24 }
const wide: Window = { x: -5, y: -8, width: 56, height: 36 }

/** @param place where a pixel's centre is led, both as shares of the display window */
function mapOver(dataWindow: Window, place: (u: number, v: number) => readonly [number, number]): Planes {
  const pixels = Array.from({ length: dataWindow.width * dataWindow.height }, (_, i) => [
    dataWindow.x + (i % dataWindow.width) + 0.5,
    dataWindow.y + Math.floor(i / dataWindow.width) + 0.5,
  ])
  const places = pixels.map(([x, y]) => place((x - display.x) / display.width, (y - display.y) / display.height))
  return {
    displayWindow: display,
    dataWindow,
    planes: ['R', 'G'].map((name, axis) => ({
      name,
      type: 'float',
      samples: Float32Array.from(places, (one) => one[axis]),
    })),
  }
}
const plain = (u: number, v: number) => [u, v] as const
/** Without a number at some pixels of the display window, of red or of green. */
function without(map: Planes, spots: readonly (readonly [x: number, y: number, axis: 0 | 1, value: number])[]) {
  const { x: left, y: top, width } = map.dataWindow
  for (const [x, y, axis, value] of spots) map.planes[axis].samples[(y - top) * width + x - left] = value
  return map
}

test('a map of the whole frame has no holes, whether it goes on beyond it or not', () => {
  expect(holesIn(mapOver(display, plain))).toBeNull()
  expect(holesIn(mapOver(wide, plain))).toBeNull()
})

test('pixels without a number in either channel are holes, the first one told; those beyond the frame are none', () => {
  const map = without(mapOver(wide, plain), [
    [30, 5, 0, NaN],
    [30, 5, 1, NaN],
    [12, 9, 1, Infinity],
    [-4, -7, 0, NaN],
  ])
  expect(holesIn(map)).toEqual({ count: 2, x: 30, y: 5 })
})

test('what lies outside the data window is a hole', () => {
  const cut = { x: 8, y: -2, width: 60, height: 20 }
  expect(holesIn(mapOver(cut, plain))).toEqual({ count: 5 * 20 + 40 * 4, x: 3, y: -2 })
})

test('a lens’s map is not upside down, and is when it is turned over, however strongly it bends', () => {
  const bow = fc.double({ min: -0.35, max: 0.35, noNaN: true })
  fc.assert(
    fc.property(bow, bow, fc.constantFrom(display, wide), (k, shift, window) => {
      const bent = (u: number, v: number) => {
        const r = 1 + k * ((u - 0.5) ** 2 + (v - 0.5) ** 2)
        return [0.5 + (u - 0.5) * r, 0.5 + (v - 0.5) * r + 0.2 * shift] as const
      }
      const turned = (u: number, v: number) => [bent(u, v)[0], 1 - bent(u, v)[1]] as const
      expect(isUpsideDown(mapOver(window, bent))).toBe(false)
      expect(isUpsideDown(mapOver(window, turned))).toBe(true)
    }),
  )
})

test('holes say nothing about which way it lies', () => {
  const spots = Array.from({ length: 300 }, (_, i) => [3 + (i % 40), -2 + Math.floor(i / 40), 1, NaN] as const)
  expect(isUpsideDown(without(mapOver(display, plain), spots))).toBe(false)
  expect(
    isUpsideDown(
      without(
        mapOver(display, (u, v) => [u, 1 - v]),
        spots,
      ),
    ),
  ).toBe(true)
})

test('a map that leads everywhere to one height lies neither way up', () => {
  expect(isUpsideDown(mapOver(wide, (u) => [u, 0.5]))).toBe(false)
})

test('a frame that begins far from 0,0 is looked at in its own shares', () => {
  const by = 300
  const shifted = (map: Planes): Planes => ({
    ...map,
    displayWindow: { ...map.displayWindow, y: map.displayWindow.y + by },
    dataWindow: { ...map.dataWindow, y: map.dataWindow.y + by },
  })
  expect(isUpsideDown(shifted(mapOver(wide, plain)))).toBe(false)
  expect(isUpsideDown(shifted(mapOver(wide, (u, v) => [u, 1 - v])))).toBe(true)
  expect(holesIn(shifted(mapOver({ ...display, height: 23 }, plain)))).toEqual({ count: 40, x: 3, y: 321 })
})
