import { localEngine } from '../test/local-engine'
import { someFrame, surroundings } from '../test/steps'
import { glow } from './glow'

const size = 160
const window = { x: 0, y: 0, width: size, height: size }
/** One lamp of light 10 on a few pixels in the middle of the dark. */
const lamp = async () => ({
  decoded: false,
  dataWindow: window,
  displayWindow: window,
  planes: ['R', 'G', 'B'].map((name) => ({
    name,
    type: 'float' as const,
    samples: Float32Array.from({ length: size * size }, (_, i) =>
      Math.abs((i % size) - 80) < 3 && Math.abs(Math.floor(i / size) - 80) < 3 ? 10 : 0,
    ),
  })),
})

test('the energy added is the amount times the light above the threshold; the rest of the picture stays', async () => {
  const values = { threshold: [2], width: [8], amount: [0.5, 0.25, 0] }
  const step = glow.build(someFrame(), values, surroundings({ opaque: true, beyond: 'extend' }))
  const out = await localEngine(1, lamp).light(step, window)
  const sums = [0, 1, 2].map((c) => out.reduce((sum, v, i) => (i % 4 === c ? sum + v : sum), 0))
  const [plain, bright] = [25 * 10, 25 * 8]
  expect(sums[0]).toBeCloseTo(plain + 0.5 * bright, 1)
  expect(sums[1]).toBeCloseTo(plain + 0.25 * bright, 1)
  expect(sums[2]).toBe(plain)
})

test('without an amount there is nothing in the graph', () => {
  const input = someFrame()
  expect(glow.build(input, { threshold: [1], width: [40], amount: [0, 0, 0] }, surroundings())).toBe(input)
})
