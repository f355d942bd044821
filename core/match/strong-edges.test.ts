import { erf } from '../kernels/gaussian'
import { strongEdges } from './strong-edges'
import { randomOf } from '../test/random'

/** Edges by which sharpness can be compared. */

const window = { x: -20, y: 30, width: 120, height: 90 }
const sigma = 0.9

/** A half plane, darker to the left, whose edge leans; coverage is its share, light its share of the rise. */
function leaning({ noise = 0, level = 0.3, at = 60, soft = sigma } = {}): Float32Array {
  const { normal } = randomOf(7)
  const light = new Float32Array(window.width * window.height * 4)
  for (let i = 0; i < light.length / 4; i++) {
    const [x, y] = [i % window.width, Math.floor(i / window.width)]
    const share = (1 + erf((x - at + 0.2 * (y - 45)) / Math.hypot(1, 0.2) / (Math.SQRT2 * soft))) / 2
    for (let c = 0; c < 3; c++) light[4 * i + c] = 0.02 + level * share + noise * normal()
    light[4 * i + 3] = share
  }
  return light
}

test.each(['light', 'coverage'] as const)('an edge is found by its %s and is as soft as it was made', (of) => {
  const found = strongEdges(leaning(), window, { side: 16, most: 3, of })
  expect(found).toHaveLength(3)
  for (const { x, y, edge } of found) {
    expect(edge.sigma).toBeCloseTo(sigma, 1)
    // The edge runs through the middle of its place.
    const across = x - window.x + 8 - 60 + 0.2 * (y - window.y + 8 - 45)
    expect(Math.abs(across)).toBeLessThan(5)
  }
})

test('noise makes it no sharper and no softer', () => {
  const [one] = strongEdges(leaning({ noise: 0.005 }), window, { side: 16, most: 1, of: 'light' })
  expect(Math.abs(one.edge.sigma - sigma)).toBeLessThan(0.15)
})

test('where the light is held back by the camera, no edge is taken', () => {
  expect(strongEdges(leaning({ level: 2 }), window, { side: 16, most: 3, of: 'light', below: 3 })).toEqual([])
})

test('grain alone holds no edge', () => {
  const { normal } = randomOf(3)
  const grain = Float32Array.from({ length: window.width * window.height * 4 }, () => 0.1 + 0.01 * normal())
  expect(strongEdges(grain, window, { side: 16, most: 3, of: 'light' })).toEqual([])
})

test('bars stand out more than an edge, but are none, however many there are', () => {
  const wide = { x: 0, y: 0, width: 240, height: 120 }
  const light = new Float32Array(wide.width * wide.height * 4)
  for (let i = 0; i < light.length / 4; i++) {
    const x = i % wide.width
    const value = x < 160 ? (x % 12 < 6 ? 0.5 : 0.05) : 0.05 + 0.1 * ((1 + erf((x - 210) / (Math.SQRT2 * sigma))) / 2)
    for (let c = 0; c < 3; c++) light[4 * i + c] = value
    light[4 * i + 3] = 1
  }
  const found = strongEdges(light, wide, { side: 16, most: 3, of: 'light' })
  expect(found.length).toBeGreaterThan(0)
  for (const { x, edge } of found) {
    expect(Math.abs(x + 8 - 210)).toBeLessThan(8)
    expect(edge.sigma).toBeCloseTo(sigma, 1)
  }
})
