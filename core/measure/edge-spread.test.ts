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

test('of an edge that runs along pixels and is sharper than one it says how little is known, never more than there is', () => {
  let [beyond, told, least] = [0, 0, Infinity]
  for (const sigma of [0.12, 0.2, 0.3])
    for (let seed = 1; seed <= 20; seed++) {
      const found = edgeSpread(edge(sigma, 0, { noise: 0.005, seed }), window)
      if (!found) continue
      told++
      if (Math.abs(found.sigma - sigma) > 2 * found.error) beyond++
      // Of the sharpest nothing is known but that it is sharper than a quarter of a pixel or so.
      if (sigma === 0.12) expect(found.error).toBeGreaterThan(Math.abs(found.sigma - sigma))
      expect(found.error).toBeLessThan(1)
      least = Math.min(least, found.error)
    }
  expect(told).toBeGreaterThan(54)
  expect(beyond).toBeLessThanOrEqual(0.1 * told)
  expect(least).toBeGreaterThan(0)
})

test('the surer way and the slope agree where both may be asked: their errors go on from one to the other', () => {
  const errorAt = (sigma: number) => {
    const errors = Array.from({ length: 12 }, (_, k) =>
      edgeSpread(edge(sigma, 0, { noise: 0.01, seed: k + 1 }), window),
    )
    return errors.reduce((sum, one) => sum + (one?.error ?? NaN), 0) / errors.length
  }
  const [below, above] = [errorAt(0.47), errorAt(0.53)]
  expect(below / above).toBeGreaterThan(0.7)
  expect(below / above).toBeLessThan(1.3)
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
