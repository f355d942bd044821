import fc from 'fast-check'
import { fractalNoise, gaussian3, random3, valueNoise } from './noise'
import { cast, newHit, quayEdge } from './quay'
import { hitSolid, normal, type Ray, type Solid } from './solids'

const solids: Solid[] = [
  { kind: 'box', min: [-1, -1, -1], max: [1, 1, 1], material: 0 },
  { kind: 'sphere', centre: [0, 0, 0], radius: 1, material: 0 },
  { kind: 'capsule', a: [-0.5, 0, 0], b: [0.5, 0, 0], radius: 0.5, material: 0 },
  { kind: 'cylinder', centre: [0, -1, 0], radius: 0.8, height: 1.6, material: 0 },
  { kind: 'gable', min: [-1, -1, -0.6], max: [1, 0.2, 0.6], ridge: 0.9, material: 0 },
]

/** Signed distance-like test: is the point inside, within a little slack? */
const inside: Record<Solid['kind'], (x: number, y: number, z: number, slack: number) => boolean> = {
  box: (x, y, z, s) => Math.max(Math.abs(x), Math.abs(y), Math.abs(z)) <= 1 + s,
  sphere: (x, y, z, s) => Math.hypot(x, y, z) <= 1 + s,
  capsule: (x, y, z, s) => Math.hypot(x - Math.min(0.5, Math.max(-0.5, x)), y, z) <= 0.5 + s,
  cylinder: (x, y, z, s) => Math.hypot(x, z) <= 0.8 + s && y >= -1 - s && y <= 0.6 + s,
  gable: (x, y, z, s) => Math.abs(x) <= 1.3 + s && y >= -1 - s && y <= 0.9 - (Math.abs(z) / 0.6) * 0.7 + 0.36 + s,
}

/** Rays from outside, above the ground of the solids, aimed somewhere near the middle. */
const rays = fc
  .tuple(
    fc.double({ min: 0, max: 6.28, noNaN: true }),
    fc.double({ min: 0.05, max: 1.4, noNaN: true }),
    fc.array(fc.double({ min: -0.7, max: 0.7, noNaN: true }), { minLength: 3, maxLength: 3 }),
  )
  .map(([turn, rise, aim]): Ray => {
    const [ox, oy, oz] = [4 * Math.cos(turn) * Math.cos(rise), 4 * Math.sin(rise), 4 * Math.sin(turn) * Math.cos(rise)]
    const d = [aim[0] - ox, aim[1] - oy, aim[2] - oz]
    const n = 1 / Math.hypot(d[0], d[1], d[2])
    return { ox, oy, oz, dx: d[0] * n, dy: d[1] * n, dz: d[2] * n }
  })

test.each(solids)('a $kind is met on its surface, from the outside, with a unit normal', (solid) => {
  let met = 0
  fc.assert(
    fc.property(rays, (ray) => {
      const t = hitSolid(ray, solid)
      if (t === Infinity) return
      met++
      const at = (s: number) => [ray.ox + s * ray.dx, ray.oy + s * ray.dy, ray.oz + s * ray.dz] as const
      expect(inside[solid.kind](...at(t), 1e-6)).toBe(true)
      expect(Math.hypot(normal.x, normal.y, normal.z)).toBeCloseTo(1, 9)
      expect(normal.x * ray.dx + normal.y * ray.dy + normal.z * ray.dz).toBeLessThanOrEqual(1e-9)
      if (solid.kind !== 'gable') expect(inside[solid.kind](...at(t - 1e-3), -1e-6)).toBe(false)
    }),
    { numRuns: 300 },
  )
  expect(met).toBeGreaterThan(50)
})

test('a solid behind the ray is not met', () => {
  for (const solid of solids) expect(hitSolid({ ox: 0, oy: 0.1, oz: 5, dx: 0, dy: 0, dz: 1 }, solid)).toBe(Infinity)
})

describe('the quay', () => {
  const hit = newHit()
  const look = (x: number, y: number, withFront = true) => {
    const n = 1 / Math.hypot(x, y, 1)
    cast({ ox: 0, oy: 1.55, oz: 0, dx: x * n, dy: y * n, dz: -n }, hit, withFront)
    return hit.what
  }

  test('stones in front, water beyond the edge, sky above', () => {
    expect(look(-0.1, -0.3)).toBe('ground')
    expect(look(-0.05, -0.1)).toBe('water')
    expect(hit.z).toBeLessThan(quayEdge)
    expect(look(0.05, 0.4)).toBe('sky')
  })

  test('the bollard stands in front, and not in the clean plate', () => {
    expect(look(-0.075, -0.2)).not.toBe('ground')
    expect(hit.t).toBeLessThan(6)
    look(-0.075, -0.2, false)
    expect(hit.what).toBe('ground')
  })
})

describe('noise', () => {
  const places = fc.tuple(
    fc.double({ min: -500, max: 500, noNaN: true }),
    fc.double({ min: -500, max: 500, noNaN: true }),
    fc.double({ min: -500, max: 500, noNaN: true }),
  )

  test('stays within 0..1, is the same at the same place, and has no jumps', () => {
    fc.assert(
      fc.property(places, ([x, y, z]) => {
        const here = valueNoise(x, y, z)
        expect(here >= 0 && here <= 1).toBe(true)
        expect(valueNoise(x, y, z)).toBe(here)
        expect(Math.abs(valueNoise(x + 1e-4, y, z) - here)).toBeLessThan(5e-4)
        const rough = fractalNoise(x, y, z, 4)
        expect(rough >= 0 && rough <= 1).toBe(true)
      }),
    )
  })

  test('random numbers are even, Gaussian ones have mean 0 and variance 1, and neighbours do not go together', () => {
    const n = 40_000
    let [sum, mean, square, pair] = [0, 0, 0, 0]
    for (let i = 0; i < n; i++) {
      sum += random3(i, 3, 7)
      const g = gaussian3(i, 11, 2)
      mean += g
      square += g * g
      pair += g * gaussian3(i + 1, 11, 2)
    }
    expect(Math.abs(sum / n - 0.5)).toBeLessThan(0.006)
    expect(Math.abs(mean / n)).toBeLessThan(0.02)
    expect(Math.abs(square / n - 1)).toBeLessThan(0.03)
    expect(Math.abs(pair / n)).toBeLessThan(0.02)
  })
})
