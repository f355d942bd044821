import { gaussianAxis } from '../kernels/gaussian'
import { nearestSoftening, type SharpAndSeen } from './nearest-softening'
import { randomOf } from '../test/random'

/** A chart of patches, seen through a Gaussian, another gain and a veil, with noise. */

const window = { width: 64, height: 48 }
const patch = (x: number, y: number) => [0.02, 0.2, 0.07, 0.5, 0.12][((x >> 3) * 7 + (y >> 3) * 3) % 5]

function chart(at: (x: number, y: number, c: number) => number, alpha = 1): Float32Array {
  const light = new Float32Array(window.width * window.height * 4)
  for (let y = 0; y < window.height; y++)
    for (let x = 0; x < window.width; x++) {
      const i = (y * window.width + x) * 4
      for (let c = 0; c < 3; c++) light[i + c] = at(x, y, c)
      light[i + 3] = alpha
    }
  return light
}

/** Seen with sigmas across and down, of patches that go on beyond the window. */
function blurredBy(across: number, down: number): Float64Array {
  const [u, v] = [across, down].map((one) => gaussianAxis(one).weights)
  const weight = (taps: readonly number[], k: number) => taps[Math.abs(k)] ?? 0
  const reach = Math.max(u.length, v.length)
  return Float64Array.from({ length: window.width * window.height }, (_, i) => {
    const [x, y] = [i % window.width, Math.floor(i / window.width)]
    let sum = 0
    for (let dy = -reach; dy <= reach; dy++)
      for (let dx = -reach; dx <= reach; dx++) {
        const w = weight(u, dx) * weight(v, dy)
        if (w > 0) sum += w * patch(x + dx + 80, y + dy + 80)
      }
    return sum
  })
}

function seen(across: number, down: number, sigma: number, seed = 1, blurred = blurredBy(across, down)): SharpAndSeen {
  const { normal } = randomOf(seed)
  return {
    window,
    sharp: chart((x, y) => patch(x + 80, y + 80)),
    seen: chart((x, y, c) => [1.3, 1.1, 0.9][c] * blurred[y * window.width + x] + 0.02 + sigma * normal()),
  }
}

test.each([
  [0.5, 0.5],
  [0.23, 0.4],
  [1.2, 0.7],
])('the Gaussian of %f across and %f down is found, whatever gain and veil are', (across, down) => {
  const found = nearestSoftening([seen(across, down, 0)])
  expect(found?.across).toBeCloseTo(across, 2)
  expect(found?.down).toBeCloseTo(down, 2)
})

test('what is as sharp needs none', () => {
  const found = nearestSoftening([seen(0, 0, 0)])
  expect(Math.max(found?.across ?? 9, found?.down ?? 9)).toBeLessThan(0.101)
})

test('in noise it lies within three of its stated errors, and more pictures make it surer', () => {
  const blurred = blurredBy(0.5, 0.5)
  let beyond = 0
  for (let seed = 1; seed <= 8; seed++) {
    const found = nearestSoftening([seen(0.5, 0.5, 0.02, seed, blurred)])
    if (!found || Math.abs((found.across + found.down) / 2 - 0.5) > 3 * found.error) beyond++
  }
  expect(beyond).toBeLessThanOrEqual(1)
  const errorOf = (count: number) =>
    nearestSoftening(Array.from({ length: count }, (_, i) => seen(0.5, 0.5, 0.02, i + 1, blurred)))?.error ?? NaN
  expect(errorOf(4) / errorOf(1)).toBeGreaterThan(0.4)
  expect(errorOf(4) / errorOf(1)).toBeLessThan(0.6)
})

test('only what is covered all around is compared; where nothing is, or nothing has edges, it is not told', () => {
  const full = seen(0.5, 0.5, 0)
  const clear = { ...full, sharp: full.sharp.map((value, i) => (i % 4 === 3 ? 0.5 : value)) }
  expect(nearestSoftening([clear])).toBeNull()
  const flat = { window, sharp: chart(() => 0.2), seen: chart((_x, _y, c) => 0.2 + 0.001 * c) }
  expect(nearestSoftening([flat])).toBeNull()
  // A hole in the coverage, with anything in it, changes nothing but what lies near it.
  const holed = { ...full, sharp: full.sharp.slice(), seen: full.seen.slice() }
  holed.sharp.fill(0, 0, 4)
  holed.seen.fill(NaN, 0, 4)
  expect(nearestSoftening([holed])?.across).toBeCloseTo(0.5, 2)
})
