/** An element's input at a time: its small tree of passes, sums, products, constants and other elements. */

import {
  colour,
  combine,
  constant,
  made,
  resample,
  type ElementCarries,
  type MadePicture,
  type Mapping,
  type Step,
} from '../graph/steps'
import { reduceWindow, type Window } from '../image/window'
import type { Rgb } from '../kernels/colour-program'
import { valueAt } from '../motion/curve'
import { inputDescriptions } from '../set/owners'
import {
  find,
  partsOfInput,
  rootInput,
  shotFramesOf,
  timedFrame,
  type CombinedInput,
  type ConstantInput,
  type Element,
  type ElementInput,
  type GradientInput,
  type Input,
  type NoiseInput,
  type PassInput,
} from '../shot'
import { alphaOf } from '../graph/alpha-of'
import type { Planning } from './memo'
import type { Problem } from './problem'
import { mappingOf, notMadeYet, sourceStep } from './source'
import { pointsAt, valuesAt } from './values'

export interface InputAt {
  readonly step: Step
  /** from the frame's pixels to the step's; null: they are the same */
  readonly mapping: Mapping | null
  /** it covers wholly wherever it is */
  readonly opaque: boolean
}

/** @returns null where it shows nothing at that time */
export function inputAt(
  planning: Planning,
  element: Element,
  time: number,
  takes: ElementCarries,
  problems: Problem[],
  show: ShowElement,
): InputAt | null {
  const root = rootInput(element)
  return root ? branch({ planning, element, time, takes, problems, show }, root) : null
}

/** What another element shows by itself. */
export type ShowElement = (
  planning: Planning,
  id: string,
  time: number,
) => { readonly step: Step | null; readonly problems: readonly Problem[] }

interface Growing {
  readonly planning: Planning
  readonly element: Element
  readonly time: number
  readonly takes: ElementCarries
  readonly problems: Problem[]
  readonly show: ShowElement
}

function branch(growing: Growing, input: Input): InputAt | null {
  switch (input.kind) {
    case 'pass':
      return pass(growing, input)
    case 'element':
      return other(growing, input)
    case 'constant':
      return flat(growing, input)
    case 'gradient':
      return gradient(growing, input)
    case 'noise':
      return noise(growing, input)
    case 'sum':
    case 'product':
      return combined(growing, input)
    case 'group':
      // What is in a group is blended by whoever composes; as an input it shows nothing by itself.
      return null
  }
}

function pass({ planning, element, time, takes, problems }: Growing, input: PassInput): InputAt | null {
  const { memo } = planning
  const source = memo.read(planning, ({ shot }) => find(shot.sources, input.source))
  if (!source) {
    problems.push({
      at: { kind: 'element', id: element.id },
      sentence: `${element.name} is made of a source that is not in the shot any more.`,
      remedy: 'Choose another source for it, or undo what removed the source.',
      missing: memo.read(planning, ({ shot }) => shot.plate === element.id) ? 'nothing' : 'part',
    })
    return null
  }
  if (source.forComparing) {
    problems.push({
      at: { kind: 'element', id: element.id },
      sentence: `${element.name} is made of ${source.name}, which is for comparing only: it is in no picture and no delivery.`,
      remedy: 'Choose another source for it, or let the source be used.',
      missing: memo.read(planning, ({ shot }) => shot.plate === element.id) ? 'nothing' : 'part',
    })
    return null
  }
  const shown = timedFrame(shotFramesOf(source), input.timing, time)
  if (shown === null) return null
  const step = sourceStep(planning, source.id, input.part, input.channels ?? null, takes, shown)
  if (!step) {
    const wanting = notMadeYet(planning, source, shown)
    if (wanting) problems.push(wanting)
    return null
  }
  return {
    step: tinted(step, input, time),
    mapping: mappingOf(planning, source),
    opaque: source.claims.alpha === 'none',
  }
}

function other({ planning, time, takes, problems, show }: Growing, input: ElementInput): InputAt | null {
  const range = planning.memo.read(planning, ({ shot }) => shot.frames)
  const shown = timedFrame(range, input.timing, time)
  if (shown === null) return null
  const at = show(planning, input.element, shown)
  problems.push(...at.problems)
  const step = at.step && tinted(takes === 'rgba' ? at.step : alphaOf(at.step), input, time)
  return step && { step, mapping: null, opaque: false }
}

/** Exposure and colour of a pass, in light. */
function tinted(step: Step, { parameters }: Input, time: number): Step {
  const stops = valueAt(parameters.exposure?.[0] ?? 0, time)
  const gain = (parameters.colour ?? [1, 1, 1]).map((curve) => valueAt(curve, time) * 2 ** stops)
  if (gain.every((factor) => factor === 1)) return step
  return colour(step, [{ do: 'affine', gain: gain as unknown as Rgb, veil: [0, 0, 0] }])
}

function flat({ planning, time }: Growing, { parameters }: ConstantInput): InputAt {
  const { alpha, colour: light } = valuesAt(inputDescriptions.constant.parameters, parameters, time)
  return { step: constant(covered(light, alpha[0]), frameOf(planning)), mapping: null, opaque: alpha[0] === 1 }
}

/** Its stops in order; of two at one place the one that comes first by its id is on the start's side. */
function gradient({ planning, time }: Growing, { parameters, choices, points }: GradientInput): InputAt {
  const { scale } = planning
  const described = inputDescriptions.gradient
  const values = valuesAt(described.parameters, parameters, time)
  const stops = pointsAt(described.points.parameters, points, time)
    .map(({ values: { at, colour: light, alpha } }) => ({ at: at[0], pixel: covered(light, alpha[0]) }))
    .sort((a, b) => a.at - b.at)
  const spot = (x: string, y: string) => [values[x][0] / scale, values[y][0] / scale] as const
  const picture: MadePicture = {
    made: 'gradient',
    shape: choices.shape === 'radial' ? 'radial' : 'linear',
    start: spot('startX', 'startY'),
    end: spot('endX', 'endY'),
    stops,
  }
  const opaque = stops.every(({ pixel }) => pixel[3] === 1)
  return { step: made(picture, frameOf(planning)), mapping: null, opaque }
}

function noise({ planning, element, time }: Growing, { id, parameters }: NoiseInput): InputAt {
  const { memo, scale } = planning
  const values = valuesAt(inputDescriptions.noise.parameters, parameters, time)
  const { colour: light, size, flatness, octaves, middle, contrast, driftX, driftY, change, alpha } = values
  const seed = memo.read(planning, ({ shot }) => shot.seed)
  // Clouds without coverage are light alone.
  const [r, g, b] = light.map(Math.fround)
  const pixel = alpha[0] > 0 ? covered(light, alpha[0]) : ([r, g, b, 0] as const)
  const picture: MadePicture = {
    made: 'noise',
    pixel,
    size: [size[0] / scale, size[0] / flatness[0] / scale],
    octaves: Math.round(octaves[0]),
    ...{ middle: middle[0], contrast: contrast[0], change: change[0] },
    drift: [driftX[0] / scale, driftY[0] / scale],
    seed: `${seed} ${element.id} ${id}`,
  }
  return { step: made(picture, frameOf(planning)), mapping: null, opaque: false }
}

const covered = ([r, g, b]: readonly number[], alpha: number) =>
  [Math.fround(r * alpha), Math.fround(g * alpha), Math.fround(b * alpha), Math.fround(alpha)] as const

function frameOf(planning: Planning): Window {
  const frameSize = planning.memo.read(planning, ({ shot }) => shot.frameSize)
  return reduceWindow({ x: 0, y: 0, ...frameSize }, planning.scale)
}

/**
 * The light of the parts that show anything; alpha is that of the one that is named, whose light does not count, else that
 * of the first. Parts whose files have pixels of other sizes are brought into the frame first.
 */
function combined(growing: Growing, input: CombinedInput): InputAt | null {
  const parts = partsOfInput(growing.element, input.id).flatMap((part) => {
    // A pass of one channel that is named as alpha is coverage, and not a grey picture that covers everything.
    const coverage = part.id === input.alpha && part.kind === 'pass' && part.channels?.length === 1
    const at = branch(coverage ? { ...growing, takes: 'scalar' } : growing, part)
    return at ? [{ id: part.id, ...at, opaque: at.opaque && !coverage }] : []
  })
  const alike = parts.every(({ mapping }) => sameMapping(mapping, parts[0].mapping))
  const steps = parts.map(({ id, step, mapping, opaque }) => ({
    id,
    opaque,
    step: alike || !mapping ? step : resample(step, mapping, 'catmull-rom'),
  }))
  const named = steps.find(({ id }) => id === input.alpha)
  const light = steps.filter(({ id }) => id !== input.alpha)
  const [first, ...rest] = light
  const of = named ?? first
  if (!of || (input.alpha !== undefined && !named)) return null
  const mapping = alike ? parts[0].mapping : null
  if (!named) {
    const step = rest.reduce((sum, one) => combine(input.kind, [sum, one.step]), first.step)
    return { step, mapping, opaque: first.opaque }
  }
  // Only alpha is kept of the part that is named.
  const none = [0, 0, 0] as const
  const empty = colour(named.step, [{ do: 'matrix', rows: [none, none, none] }])
  if (!first) return { step: empty, mapping, opaque: named.opaque }
  if (input.kind === 'sum') {
    const step = light.reduce<Step>((sum, one) => combine('sum', [sum, one.step]), empty)
    return { step, mapping, opaque: named.opaque }
  }
  const product = rest.reduce((step, one) => combine('product', [step, one.step]), first.step)
  return { step: combine('alpha-of', [product, named.step]), mapping, opaque: named.opaque }
}

function sameMapping(a: Mapping | null, b: Mapping | null): boolean {
  if (!a || !b) return a === b
  return a.field?.key === b.field?.key && a.matrix.every((value, i) => value === b.matrix[i])
}
