/** Pixels of several inputs at the same place made into one. */

import type { Combining, CombineStep } from '../../graph/steps'
import { union, type Window } from '../../image/window'
import { programBytes, writeProgram, type ColourStep } from '../../kernels/colour-program'
import { planeBytes, stripBytes, type Kernels } from '../../kernels/kernels'
import type { RunRows, StepKind } from './kind'

/** Where each can differ from empty, from where its inputs can. */
const boundsOf: Readonly<Record<Combining, (inputs: readonly Window[]) => Window>> = {
  sum: ([first, second]) => union(first, second),
  product: ([first]) => first,
  mix: ([first, second]) => union(first, second),
  'where-not-empty': ([first]) => first,
  'where-changed': ([first, second]) => union(first, second),
  'alpha-of': ([first, second]) => union(first, second),
  'channels-of': ([first, second, third]) => union(first, union(second, third)),
}

export const combine: StepKind<CombineStep> = {
  bounds: ({ how, inputs }, at) => boundsOf[how](inputs.map((input) => at.bounds(input))),
  needs: ({ inputs }, window) => inputs.map((input) => ({ input, window })),
  lower: ({ how, inputs, values }, _window, at) => ({
    node: 'combine',
    how,
    inputs: inputs.map((input) => at.rows(input)),
    values,
  }),
}

type Run = (kernels: Kernels, strip: number, others: readonly number[], count: number) => void

/** @param program of a mix: what becomes of its matte; null where it has none */
const runs: Readonly<Record<Combining, (program: number | null, amount: number) => Run>> = {
  sum:
    () =>
    (kernels, strip, [other], count) =>
      kernels.addLight(strip, other, count, 1, 1, 1),
  product:
    () =>
    (kernels, strip, [other], count) =>
      kernels.multiplyLight(strip, other, count),
  mix:
    (program, amount) =>
    (kernels, strip, [other, matte], count) => {
      if (program === null) kernels.fill(matte, amount, count)
      else kernels.colourProgram(matte, count, program)
      kernels.reveal(strip, matte, other, count)
    },
  'where-not-empty':
    () =>
    (kernels, strip, [other], count) =>
      kernels.emptyWhere(strip, other, count),
  'where-changed':
    () =>
    (kernels, strip, [treated, plate], count) =>
      kernels.takeWhereChanged(strip, treated, plate, count),
  'alpha-of':
    () =>
    (kernels, strip, [other], count) =>
      kernels.copy(strip + 3 * planeBytes, other + 3 * planeBytes, count * 4),
  'channels-of':
    () =>
    (kernels, strip, [red, blue], count) => {
      kernels.copy(strip, red, count * 4)
      kernels.copy(strip + 2 * planeBytes, blue + 2 * planeBytes, count * 4)
    },
}

function matteSteps([amount, inverted]: readonly number[]): ColourStep[] {
  return [
    { do: 'clamp', least: 0, most: 1 },
    ...(inverted === 1 ? [{ do: 'complement' } as const] : []),
    ...(amount === 1 ? [] : [{ do: 'fade', amount } as const]),
  ]
}

export const runCombine: RunRows<'combine'> = ({ how, inputs, values }, maker) => {
  const [first, ...others] = inputs.map((input) => maker.fill(input))
  const strips = others.map(() => maker.work.take(stripBytes))
  let program: number | null = null
  if (how === 'mix' && others.length === 1) strips.push(maker.work.take(stripBytes))
  else if (how === 'mix') {
    const steps = matteSteps(values)
    program = maker.work.take(programBytes(steps))
    writeProgram(maker.kernels.memory, program, steps)
  }
  const run = runs[how](program, values[0] ?? 1)
  return (strip, x, y, count) => {
    first(strip, x, y, count)
    others.forEach((fill, i) => fill(strips[i], x, y, count))
    run(maker.kernels, strip, strips, count)
  }
}
