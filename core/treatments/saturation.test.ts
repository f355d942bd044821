import fc from 'fast-check'
import { expectClose, kernelBench, throughProgram } from '../test/kernels'
import { someFrame, surroundings } from '../test/steps'
import { lumaWeights } from '../colour'
import { saturation } from './saturation'

const bench = kernelBench()
const [wr, wg, wb] = lumaWeights('rec709')
const luma = ([r, g, b]: readonly number[]) => wr * r + wg * g + wb * b
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

test('luma is that of the working space: what is grey to ACEScg at 0 is its own luma', () => {
  const step = saturation.build(someFrame(), { amount: [0] }, surroundings({ working: 'acescg' }))
  const [out] = step.op === 'colour' ? throughProgram(bench, step.steps, [[0.2, 0.5, 0.9, 1]]) : []
  const [r, g, b] = lumaWeights('acescg')
  for (let c = 0; c < 3; c++) expectClose(out[c], r * 0.2 + g * 0.5 + b * 0.9)
})
