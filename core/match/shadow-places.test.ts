import type { FlatPlace } from './flat-places'
import { deepestPlaces, shadowPlaces } from './shadow-places'

/** Shadows of the plate's own, and where an element takes most of the light. */

const place = (x: number, y: number, light: FlatPlace['light']): FlatPlace => ({ x, y, width: 16, height: 16, light })
const lit = place(100, 50, [0.2, 0.16, 0.12])
const times = (factor: number, [r, g, b] = [1, 1, 1]): FlatPlace['light'] => [
  0.2 * factor * r,
  0.16 * factor * g,
  0.12 * factor * b,
]

test('ground that is evenly darker than ground beside it is a shadow, the darkest and most even first', () => {
  const even = place(132, 50, times(0.5))
  const warm = place(68, 50, times(0.5, [1.2, 1, 0.9]))
  const [first, second] = shadowPlaces([lit, warm, even, place(100, 82, times(1))], 6)
  expect(first).toMatchObject({ x: 132, y: 50, width: 16 })
  expect(second).toMatchObject({ x: 68, y: 50 })
  // Stones of one colour vary by less than a shadow takes.
  expect(shadowPlaces([lit, place(68, 50, times(0.8)), place(132, 50, times(0.5, [1.05, 1, 0.95]))], 1)[0].x).toBe(132)
  // Neither place is in two of them.
  expect(first.lit).not.toEqual(second.lit)
})

test('another colour, hardly darker, black and far away are none', () => {
  const others = [
    place(132, 50, times(0.5, [1.5, 1, 0.6])),
    place(132, 66, times(0.95)),
    place(132, 82, times(0.1)),
    place(292, 50, times(0.5)),
  ]
  for (const one of others) expect(shadowPlaces([lit, one], 6)).toEqual([])
  expect(shadowPlaces([], 6)).toEqual([])
})

test('where most is covered comes first, places do not overlap, and thin ones are left out', () => {
  const window = { x: -10, y: 30, width: 64, height: 32 }
  const light = new Float32Array(64 * 32 * 4)
  for (let y = 0; y < 32; y++)
    for (let x = 0; x < 64; x++)
      light[4 * (y * 64 + x) + 3] = x >= 40 && x < 56 && y >= 8 && y < 24 ? 0.8 : x < 16 ? 0.6 : x < 32 ? 0.1 : 0
  const found = deepestPlaces(light, window, { side: 8, most: 20 })
  expect(found[0].x).toBeGreaterThanOrEqual(30)
  expect(found.filter(({ x }) => x >= 30 && x < 46)).toHaveLength(4)
  expect(found.filter(({ x }) => x < 6)).toHaveLength(8)
  expect(found.filter(({ x }) => x >= 10 && x < 22)).toEqual([])
  expect(deepestPlaces(light, window, { side: 8, most: 3 })).toHaveLength(3)
  expect(deepestPlaces(new Float32Array(64 * 32 * 4), window, { side: 8, most: 3 })).toEqual([])
})
