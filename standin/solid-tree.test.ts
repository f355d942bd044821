import fc from 'fast-check'
import { castTree, solidTree, type Nearest } from './solid-tree'
import { hitSolid, type Ray, type Solid } from './solids'

/** The tree finds what looking at every solid finds. */

const coordinate = fc.double({ min: -5, max: 5, noNaN: true })
const place = fc.tuple(coordinate, coordinate, coordinate)
const spheres = fc.array(
  fc
    .tuple(place, fc.double({ min: 0.1, max: 1.5, noNaN: true }))
    .map(([centre, radius]): Extract<Solid, { kind: 'sphere' }> => ({ kind: 'sphere', centre, radius, material: 0 })),
  { minLength: 1, maxLength: 25 },
)
const boundsOf = (solid: Solid) => {
  if (solid.kind !== 'sphere') throw new Error('only spheres here')
  const { centre, radius } = solid
  return { min: centre.map((v) => v - radius), max: centre.map((v) => v + radius) }
}
const rays = fc.tuple(place, place).map(([from, to]): Ray => {
  const d = to.map((v, i) => v - from[i] + 1e-9)
  const n = 1 / Math.hypot(...d)
  return { ox: 3 * from[0], oy: 3 * from[1], oz: 3 * from[2], dx: d[0] * n, dy: d[1] * n, dz: d[2] * n }
})
const nothing = (limit = Infinity): Nearest => ({ t: limit, nx: 0, ny: 0, nz: 0, solid: null })

test('the nearest solid, with its distance', () => {
  let met = 0
  fc.assert(
    fc.property(spheres, rays, (solids, ray) => {
      const hit = nothing()
      castTree(ray, solidTree(solids, boundsOf), hit, false)
      const distances = solids.map((solid) => hitSolid(ray, solid))
      const nearest = Math.min(...distances)
      expect(hit.t).toBe(nearest)
      if (nearest === Infinity) return expect(hit.solid).toBeNull()
      met++
      expect(distances[solids.indexOf(hit.solid as (typeof solids)[number])]).toBe(nearest)
      expect(Math.hypot(hit.nx, hit.ny, hit.nz)).toBeCloseTo(1, 9)
    }),
    { numRuns: 400 },
  )
  expect(met).toBeGreaterThan(40)
})

test('whether anything stands before a distance', () => {
  fc.assert(
    fc.property(spheres, rays, fc.double({ min: 0.5, max: 20, noNaN: true }), (solids, ray, limit) => {
      const hit = nothing(limit)
      castTree(ray, solidTree(solids, boundsOf), hit, true)
      expect(hit.solid !== null).toBe(solids.some((solid) => hitSolid(ray, solid) < limit))
    }),
    { numRuns: 400 },
  )
})
