import fc from 'fast-check'
import { expectClose, kernelBench, throughProgram } from '../test/kernels'
import { someFrame, surroundings } from '../test/steps'
import { saturation } from './saturation'

const bench = kernelBench()
const luma = ([r, g, b]: readonly number[]) => 0.2126 * r + 0.7152 * g + 0.0722 * b
const light = fc.float({ min: 0, max: 8, noNaN: true })

function apply(pixel: readonly number[], amount: number): number[] {
  const step = saturation.build(someFrame(), { amount: [amount] }, surroundings())
  return step.op === 'colour' ? throughProgram(bench, step.steps, [pixel])[0] : [...pixel]
}

test('1 changes nothing, 0 leaves grey, and luma and alpha stay whatever the amount', () => {
  const input = someFrame()
  expect(saturation.build(input, { amount: [1] }, surroundings())).toBe(input)
  fc.assert(
    fc.property(fc.tuple(light, light, light), fc.float({ min: 0, max: 3, noNaN: true }), (colour, amount) => {
      const grey = apply([...colour, 0.5], 0)
      for (let c = 0; c < 3; c++) expectClose(grey[c], luma(colour), 8)
      const out = apply([...colour, 0.5], amount)
      expectClose(luma(out), luma(colour), 30)
      expect(out[3]).toBe(0.5)
    }),
  )
})
