import { resample } from '../graph/steps'
import { localEngine } from '../test/local-engine'
import { someFrame, surroundings } from '../test/steps'
import { lensMap } from './lens-map'

const window = { x: 0, y: 0, width: 40, height: 20 }
const load = async ({ source }: { source: string }) => ({
  decoded: false,
  dataWindow: window,
  displayWindow: window,
  planes: (source === 'map' ? ['R', 'G'] : ['R', 'G', 'B', 'A']).map((name) => ({
    name,
    type: 'float' as const,
    // A map that looks three pixels to the right and one down.
    samples: Float32Array.from({ length: 800 }, (_, i) =>
      source === 'map' ? (name === 'R' ? 3 : 1) : name === 'A' ? 1 : (i % 40) + 100 * Math.floor(i / 40),
    ),
  })),
})

test('each pixel comes from where the map says', async () => {
  const map = someFrame({ source: 'map', path: 'lens.exr', takes: 'vec2' })
  const mapping = lensMap.side === 'mapping' && lensMap.mapping({}, surroundings({ sources: { map } }))
  if (!mapping) throw new Error('a lens map moves pixels')
  const step = resample(someFrame(), mapping, 'catmull-rom')
  const out = await localEngine(1, load).light(step, window)
  expect(out[(5 * 40 + 10) * 4]).toBe(13 + 600)
  // Beyond the element there is nothing.
  expect([...out.slice((5 * 40 + 39) * 4, (5 * 40 + 39) * 4 + 4)]).toEqual([0, 0, 0, 0])
})
