import { nearestOn, type Outline } from '../outline'
import { randomOf } from '../test/random'
import { edgeOffsets, pulledOutline } from '.'

const { cos, hypot, max, min, PI, sin } = Math
const [width, height] = [220, 180]

/** A bright thing on a darker ground, its edge two pixels soft, with noise. */
function picture(inside: (x: number, y: number) => number, noise = 0.004, light = 0.3) {
  const { normal: random } = randomOf(5)
  const values = Float64Array.from({ length: width * height }, (_, i) => {
    const away = inside((i % width) + 0.5, Math.floor(i / width) + 0.5)
    return 0.1 + light * max(0, min(1, 0.5 - away / 2)) + noise * random()
  })
  return { values, width, height }
}

const blob = (x: number, y: number) => {
  const angle = Math.atan2(y - 90, x - 110)
  return hypot(x - 110, y - 90) - (50 + 6 * cos(3 * angle))
}
/** As many points as an artist would set, smooth, on the blob moved and grown. */
const outlineOf = (dx: number, dy: number, grow: number, many = 12): Outline => {
  const spots = Array.from({ length: many }, (_, i) => {
    const angle = (2 * PI * i) / many
    const r = 50 + 6 * cos(3 * angle) + grow
    return [110 + dx + r * cos(angle), 90 + dy + r * sin(angle)] as const
  })
  return spots.map(([x, y], i) => {
    const [a, b] = [spots[(i + many - 1) % many], spots[(i + 1) % many]]
    const [hx, hy] = [(b[0] - a[0]) / 6, (b[1] - a[1]) / 6]
    return { x, y, before: [-hx, -hy], after: [hx, hy] }
  })
}
const distances = (outline: Outline) =>
  Array.from({ length: 120 }, (_, i) => {
    const angle = (2 * PI * i) / 120
    const r = 50 + 6 * cos(3 * angle)
    return nearestOn(outline, 110 + r * cos(angle), 90 + r * sin(angle)).distance
  }).sort((a, b) => a - b)
const median = (sorted: readonly number[]) => sorted[sorted.length >> 1]

test.each([
  ['moved', 4, -4, 0],
  ['too large', 0, 0, 5],
  ['too small', 1, 0, -5],
] as const)('an outline that is %s comes onto the edge', (_name, dx, dy, grow) => {
  const outline = outlineOf(dx, dy, grow)
  const found = edgeOffsets(picture(blob), outline, 9)
  expect(found.found).toBeGreaterThan(0.9)
  const pulled = pulledOutline(outline, found) as Outline
  expect(median(distances(outline))).toBeGreaterThan(2.5)
  expect(median(distances(pulled))).toBeLessThan(0.4)
  expect(distances(pulled)[114]).toBeLessThan(1.2)
})

test('an outline that lies on the edge stays there, and its departure is told as next to nothing', () => {
  const found = edgeOffsets(picture(blob), outlineOf(0, 0, 0), 9)
  expect(found.median).toBeLessThan(0.4)
  expect(median(distances(pulledOutline(outlineOf(0, 0, 0), found) as Outline))).toBeLessThan(0.4)
})

test('its departure is told in pixels', () => {
  expect(edgeOffsets(picture(blob), outlineOf(0, 0, 6), 9).median).toBeCloseTo(6, 0)
})

test('where there is no edge there is nothing to be pulled to', () => {
  const found = edgeOffsets(
    picture(() => -9, 0.004),
    outlineOf(0, 0, 0),
    9,
  )
  expect(pulledOutline(outlineOf(0, 0, 0), found)).toBeNull()
})

test('a part without an edge goes with its neighbours', () => {
  // The lower third is as dark as the ground.
  const open = picture((x, y) => (y > 115 ? 9 : blob(x, y)))
  const outline = outlineOf(3, 3, 0)
  const pulled = pulledOutline(outline, edgeOffsets(open, outline, 9)) as Outline
  const upper = distances(pulled).slice(0, 60)
  expect(median(upper)).toBeLessThan(0.6)
  pulled.forEach(({ x, y }, i) => expect(hypot(x - outline[i].x, y - outline[i].y)).toBeLessThan(9))
})
