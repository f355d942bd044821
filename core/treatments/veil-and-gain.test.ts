import fc from 'fast-check'
import { someFrame, surroundings } from '../test/steps'
import { kernelBench, throughProgram } from '../test/kernels'
import { treatments, treatmentKinds } from './index'
import { veilAndGain } from './veil-and-gain'

const bench = kernelBench()

const unit = fc.float({ min: Math.fround(0.01), max: 1, noNaN: true })
const rgb = (arbitrary: fc.Arbitrary<number>) => fc.tuple(arbitrary, arbitrary, arbitrary)
const neutral = { veil: [0, 0, 0], gain: [1, 1, 1], gamma: [1, 1, 1] }

function apply(pixel: readonly number[], values: Record<string, readonly number[]>): number[] {
  const step = veilAndGain.build(someFrame(), { ...neutral, ...values }, surroundings())
  return step.op === 'colour' ? throughProgram(bench, step.steps, [pixel])[0] : pixel.map(Math.fround)
}

test('with nothing set there is nothing in the graph', () => {
  const input = someFrame()
  expect(veilAndGain.build(input, neutral, surroundings())).toBe(input)
})

test('on straight colour it is gain c^(1/gamma) + veil, whatever the coverage', () => {
  fc.assert(
    fc.property(
      rgb(unit),
      unit,
      rgb(unit),
      rgb(unit),
      rgb(fc.float({ min: Math.fround(0.3), max: 3, noNaN: true })),
      (c, a, veil, gain, gamma) => {
        const out = apply([c[0] * a, c[1] * a, c[2] * a, a], { veil, gain, gamma })
        for (let k = 0; k < 3; k++) {
          const straight = Math.fround(c[k] * a) / Math.fround(a)
          const expected = (gain[k] * straight ** (1 / gamma[k]) + veil[k]) * a
          expect(Math.abs(out[k] - expected)).toBeLessThanOrEqual(4e-6 * Math.max(expected, 0.1))
        }
        expect(out[3]).toBe(Math.fround(a))
      },
    ),
  )
})

test('the right veil makes CG black equal plate black exactly: veil = plate, where the CG is 0', () => {
  expect(apply([0, 0, 0, 1], { veil: [0.021, 0.024, 0.029] })).toEqual([0.021, 0.024, 0.029, 1].map(Math.fround))
})

test('what is undone by its inverse comes back', () => {
  fc.assert(
    fc.property(rgb(unit), rgb(unit), (c, gain) => {
      const there = apply([...c, 1], { gain })
      const back = apply(there, { gain: gain.map((g) => 1 / g) })
      c.forEach((value, k) => expect(back[k]).toBeCloseTo(value, 5))
    }),
  )
})

describe('descriptions', () => {
  test.each(treatmentKinds)('%s: every parameter starts inside its range, with a step and a sentence', (kind) => {
    const { parameters, help, label } = treatments[kind]
    expect(help).toMatch(/\.$/)
    expect(label.length).toBeGreaterThan(2)
    for (const p of parameters) {
      expect(p.initial).toBeGreaterThanOrEqual(p.least)
      expect(p.initial).toBeLessThanOrEqual(p.most)
      expect(p.step).toBeGreaterThan(0)
      expect(p.help).toMatch(/\.$/)
    }
    expect(new Set(parameters.map((p) => p.name)).size).toBe(parameters.length)
  })
})
