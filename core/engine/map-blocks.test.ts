import fc from 'fast-check'
import { MapBlocks } from './map-blocks'
import type { ResidentFrame } from './program'

const dataWindow = { x: -10, y: 5, width: 150, height: 90 }
const memory = new SharedArrayBuffer(2 * 4 * 150 * 90)
const floats = new Float32Array(memory)
/** Where the field leads a pixel's middle. */
const place = (x: number, y: number) =>
  [x + 0.5 + Math.fround(6 * Math.sin(y / 9)), y + 0.5 + Math.fround(4 * Math.cos(x / 7))] as const
for (let i = 0; i < 150 * 90; i++) {
  const [x, y] = [dataWindow.x + (i % 150), dataWindow.y + Math.floor(i / 150)]
  const [u, v] = place(x, y)
  floats[i] = i % 977 === 0 ? NaN : u - x - 0.5
  floats[150 * 90 + i] = v - y - 0.5
}
const frame: ResidentFrame = {
  dataWindow,
  bounds: dataWindow,
  takes: 'vec2',
  decode: [],
  planes: [
    { type: 'float', address: 0 },
    { type: 'float', address: 4 * 150 * 90 },
  ],
}
const blocks = new MapBlocks(memory, frame)
/** Those that are no number name nothing. */
const pixel = fc
  .tuple(fc.integer({ min: -10, max: 139 }), fc.integer({ min: 5, max: 94 }))
  .filter(([x, y]) => ((y - dataWindow.y) * 150 + x - dataWindow.x) % 977 !== 0)

test('what a window names holds what each of its pixels names', () => {
  fc.assert(
    fc.property(pixel, fc.integer({ min: 1, max: 60 }), fc.integer({ min: 1, max: 60 }), ([x, y], width, height) => {
      const named = blocks.namedBy({ x, y, width, height })
      const [u, v] = place(x, y)
      expect(named && named.left <= u && named.right >= u && named.top <= v && named.bottom >= v).toBe(true)
    }),
  )
})

test('the window that names some places holds every pixel that names one of them', () => {
  fc.assert(
    fc.property(pixel, ([x, y]) => {
      const [u, v] = place(x, y)
      const window = blocks.naming({ left: u, right: u, top: v, bottom: v })
      expect(x >= window.x && x < window.x + window.width && y >= window.y && y < window.y + window.height).toBe(true)
    }),
  )
})

test('places that nothing names have an empty window; pixels outside name nothing', () => {
  expect(blocks.naming({ left: 500, right: 600, top: 0, bottom: 1 }).width).toBe(0)
  expect(blocks.namedBy({ x: 900, y: 0, width: 10, height: 10 })).toBeNull()
})
