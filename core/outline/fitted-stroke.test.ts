import { fittedStroke, nearestOn, spotAfter } from '.'

const { cos, hypot, PI, round, sin } = Math
type Spot = readonly [number, number]

/** As a hand's pointer tells it: whole pixels. */
const stroke = (at: (share: number) => Spot, many: number, wholePixels = true): Spot[] =>
  Array.from({ length: many }, (_, i) => at(i / many)).map(([x, y]) => (wholePixels ? [round(x), round(y)] : [x, y]))

const worst = (spots: readonly Spot[], found: ReturnType<typeof fittedStroke>) =>
  Math.max(...spots.map(([x, y]) => nearestOn(found?.outline ?? [], x, y).distance))

test('a circle becomes few points, none of them a corner, within half a pixel of the circle', () => {
  const at = (t: number): Spot => [200 + 90 * cos(2 * PI * t), 150 + 90 * sin(2 * PI * t)]
  const found = fittedStroke(stroke(at, 400, false))
  expect(found?.outline.length).toBeLessThanOrEqual(6)
  expect(found?.corners.some(Boolean)).toBe(false)
  for (let i = 0; i < (found?.outline.length ?? 0); i++)
    for (let k = 0; k < 10; k++) {
      const [x, y] = spotAfter(found?.outline ?? [], i, k / 10)
      expect(Math.abs(hypot(x - 200, y - 150) - 90)).toBeLessThan(0.6)
    }
})

test('a rectangle keeps its four corners and gains no others', () => {
  const sides: readonly Spot[] = [
    [40, 30],
    [240, 30],
    [240, 130],
    [40, 130],
  ]
  const at = (t: number): Spot => {
    const side = Math.floor(t * 4)
    const [a, b] = [sides[side], sides[(side + 1) % 4]]
    const share = t * 4 - side
    return [a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share]
  }
  const found = fittedStroke(stroke(at, 480))
  expect(found?.outline).toHaveLength(4)
  expect(found?.corners).toEqual([true, true, true, true])
  for (const [x, y] of sides)
    expect(Math.min(...(found?.outline ?? []).map((p) => hypot(p.x - x, p.y - y)))).toBeLessThan(1.5)
})

test.each([3, 5, 7])('a wavy line with %i lobes stays within its half pixel of what was drawn', (lobes) => {
  const at = (t: number): Spot => {
    const r = 100 + 18 * sin(2 * PI * t * lobes)
    return [300 + r * cos(2 * PI * t), 200 + r * sin(2 * PI * t)]
  }
  const spots = stroke(at, 900, false)
  const found = fittedStroke(spots)
  expect(worst(spots, found)).toBeLessThan(0.55)
  expect(found?.outline.length).toBeLessThanOrEqual(lobes * 5)
})

test('whole pixels of a pointer do not become a point each', () => {
  const at = (t: number): Spot => [200 + 150 * cos(2 * PI * t), 150 + 70 * sin(2 * PI * t)]
  const spots = stroke(at, 700)
  const found = fittedStroke(spots, 1)
  expect(worst(spots, found)).toBeLessThan(1.1)
  expect(found?.outline.length).toBeLessThan(24)
})

test('where nothing was drawn there is no outline; three points there are always', () => {
  expect(fittedStroke([])).toBeNull()
  expect(
    fittedStroke([
      [5, 5],
      [5.2, 5.1],
      [6, 5],
    ]),
  ).toBeNull()
  const leaf = fittedStroke(
    stroke((t) => [100 + 40 * cos(2 * PI * t), 100 + 10 * sin(2 * PI * t) * Math.abs(sin(2 * PI * t))], 200, false),
  )
  expect(leaf?.outline.length).toBeGreaterThanOrEqual(3)
})
