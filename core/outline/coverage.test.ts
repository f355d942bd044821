import fc from 'fast-check'
import type { Lines, Profile } from '../graph/steps'
import { bent, straightener } from '../motion/lens'
import { coverageOf, flattened, reachOf, type Flattening, type Outline } from '.'

const { hypot, max, min } = Math

/** Corners without handles: straight lines. */
const polygon = (...spots: readonly (readonly [number, number])[]): Outline =>
  spots.map(([x, y]) => ({ x, y, before: [0, 0], after: [0, 0] }))

const kappa = (4 / 3) * Math.tan(Math.PI / 8)
/** Four cubics: off a circle by 3e-4 of its radius at the most. */
const circle = (x: number, y: number, r: number): Outline =>
  [0, 1, 2, 3].map((i) => {
    const [c, s] = [
      [1, 0],
      [0, 1],
      [-1, 0],
      [0, -1],
    ][i]
    const k = kappa * r
    return { x: x + r * c, y: y + r * s, before: [k * s, -k * c], after: [-k * s, k * c] }
  })

const plain: Flattening = { motion: null, scale: 1, inside: 0, outside: 0 }
const lines = (outline: Outline, more: Partial<Flattening> = {}, grow = 0, profile: Profile = 'smooth'): Lines => ({
  lines: [flattened(outline, { ...plain, ...more })],
  grow,
  profile,
})

/** The coverage of a window, row by row. */
function covered(shape: Lines, x: number, y: number, width: number, height: number): Float32Array {
  const fill = coverageOf(shape, { first: y, count: height })
  const out = new Float32Array(width * height)
  const row = new Float32Array(width)
  for (let j = 0; j < height; j++) {
    fill(row, x, y + j, width)
    out.set(row, j * width)
  }
  return out
}

/** The same by counting places in each pixel whose winding number is not 0. */
function counted(outline: Outline, x: number, y: number, width: number, height: number, side = 48): Float32Array {
  const corners = flattened(outline, plain)
  const many = corners.length / 4
  const out = new Float32Array(width * height)
  for (let j = 0; j < height * side; j++) {
    const py = y + (j + 0.5) / side
    const crossings: [number, number][] = []
    for (let i = 0; i < many; i++) {
      const [ax, ay] = [corners[4 * i], corners[4 * i + 1]]
      const [bx, by] = [corners[(4 * i + 4) % corners.length], corners[(4 * i + 5) % corners.length]]
      if (ay <= py !== by <= py) crossings.push([ax + ((py - ay) * (bx - ax)) / (by - ay), by > ay ? 1 : -1])
    }
    crossings.sort((a, b) => a[0] - b[0])
    let winding = 0
    crossings.forEach(([from, turn], n) => {
      winding += turn
      if (winding === 0 || n + 1 === crossings.length) return
      const to = crossings[n + 1][0]
      for (let i = 0; i < width; i++)
        out[Math.floor(j / side) * width + i] += max(0, min(to, x + i + 1) - max(from, x + i)) / side
    })
  }
  return out
}

const mostOff = (a: Float32Array, b: Float32Array) => a.reduce((most, value, i) => max(most, Math.abs(value - b[i])), 0)

test('a rectangle covers what it covers of each pixel', () => {
  const found = covered(lines(polygon([2.25, 1.5], [5.5, 1.5], [5.5, 3.75], [2.25, 3.75])), 0, 0, 8, 6)
  const share = (at: number, from: number, to: number) => max(0, min(at + 1, to) - max(at, from))
  for (let j = 0; j < 6; j++)
    for (let i = 0; i < 8; i++) expect(found[j * 8 + i]).toBeCloseTo(share(i, 2.25, 5.5) * share(j, 1.5, 3.75), 6)
})

test('inside it is exactly 1 and outside exactly 0', () => {
  const found = covered(lines(circle(30.3, 25.7, 20)), 0, 0, 64, 52)
  for (let j = 0; j < 52; j++)
    for (let i = 0; i < 64; i++) {
      const away = hypot(i + 0.5 - 30.3, j + 0.5 - 25.7)
      if (away < 19) expect(found[j * 64 + i]).toBe(1)
      if (away > 21) expect(found[j * 64 + i]).toBe(0)
    }
})

test('a circle has its area, whichever way round it is drawn', () => {
  const there = circle(30.3, 25.7, 20)
  const back = [...there].reverse().map((place) => ({ ...place, before: place.after, after: place.before }))
  for (const outline of [there, back]) {
    const sum = covered(lines(outline), 0, 0, 64, 52).reduce((a, b) => a + b, 0)
    expect(sum / (Math.PI * 400)).toBeCloseTo(1, 3)
  }
})

const spot = fc.tuple(fc.double({ min: 2, max: 22, noNaN: true }), fc.double({ min: 2, max: 18, noNaN: true }))
test('any outline, also one that crosses itself, covers the area where it winds round', () => {
  fc.assert(
    fc.property(fc.array(spot, { minLength: 3, maxLength: 7 }), (spots) => {
      const outline = polygon(...spots)
      expect(mostOff(covered(lines(outline), 0, 0, 24, 20), counted(outline, 0, 0, 24, 20))).toBeLessThan(0.02)
    }),
    { numRuns: 30, seed: 11 },
  )
})

test('a star is covered in its middle too: winding twice is still inside', () => {
  const star = polygon(
    ...[0, 2, 4, 1, 3].map((i) => [16 + 14 * Math.sin(i * 1.2566), 16 - 14 * Math.cos(i * 1.2566)] as const),
  )
  const found = covered(lines(star), 0, 0, 32, 32)
  expect(found[16 * 32 + 16]).toBe(1)
  expect(mostOff(found, counted(star, 0, 0, 32, 32, 96))).toBeLessThan(1 / 96)
})

test('a part of a row is that part of the whole, on a window whose origin is not 0,0', () => {
  const shape = lines(circle(-10.2, 40.1, 25), { inside: 3, outside: 5 })
  const whole = covered(shape, -50, 5, 80, 70)
  const part = covered(shape, -17, 22, 19, 31)
  for (let j = 0; j < 31; j++) for (let i = 0; i < 19; i++) expect(part[j * 19 + i]).toBe(whole[(j + 17) * 80 + i + 33])
})

test('feather falls by the distance from the line, smoothly or evenly', () => {
  for (const [profile, fall] of [
    ['linear', (t: number) => t],
    ['smooth', (t: number) => t * t * (3 - 2 * t)],
  ] as const) {
    const row = new Float32Array(120)
    coverageOf(lines(circle(60, 60, 40), { inside: 4, outside: 8 }, 0, profile), { first: 60, count: 1 })(
      row,
      60,
      60,
      120,
    )
    for (let i = 20; i < 60; i++) {
      const away = hypot(i + 0.5, 0.5) - 40
      const want = fall(max(0, min(1, (8 - away) / 12)))
      // At a kink of the even fall a pixel's mean is rounder.
      expect(Math.abs(row[i] - want)).toBeLessThan(profile === 'linear' ? 0.015 : 0.005)
    }
  }
})

test('growing moves a hard edge by fractions of a pixel', () => {
  for (const grow of [-3.3, -0.5, 0.25, 2.6]) {
    const sum = covered(lines(circle(40, 40, 20), {}, grow), 0, 0, 80, 80).reduce((a, b) => a + b, 0)
    expect(sum / (Math.PI * (20 + grow) ** 2)).toBeCloseTo(1, 3)
  }
})

test('growing by nearly nothing, or feathering by nearly nothing, changes nearly nothing', () => {
  const outline = polygon([10.3, 8.1], [40.2, 14.6], [31.7, 39.5], [8.8, 30.2])
  const hard = covered(lines(outline), 0, 0, 50, 50)
  expect(mostOff(hard, covered(lines(outline, { outside: 0.02 }), 0, 0, 50, 50))).toBeLessThan(0.03)
  // At a corner the distance says less than the area.
  const grown = covered(lines(outline, {}, 1e-4), 0, 0, 50, 50)
  const off = grown.map((value, i) => Math.abs(value - hard[i])).sort()
  expect(off[Math.floor(off.length * 0.995)]).toBeLessThan(0.004)
})

test('a point with more feather is softer there, and the others are not', () => {
  const soft = polygon([10, 10], [90, 10], [90, 50], [10, 50]).map((place, i) =>
    i < 2 ? { ...place, feather: 12 } : place,
  )
  const found = covered(lines(soft, { outside: 1 }), 0, 0, 100, 80)
  const at = (x: number, y: number) => found[y * 100 + x]
  expect(at(50, 4)).toBeGreaterThan(0.2)
  expect(at(50, 55)).toBe(0)
  expect(at(95, 30)).toBeGreaterThan(at(95, 45))
})

test('at half scale it is what the mean of four pixels is', () => {
  const outline = circle(41.3, 33.9, 22)
  const half = covered(lines(outline, { scale: 2 }), 0, 0, 40, 34)
  const full = covered(lines(outline), 0, 0, 80, 68)
  for (let j = 0; j < 34; j++)
    for (let i = 0; i < 40; i++) {
      const mean = [0, 1, 80, 81].reduce((sum, k) => sum + full[j * 160 + i * 2 + k] / 4, 0)
      expect(half[j * 40 + i]).toBeCloseTo(mean, 2)
    }
})

test('through a perspective the outline is where its points lead', () => {
  const matrix = [0.9, 0.1, 5, -0.05, 1.1, 3, 0.001, 0.0005, 1] as const
  const corners = [
    [10, 10],
    [50, 12],
    [46, 48],
    [12, 40],
  ] as const
  const led = corners.map(([x, y]) => {
    const w = matrix[6] * x + matrix[7] * y + 1
    return [(matrix[0] * x + matrix[1] * y + matrix[2]) / w, (matrix[3] * x + matrix[4] * y + matrix[5]) / w] as const
  })
  const through = covered(lines(polygon(...corners), { motion: { matrix: matrix as never } }), 0, 0, 70, 70)
  expect(mostOff(through, covered(lines(polygon(...led)), 0, 0, 70, 70))).toBeLessThan(1e-5)
})

test('behind a lens long straight edges are bent as the lens bends them, at half scale too', () => {
  const lens = { centre: [35, 35], unit: 50, squeeze: 1, k1: -0.2, k2: 0.03, k3: 0, p1: 0, p2: 0 } as const
  const from = { ...lens, k1: -0.05, k2: 0 }
  const motion = { matrix: [1, 0, 3, 0, 1, -2, 0, 0, 1], lens: { from, to: lens } } as const
  const corners = [
    [5, 8],
    [60, 8],
    [60, 62],
    [5, 62],
  ] as const
  const along = corners.flatMap(([ax, ay], i) => {
    const [bx, by] = corners[(i + 1) % 4]
    return Array.from({ length: 200 }, (_, k): readonly [number, number] => [
      ax + ((bx - ax) * k) / 200,
      ay + ((by - ay) * k) / 200,
    ])
  })
  const seen = along.map(([x, y]) => {
    const [u, v] = straightener(from)(x, y) as readonly [number, number]
    return bent(lens, [u + 3, v - 2])
  })
  for (const scale of [1, 2]) {
    const there = covered(lines(polygon(...corners), { motion, scale }), 0, 0, 80 / scale, 80 / scale)
    const truth = covered(lines(polygon(...seen), { scale }), 0, 0, 80 / scale, 80 / scale)
    expect(mostOff(there, truth)).toBeLessThan(0.02)
    // Its corners joined by straight lines would be another shape.
    const straight = covered(
      lines(polygon(...[0, 1, 2, 3].map((i) => seen[200 * i])), { scale }),
      ...([0, 0, 80 / scale, 80 / scale] as const),
    )
    expect(mostOff(there, straight)).toBeGreaterThan(0.3)
  }
})

test('several lines cover the mean of what each covers, and where all do exactly 1', () => {
  const moved = [0, 1, 2, 3, 4, 5, 6].map((i) => circle(30 + i, 30, 15))
  const together = covered(
    { lines: moved.map((one) => flattened(one, plain)), grow: 0, profile: 'smooth' },
    0,
    0,
    70,
    60,
  )
  const each = moved.map((one) => covered(lines(one), 0, 0, 70, 60))
  together.forEach((value, i) =>
    expect(value).toBeCloseTo(
      each.reduce((sum, one) => sum + one[i] / 7, 0),
      6,
    ),
  )
  expect(together[30 * 70 + 33]).toBe(1)
})

test('nothing is covered beyond where it says that it reaches', () => {
  const shape = lines(circle(30, 30, 15), { inside: 2, outside: 6 }, 1.5)
  const { x, y, width, height } = reachOf(shape)
  const found = covered(shape, 0, 0, 70, 70)
  found.forEach((value, i) => {
    const [px, py] = [i % 70, Math.floor(i / 70)]
    if (px < x || py < y || px >= x + width || py >= y + height) expect(value).toBe(0)
  })
  // 15 + 1.5 + 6 pixels from the middle nothing is left, a little before that something is.
  expect(found[30 * 70 + 51]).toBeGreaterThan(0)
  expect(found[30 * 70 + 53]).toBe(0)
  expect(reachOf({ lines: [], grow: 0, profile: 'smooth' }).width).toBe(0)
})
