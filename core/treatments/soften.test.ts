import { someFrame, surroundings } from '../test/steps'
import { soften } from './soften'

const input = someFrame()

test('widths are in pixels at full scale: half of them at half scale', () => {
  const step = soften.build(input, { across: [3], down: [1] }, surroundings({ scale: 2 }))
  expect(step).toMatchObject({ op: 'blur', sigmaX: 1.5, sigmaY: 0.5, beyond: 'empty' })
})

test('an opaque picture goes on beyond its edges', () => {
  expect(soften.build(input, { across: [3], down: [0] }, surroundings({ opaque: true }))).toMatchObject({
    beyond: 'extend',
  })
})

test('below a tenth of a pixel there is nothing in the graph', () => {
  expect(soften.build(input, { across: [0.09], down: [0] }, surroundings())).toBe(input)
})
