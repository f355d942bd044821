import type { Beyond } from '../graph/steps'
import { localEngine } from '../test/local-engine'
import { someFrame, surroundings } from '../test/steps'
import { soften } from './soften'

const input = someFrame()
const frame = { x: 0, y: 0, width: 60, height: 30 }

/** An opaque render over the left of the frame, at another origin where `x` says so. */
const render =
  (x = 0) =>
  async () => ({
    decoded: false,
    dataWindow: { x, y: 0, width: 40, height: 30 },
    displayWindow: frame,
    planes: ['R', 'G', 'B', 'A'].map((name) => ({
      name,
      type: 'float' as const,
      samples: new Float32Array(1200).fill(1),
    })),
  })

async function alphas(beyond: Beyond, sigma: number, x = 0, scale = 1): Promise<(x: number, y: number) => number> {
  const step = soften.build(input, { across: [sigma], down: [sigma] }, surroundings({ beyond, scale }))
  const out = await localEngine(1, render(x)).light(step, frame)
  return (px, py) => out[(py * 60 + px) * 4 + 3]
}

test('widths are in pixels at full scale: at half scale half of them', async () => {
  const [full, half] = [await alphas('empty', 2), await alphas('empty', 4, 0, 2)]
  for (let x = 30; x < 50; x++) expect(half(x, 15)).toBe(full(x, 15))
})

test('an opaque picture goes on beyond its edges', async () => {
  const at = await alphas('extend', 3)
  expect([at(0, 0), at(39, 29)]).toEqual([expect.closeTo(1, 6), expect.closeTo(1, 6)])
})

test('CG that ends with the frame does not thin there; where it ends inside the frame its edge is soft', async () => {
  const at = await alphas({ frame }, 3)
  for (const [x, y] of [
    [0, 0],
    [0, 15],
    [20, 29],
  ])
    expect(at(x, y)).toBeCloseTo(1, 6)
  expect(at(39, 15)).toBeGreaterThan(0.4)
  expect(at(39, 15)).toBeLessThan(0.6)
  // With an origin inside the frame the left edge is one of the element's own.
  expect((await alphas({ frame }, 3, 5))(5, 15)).toBeLessThan(0.6)
})

test('below a tenth of a pixel there is nothing in the graph', () => {
  expect(soften.build(input, { across: [0.09], down: [0] }, surroundings())).toBe(input)
})
