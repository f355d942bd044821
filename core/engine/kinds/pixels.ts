/** Steps on single pixels of one input: colour programs, tables, kernels of treatments. */

import { tableAt } from '../../colour/table'
import type { ColourRun, PointStep, Step, TableStep } from '../../graph/steps'
import type { Window } from '../../image/window'
import type { ColourStep } from '../../kernels/colour-program'
import { stripBytes } from '../../kernels/kernels'
import { treatments, type Treatment } from '../../treatments'
import type { Rows } from '../program'
import type { Bounding, Need, RunRows, StepKind } from './kind'

const ofInput = {
  bounds: ({ inputs }: Step, at: Bounding) => at.bounds(inputs[0]),
  needs: ({ inputs }: Step, window: Window): readonly Need[] => [{ input: inputs[0], window }],
}

/** Steps that make nothing of nothing; what others make of it beyond the input's bounds is cut off. */
const keepsNothing: ReadonlySet<ColourStep['do']> = new Set([
  'affine',
  'power',
  'matrix',
  'linear-from-srgb',
  'srgb-from-linear',
  'premultiply',
  'unpremultiply',
  'premultiply-covered',
  'mirrored-power',
  'fade',
  'light-above',
])

export const colour: StepKind<ColourRun> = {
  ...ofInput,
  lower(step, _window, at) {
    const input = at.rows(step.inputs[0])
    if (input.node === 'nothing') return input
    const run: Rows =
      input.node === 'colour'
        ? { ...input, steps: [...input.steps, ...step.steps] }
        : { node: 'colour', input, steps: step.steps }
    if (step.steps.every((one) => keepsNothing.has(one.do))) return run
    return { node: 'clip', input: run, bounds: at.bounds(step) }
  },
}

export const runColour: RunRows<'colour'> = ({ input, steps }, maker) => maker.coloured(maker.fill(input), steps)

export const table: StepKind<TableStep> = {
  ...ofInput,
  lower(step, _window, at) {
    const [picture, through] = step.inputs
    const input = at.rows(picture)
    if (input.node === 'nothing') return input
    const run: Rows = { node: 'table', input, address: at.frame(through).planes[0].address }
    return { node: 'clip', input: run, bounds: at.bounds(step) }
  },
}

export const runTable: RunRows<'table'> = ({ input, address }, maker) => {
  const fill = maker.fill(input)
  const run = tableAt(maker.kernels, address)
  return (strip, x, y, count) => {
    fill(strip, x, y, count)
    run(strip, count)
  }
}

export const point: StepKind<PointStep> = {
  ...ofInput,
  needs: ({ inputs }, window) => inputs.map((input) => ({ input, window })),
  lower({ inputs, kind, values, draw }, _window, at) {
    const [input, ...others] = inputs.map((one) => at.rows(one))
    return input.node === 'nothing' ? input : { node: 'point', input, others, kind, values, draw }
  },
}

export const runPoint: RunRows<'point'> = ({ input, others, kind, values, draw }, maker) => {
  const treatment = (treatments as Readonly<Record<string, Treatment | undefined>>)[kind]
  const picture = treatment && treatment.side !== 'mapping' ? treatment : undefined
  const run = picture?.run
  if (!run) throw new Error(`The treatment "${kind}" has no kernel of its own.`)
  const fill = maker.fill(input)
  const work = maker.work.take(stripBytes)
  const tables = (picture.tables?.(values) ?? []).map((one) =>
    one instanceof Float64Array ? maker.doubles([...one]) : maker.weights(one),
  )
  const besides = others.map((one) => ({ fill: maker.fill(one), strip: maker.work.take(stripBytes) }))
  const strips = besides.map((one) => one.strip)
  return (strip, x, y, count) => {
    fill(strip, x, y, count)
    for (const one of besides) one.fill(one.strip, x, y, count)
    run(maker.kernels, strip, count, values, draw, x, y, work, strips, tables)
  }
}
