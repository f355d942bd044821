import { erf } from '../kernels/gaussian'
import { randomOf } from '../test/random'
import { edgeSpread } from './edge-spread'

/** Edges of known softness, slanted, in noise. */

const window = { width: 24, height: 20 }

/** Of a Gaussian of sigma in a picture of point samples, so that no pixel's own width adds to it. */
function edge(sigma: number, angle: number, { noise = 0, seed = 1, from = 0.05, to = 0.4 } = {}): Float32Array {
  const { normal } = randomOf(seed)
  const light = new Float32Array(window.width * window.height * 4)
  for (let i = 0; i < window.width * window.height; i++) {
    const [x, y] = [(i % window.width) - 11.2, Math.floor(i / window.width) - 9.7]
    const distance = x * Math.cos(angle) + y * Math.sin(angle)
    const value = from + ((to - from) / 2) * (1 + erf(distance / (Math.SQRT2 * sigma)))
    light.set([value + noise * normal(), value + noise * normal(), value + noise * normal(), 1], 4 * i)
  }
  return light
}

test.each([
  [0.6, 0.1],
  [1, 0.35],
  [1.7, 1.4],
  [0.8, -0.6],
])('a sigma of %f px is found, at any slant (%f)', (sigma, angle) => {
  expect(edgeSpread(edge(sigma, angle), window)?.sigma).toBeCloseTo(sigma, 1)
  // Falling as well as rising.
  expect(edgeSpread(edge(sigma, angle, { from: 0.4, to: 0.05 }), window)?.sigma).toBeCloseTo(sigma, 1)
})

test('in noise it lies within three of its stated errors', () => {
  let beyond = 0
  for (let seed = 1; seed <= 40; seed++) {
    const found = edgeSpread(edge(1, 0.3, { noise: 0.01, seed }), window)
    if (!found || Math.abs(found.sigma - 1) > 3 * found.error + 0.02) beyond++
  }
  expect(beyond).toBeLessThanOrEqual(2)
})

test('flat ground, noise, a corner, and what is no number have no single edge', () => {
  const flat = edge(1, 0, { from: 0.2, to: 0.2 })
  expect(edgeSpread(flat, window)).toBeNull()
  expect(edgeSpread(edge(1, 0, { from: 0.2, to: 0.2, noise: 0.02 }), window)).toBeNull()
  const corner = edge(0.6, 0).map((value, i) => (Math.floor(i / 4 / window.width) < 10 ? 0.05 : value))
  expect(edgeSpread(corner, window)).toBeNull()
  const broken = edge(1, 0.2)
  broken[8] = NaN
  expect(edgeSpread(broken, window)).toBeNull()
})
