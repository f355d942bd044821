import { backingAt, filmedHair } from '../test/filmed-hair'
import { measuredBacking } from './measured-backing'

const { abs, max } = Math
const [width, height] = [320, 240]
const scene = filmedHair(width, height, 3)

test('the backing is found by itself, its light is known to one in a hundred over the frame, and its noise', () => {
  const found = measuredBacking(scene.filmed, width, height, 1)
  expect(found?.channel).toBe('green')
  expect(found?.picks).toHaveLength(16)
  for (const { x, y, light } of found?.picks ?? [])
    [0, 1, 2].forEach((c) => expect(abs(light[c] - backingAt(x, y, c, { width, height }))).toBeLessThan(0.006))
  expect(found?.share).toBeGreaterThan(0.3)
  // Green less the larger of two others, each with its noise of 0.008, beside an excess of about 0.25.
  expect(found?.noise).toBeGreaterThan(0.03)
  expect(found?.noise).toBeLessThan(0.06)
  expect(found?.unevenness).toBeGreaterThan(0.1)
})

test('at half scale it is the same backing, at the places of the full one', () => {
  const half = new Float32Array((width / 2) * (height / 2) * 4)
  for (let j = 0; j < height / 2; j++)
    for (let i = 0; i < width / 2; i++)
      for (let c = 0; c < 4; c++)
        half[(j * (width / 2) + i) * 4 + c] =
          [0, 1, width, width + 1].reduce((sum, k) => sum + scene.filmed[(j * 2 * width + i * 2 + k) * 4 + c], 0) / 4
  const found = measuredBacking(half, width / 2, height / 2, 2)
  expect(max(...(found?.picks ?? []).map(({ x }) => x))).toBeGreaterThan(280)
  for (const { x, y, light } of found?.picks ?? [])
    expect(abs(light[1] - backingAt(x, y, 1, { width, height }))).toBeLessThan(0.008)
  expect(found?.noise).toBeGreaterThan(0.03)
})

test('a blue backing is told from a green one, and where there is none there is none', () => {
  const blue = scene.filmed.map((_, i) => scene.filmed[i % 4 === 1 ? i + 1 : i % 4 === 2 ? i - 1 : i])
  expect(measuredBacking(blue, width, height, 1)?.channel).toBe('blue')
  const grey = scene.filmed.map((_, i) => (i % 4 === 3 ? 1 : scene.filmed[i - (i % 4)]))
  expect(measuredBacking(grey, width, height, 1)).toBeNull()
  expect(measuredBacking(new Float32Array(width * height * 4), width, height, 1)).toBeNull()
})
