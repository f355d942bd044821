import { someFrame, surroundings } from '../test/steps'
import { lensMap } from './lens-map'

test('takes pixels by the map it names, in the size of the frame at the scale', () => {
  const map = someFrame({ path: 'lens.exr', takes: 'map' })
  const around = { scale: 2, sources: { map }, frameSize: { width: 301, height: 150 } }
  const step = lensMap.build(someFrame(), {}, surroundings(around))
  expect(step).toMatchObject({ op: 'warp', filter: 'catmull-rom', frame: { width: 150.5, height: 75 } })
  expect(step.op === 'warp' && step.map).toBe(map)
})
