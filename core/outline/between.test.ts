import fc from 'fast-check'
import {
  crossesItself,
  ellipseIn,
  flattened,
  nearestOn,
  outlineBetween,
  rectangleOf,
  spotAfter,
  withPoint,
  type Outline,
} from '.'

const area = (outline: Outline) => {
  const corners = flattened(outline, { motion: null, scale: 1, inside: 0, outside: 0 })
  let twice = 0
  for (let i = 0; i < corners.length; i += 4) {
    const j = (i + 4) % corners.length
    twice += corners[i] * corners[j + 1] - corners[j] * corners[i + 1]
  }
  return Math.abs(twice / 2)
}

const leaf: Outline = [
  { x: 100, y: 50, before: [-30, 0], after: [30, 0] },
  { x: 180, y: 90, before: [0, -20], after: [0, 25] },
  { x: 110, y: 140, before: [25, 10], after: [-25, -10] },
  { x: 60, y: 95, before: [5, 20], after: [-5, -20] },
]

const turnedBy = (outline: Outline, angle: number, [x0, y0]: readonly [number, number]): Outline => {
  const [c, s] = [Math.cos(angle), Math.sin(angle)]
  const turn = ([x, y]: readonly [number, number]) => [c * x - s * y, s * x + c * y] as const
  return outline.map(({ x, y, before, after }) => {
    const [px, py] = turn([x - x0, y - y0])
    return { x: px + x0, y: py + y0, before: turn(before), after: turn(after) }
  })
}

test('a quarter turn keeps its area all the way; straight lines would lose half', () => {
  const turned = turnedBy(leaf, Math.PI / 2, [300, 20])
  for (let i = 1; i < 12; i++) expect(area(outlineBetween(leaf, turned, i / 12)) / area(leaf)).toBeCloseTo(1, 3)
  const straight = leaf.map(({ x, y, before, after }, i) => ({
    x: (x + turned[i].x) / 2,
    y: (y + turned[i].y) / 2,
    before: [0, 1].map((k) => (before[k] + turned[i].before[k]) / 2) as never,
    after: [0, 1].map((k) => (after[k] + turned[i].after[k]) / 2) as never,
  }))
  expect(area(straight) / area(leaf)).toBeLessThan(0.55)
})

test('a shape that grows does so by equal shares, and one that only moves goes straight', () => {
  const grown = leaf.map((p) => ({
    ...p,
    x: p.x * 4,
    y: p.y * 4,
    before: [p.before[0] * 4, p.before[1] * 4] as const,
    after: [p.after[0] * 4, p.after[1] * 4] as const,
  }))
  expect(area(outlineBetween(leaf, grown, 0.5)) / area(leaf)).toBeCloseTo(4, 3)
  const moved = leaf.map((p) => ({ ...p, x: p.x + 40, y: p.y - 8 }))
  outlineBetween(leaf, moved, 0.25).forEach(({ x, y, after }, i) => {
    expect(x).toBeCloseTo(leaf[i].x + 10, 9)
    expect(y).toBeCloseTo(leaf[i].y - 2, 9)
    expect(after[0]).toBeCloseTo(leaf[i].after[0], 9)
  })
})

test('at its ends it is the keyframes, whatever they are', () => {
  const number = fc.double({ min: -500, max: 500, noNaN: true })
  const handle = fc.tuple(number, number)
  const place = fc.record({ x: number, y: number, before: handle, after: handle })
  const pair = fc
    .integer({ min: 3, max: 6 })
    .chain((n) => fc.tuple(...[0, 1].map(() => fc.array(place, { minLength: n, maxLength: n }))))
  fc.assert(
    fc.property(pair, ([a, b]) => {
      expect(outlineBetween(a, b, 0)).toBe(a)
      expect(outlineBetween(a, b, 1)).toBe(b)
      outlineBetween(a, b, 1 - 1e-9).forEach(({ x, y }, i) => {
        expect(Math.hypot(x - b[i].x, y - b[i].y)).toBeLessThan(1e-3)
      })
    }),
    { numRuns: 60 },
  )
})

test('points that all lie in one place are moved all the same', () => {
  const dot = leaf.map((p) => ({ ...p, x: 5, y: 6 }))
  for (const { x, y } of outlineBetween(dot, leaf, 0.5)) expect(Number.isFinite(x + y)).toBe(true)
})

test('a point more leaves the line where it was', () => {
  for (const [at, share] of [
    [0, 0.3],
    [3, 0.71],
  ] as const) {
    const more = withPoint(leaf, at, share)
    expect(more).toHaveLength(5)
    const place = more[at + 1]
    const [wx, wy] = spotAfter(leaf, at, share)
    expect(Math.hypot(place.x - wx, place.y - wy)).toBeLessThan(1e-9)
    for (let i = 0; i <= 20; i++) {
      const [x, y] = spotAfter(leaf, at, i / 20)
      expect(nearestOn(more, x, y).distance).toBeLessThan(1e-4)
    }
  }
})

test('the nearest place on an outline is found', () => {
  const [x, y] = spotAfter(leaf, 2, 0.4)
  const found = nearestOn(leaf, x, y)
  expect(found.at).toBe(2)
  expect(found.share).toBeCloseTo(0.4, 4)
  expect(found.distance).toBeLessThan(1e-4)
})

test('an outline that crosses itself is told from one that does not', () => {
  expect(crossesItself(leaf)).toBe(false)
  const eight = [leaf[0], leaf[2], leaf[1], leaf[3]].map(
    (place) => ({ ...place, before: [0, 0], after: [0, 0] }) as const,
  )
  expect(crossesItself(eight)).toBe(true)
  // Its points go round in order, but a handle makes a loop.
  const looped = leaf.map((place, i) =>
    i === 0 ? { ...place, after: [300, 200] as const, before: [260, 240] as const } : place,
  )
  expect(crossesItself(looped)).toBe(true)
})

test('an ellipse and a rectangle have their areas, and lie in their box', () => {
  const box = { x: 20, y: 30, width: 160, height: 90 }
  expect(area(ellipseIn(box)) / (Math.PI * 80 * 45)).toBeCloseTo(1, 3)
  expect(area(rectangleOf(box))).toBeCloseTo(160 * 90, 6)
  for (let i = 0; i < 4; i++)
    for (const share of [0, 0.3, 0.7]) {
      const [x, y] = spotAfter(ellipseIn(box), i, share)
      expect(((x - 100) / 80) ** 2 + ((y - 75) / 45) ** 2).toBeCloseTo(1, 2)
    }
})
