import { frameAtScale } from '../engine/source-frame'
import type { FrameStep } from '../graph/steps'
import type { Planes } from '../image/planes'
import { bent, straightener, type Lens } from '../motion/lens'
import type { Spot } from '../motion/placing'
import { localEngine } from '../test/local-engine'
import { someFrame } from '../test/steps'
import { mapOf } from './lens-files'
import { unbent } from './lens-from-lines'
import { lensOfMap, mapSeen, MapTellsNoLensError, placesInMap } from './lens-of-map'

/** A lens from its map: written as a file's planes, read by the engine, and fitted. */

const frame = { x: 0, y: 0, width: 192, height: 108 }
const plain = unbent({ frame })

async function seenOf(planes: Planes) {
  const engine = localEngine(1, (request) => Promise.resolve(frameAtScale(planes, request)))
  const claims = { encoding: 'linear', primaries: 'rec709', alpha: 'none' } as const
  const map = someFrame({ takes: 'vec2', framing: 'file', claims, frameSize: frame })
  const [x, y] = await Promise.all(placesInMap(map as FrameStep, frame).map((step) => engine.light(step, frame)))
  return mapSeen(x, y, frame)
}
const through = async (lens: Lens, given = { frame }) =>
  lensOfMap(await seenOf(mapOf(lens, frame, 'to-straight')), given)

test.each([
  ['a barrel', { k1: -0.12, k2: 0.02 }],
  ['a pincushion that is askew, its centre off', { k1: 0.06, p1: 0.002, p2: -0.003, centre: [100, 50] as const }],
  ['a moustache', { k1: -0.2, k2: 0.25, k3: -0.08 }],
])('%s: its places are those of the lens', async (_, numbers) => {
  const lens = { ...plain, ...numbers }
  const { lens: found, worst, rms } = await through(lens)
  expect(worst).toBeLessThan(0.01)
  expect(rms).toBeLessThanOrEqual(worst)
  for (const [x, y] of [
    [0, 0],
    [192, 0],
    [30, 100],
    [192, 108],
  ]) {
    const straight = straightener(lens)(x, y) as Spot
    const [u, v] = bent(found, straight)
    expect(Math.hypot(u - x, v - y)).toBeLessThan(0.02)
  }
})

test('a lens of a squeeze is told in that squeeze', async () => {
  const squeezed = { ...unbent({ frame, squeeze: 2 }), k1: -0.1 }
  const found = lensOfMap(await seenOf(mapOf(squeezed, frame, 'to-straight')), { frame, squeeze: 2 })
  expect(found.lens.k1).toBeCloseTo(-0.1, 3)
  expect(found.worst).toBeLessThan(0.01)
})

test('a map that bends nothing tells a lens that bends nothing', async () => {
  const { lens, worst } = await through(plain)
  expect(worst).toBeLessThan(1e-3)
  for (const [x, y] of [
    [0, 0],
    [192, 108],
  ])
    expect(Math.hypot(...bent(lens, [x, y]).map((one, i) => one - [x, y][i]))).toBeLessThan(1e-2)
})

test('holes in it are left out; of next to nothing it says so', async () => {
  const lens = { ...plain, k1: -0.12 }
  const planes = mapOf(lens, frame, 'to-straight')
  const holed = (hole: (x: number, y: number) => boolean): Planes => ({
    ...planes,
    planes: planes.planes.map((plane) => ({
      ...plane,
      samples: Float32Array.from(plane.samples as Float32Array, (value, i) =>
        hole(i % 192, Math.floor(i / 192)) ? NaN : value,
      ),
    })) as Planes['planes'],
  })
  const { lens: found, worst } = lensOfMap(await seenOf(holed((x, y) => Math.hypot(x - 60, y - 50) < 25)), { frame })
  expect(worst).toBeLessThan(0.01)
  expect(found.k1).toBeCloseTo(-0.12, 3)
  const bare = await seenOf(holed((x) => x > 8))
  expect(() => lensOfMap(bare, { frame })).toThrow(MapTellsNoLensError)
})

test('upside down it says so, and bending as no lens does by how much', async () => {
  const planes = mapOf({ ...plain, k1: -0.12 }, frame, 'to-straight')
  const [r, g] = planes.planes
  const flipped = { ...g, samples: Float32Array.from(g.samples as Float32Array, (value) => 1 - value) }
  const upside = await seenOf({ ...planes, planes: [r, flipped] } as Planes)
  expect(() => lensOfMap(upside, { frame })).toThrow(/The map lies upside down/)
  const wavy = {
    ...r,
    samples: Float32Array.from(r.samples as Float32Array, (value, i) => value + 0.02 * Math.sin((i % 192) / 6)),
  }
  const waves = await seenOf({ ...planes, planes: [wavy, g] } as Planes)
  expect(() => lensOfMap(waves, { frame })).toThrow(/off by \d+\.\d px\. Bend by the map itself/)
})
