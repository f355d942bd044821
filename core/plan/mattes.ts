/** Mattes of the shot as steps: one channel from 0 to 1, which lies in the frame. */

import { lumaWeights, workingSpaces } from '../colour'
import { blur, colour, combine, grow, mix, resample, type Mapping, type Step } from '../graph/steps'
import type { ColourStep, Rgb } from '../kernels/colour-program'
import { matteDescriptions } from '../set/owners'
import {
  find,
  inOrder,
  matteIsInItself,
  shareAtEnd,
  type AlphaMatte,
  type BandMatte,
  type ChannelMatte,
  type CombinedMatte,
  type DepthMatte,
  type KeyedMatte,
  type ObjectsMatte,
  type Source,
} from '../shot'
import { alphaOf } from '../graph/alpha-of'
import { drawn, painted } from './drawn-mattes'
import { around, frameOf, inverse, one, together, zero } from './matte-algebra'
import type { Planning } from './memo'
import type { Problem } from './problem'
import { mappingOf, sourceStep } from './source'
import { valuesAt } from './values'

/** What mattes need of elements, which need mattes. */
export interface ElementsForMattes {
  /** What an element shows by itself; `asItCame`: before its treatments. */
  show(
    planning: Planning,
    element: string,
    time: number,
    asItCame: boolean,
  ): { readonly step: Step | null; readonly problems: readonly Problem[] }
  /**
   * Coverage in an element's own pixels, as it comes into the frame with that.
   *
   * @param own from the frame's pixels to those of the coverage, where nothing is moved; null: the same
   * @returns null where nothing of it is seen
   */
  lay(planning: Planning, element: string, time: number, coverage: Step, own: Mapping | null): Step | null
}

interface MatteAt {
  readonly step: Step | null
  readonly problems: readonly Problem[]
}

/** @returns null where it covers nothing at that time, or cannot be made */
export function matteStep(planning: Planning, id: string, time: number, elements: ElementsForMattes): MatteAt {
  const { memo, scale } = planning
  return memo.remember(planning, `matte ${id} ${time} ${scale}`, () => planMatte(planning, id, time, elements))
}

function planMatte(planning: Planning, id: string, time: number, elements: ElementsForMattes): MatteAt {
  const { memo, scale } = planning
  const matte = memo.read(planning, ({ shot }) => find(shot.mattes, id))
  if (!matte) return { step: null, problems: [] }
  const problems: Problem[] = []
  const at = { kind: 'matte', id } as const
  if (memo.read(planning, ({ shot }) => matteIsInItself(shot, id))) {
    const sentence = `Matte ${matte.name} is made of itself, by way of the mattes that it is made of.`
    return {
      step: null,
      problems: [{ at, sentence, remedy: 'Take one of them out of the circle.', missing: 'part' }],
    }
  }
  const made = ((): Step | null => {
    switch (matte.kind) {
      case 'drawn':
        return drawn(planning, matte, time, problems)
      case 'painted':
        return painted(planning, matte, time, problems)
      case 'channel':
        return channel(planning, matte, time, problems, elements, (values) => colour(values, [held]))
      case 'depth':
        return depthSlice(planning, matte, time, problems, elements)
      case 'objects':
        return objects(planning, matte, time, problems, elements)
      case 'band':
        return band(planning, matte, time, problems, elements)
      case 'alpha': {
        if (isWithoutElement(planning, matte, problems)) return null
        const shown = elements.show(planning, matte.element, time, false)
        problems.push(...shown.problems)
        return shown.step && alphaOf(shown.step)
      }
      case 'keyed':
        return keyed(planning, matte, time, problems, elements)
      case 'combined':
        return combined(planning, matte, time, problems, elements)
    }
  })()
  const { grow: by, soften, opacity } = valuesAt(matteDescriptions[matte.kind].parameters, matte.parameters, time)
  const pin = 'pin' in matte ? matte.pin : undefined
  const left = pin && 'tracks' in pin ? memo.read(planning, ({ shot }) => shareAtEnd(shot, pin, time)) : 1
  const there = made && left !== 1 ? colour(made, [{ do: 'fade', amount: left }]) : made
  const sized = there && grow(there, by[0] / scale, { frame: frameOf(planning) })
  const soft = sized && blur(sized, soften[0] / scale, soften[0] / scale, 'empty')
  const whole = matte.inverted ? inverse(planning, soft) : soft
  return { step: whole && opacity[0] !== 1 ? colour(whole, [{ do: 'fade', amount: opacity[0] }]) : whole, problems }
}

const goneOf = (id: string, sentence: string): Problem => ({
  at: { kind: 'matte', id },
  sentence,
  remedy: 'Choose another one, or undo the removal.',
  missing: 'part',
})

/** Whether what a matte is taken from is gone; then that is a problem. */
function isWithoutElement(
  planning: Planning,
  { id, name, element }: AlphaMatte | KeyedMatte,
  problems: Problem[],
): boolean {
  if (planning.memo.read(planning, ({ shot }) => find(shot.elements, element))) return false
  problems.push(goneOf(id, `Matte ${name} is taken from an element that is gone.`))
  return true
}

function combined(
  planning: Planning,
  { id, name, parts }: CombinedMatte,
  time: number,
  problems: Problem[],
  elements: ElementsForMattes,
): Step | null {
  let step: Step | null = null
  for (const { matte, how, inverted } of inOrder(parts)) {
    if (!planning.memo.read(planning, ({ shot }) => find(shot.mattes, matte)))
      problems.push(goneOf(id, `Matte ${name} is made of a matte that is gone.`))
    const next = matteStep(planning, matte, time, elements)
    problems.push(...next.problems)
    step = together(planning, step, how, inverted ? inverse(planning, next.step) : next.step)
  }
  return step
}

const notThere = (
  { id, name }: Pick<ChannelMatte, 'id' | 'name'>,
  source: string | undefined,
  time: number,
): Problem => ({
  at: { kind: 'matte', id },
  sentence: `Matte ${name} has no ${source ?? 'source'} at frame ${time}.`,
  remedy: 'Choose a source that reaches it and is not for comparing only.',
  missing: 'part',
})

/** The values of a channel as a matte is made of it, before they are sampled. @returns null, with a problem, where there are none */
function channel(
  planning: Planning,
  matte: ChannelMatte | DepthMatte,
  time: number,
  problems: Problem[],
  elements: ElementsForMattes,
  made: (values: Step) => Step,
): Step | null {
  const { memo } = planning
  const source = memo.read(planning, ({ shot }) => find(shot.sources, matte.source))
  const channels = matte.channel === null ? null : [matte.channel]
  const usable = source && !source.forComparing
  const step = usable ? sourceStep(planning, source.id, matte.part, channels, 'scalar', time) : null
  if (!source || !step) {
    problems.push(notThere(matte, source?.name, time))
    return null
  }
  return laid(planning, matte, made(step), source, time, problems, elements)
}

/** The coverage where it lies in the frame, or in the frame with the element in which it lies. */
function laid(
  planning: Planning,
  { id, name, lies }: ChannelMatte | DepthMatte | ObjectsMatte,
  coverage: Step,
  source: Source,
  time: number,
  problems: Problem[],
  elements: ElementsForMattes,
): Step | null {
  const mapping = mappingOf(planning, source)
  if (lies === undefined) return mapping ? colour(resample(coverage, mapping, 'catmull-rom'), [held]) : coverage
  if (planning.memo.read(planning, ({ shot }) => find(shot.elements, lies))) {
    const step = elements.lay(planning, lies, time, coverage, mapping)
    return step && step !== coverage ? colour(step, [held]) : step
  }
  problems.push(goneOf(id, `Matte ${name} lies in an element that is gone.`))
  return null
}

type Levels = Pick<ReturnType<typeof valuesAt>, 'low' | 'full' | 'fullTo' | 'high'>

/** Whether levels are in order; a problem where they are not. */
function inLevels(
  { id, name }: KeyedMatte | DepthMatte,
  { low, full, fullTo, high }: Levels,
  time: number,
  problems: Problem[],
): boolean {
  if (low[0] < full[0] && full[0] <= fullTo[0] && fullTo[0] < high[0]) return true
  problems.push({
    at: { kind: 'matte', id },
    sentence: `Matte ${name}: where it starts, is full and ends are not in order at frame ${time}.`,
    remedy: 'Let each of the four levels be above the one before.',
    missing: 'part',
  })
  return false
}

/** From 0 at the one value to 1 at the other. */
function rampBetween(from: number, to: number): readonly ColourStep[] {
  const gain = 1 / (to - from)
  const veil = -from * gain
  return [{ do: 'affine', gain: [gain, gain, gain], veil: [veil, veil, veil] }, held]
}

/** Depths become coverage before anything is sampled: between two depths lies no third. */
function depthSlice(
  planning: Planning,
  matte: DepthMatte,
  time: number,
  problems: Problem[],
  elements: ElementsForMattes,
): Step | null {
  const values = valuesAt(matteDescriptions.depth.parameters, matte.parameters, time)
  if (!inLevels(matte, values as Levels, time, problems)) return null
  const { low, full, fullTo, high } = values
  return channel(planning, matte, time, problems, elements, (depths) => {
    // Where a pass has no depth there is nothing.
    const known = combine('where-not-empty', [one(around(planning)), depths])
    const ramp = (from: number, to: number) => colour(combine('alpha-of', [depths, known]), rampBetween(from, to))
    const behind = mix(zero(around(planning)), one(around(planning)), ramp(low[0], full[0]), 1)
    return mix(zero(around(planning)), behind, ramp(high[0], fullTo[0]), 1)
  })
}

/** Sums of what the objects cover in each rank. */
function objects(
  planning: Planning,
  matte: ObjectsMatte,
  time: number,
  problems: Problem[],
  elements: ElementsForMattes,
): Step | null {
  const { source: from, layers, ranked, objects: wanted } = matte
  const ids = Object.values(wanted)
  if (ids.length === 0) return null
  const source = planning.memo.read(planning, ({ shot }) => find(shot.sources, from))
  const usable = source && !source.forComparing
  const ranks = usable
    ? layers.map(({ part, channels }) =>
        sourceStep(planning, source.id, part, channels, 'scalar', time, { ids, ranked }),
      )
    : [null]
  const known = ranks.filter((step) => step !== null)
  if (!source || known.length < ranks.length) {
    problems.push(notThere(matte, source?.name, time))
    return null
  }
  const covered = known.reduce<Step>((sum, rank) => combine('sum', [sum, rank]), zero(around(planning)))
  const grey = mix(zero(around(planning)), one(around(planning)), covered, 1)
  return laid(planning, matte, grey, source, time, problems, elements)
}

function band(
  planning: Planning,
  { id, name, matte, parameters }: BandMatte,
  time: number,
  problems: Problem[],
  elements: ElementsForMattes,
): Step | null {
  if (!planning.memo.read(planning, ({ shot }) => find(shot.mattes, matte))) {
    problems.push(goneOf(id, `Matte ${name} is the edge of a matte that is gone.`))
    return null
  }
  const of = matteStep(planning, matte, time, elements)
  problems.push(...of.problems)
  const { inside, outside } = valuesAt(matteDescriptions.band.parameters, parameters, time)
  const beyond = { frame: frameOf(planning) }
  const by = (px: number) => of.step && grow(of.step, px / planning.scale, beyond)
  return together(planning, by(outside[0]), 'subtract', by(-inside[0]))
}

const held: ColourStep = { do: 'clamp', least: 0, most: 1 }
const channelWeights: Readonly<Record<string, Rgb>> = { red: [1, 0, 0], green: [0, 1, 0], blue: [0, 0, 1] }

/** How far the light of each pixel lies from a colour. @param picture opaque */
function distanceFrom(picture: Step, [r, g, b]: Rgb): Step {
  const apart = colour(picture, [{ do: 'affine', gain: [1, 1, 1], veil: [-r, -g, -b] }])
  const all: Rgb = [1, 1, 1]
  return colour(combine('product', [apart, apart]), [
    { do: 'matrix', rows: [all, all, all] },
    { do: 'power', exponent: [0.5, 0.5, 0.5] },
  ])
}

function keyed(
  planning: Planning,
  matte: KeyedMatte,
  time: number,
  problems: Problem[],
  elements: ElementsForMattes,
): Step | null {
  if (isWithoutElement(planning, matte, problems)) return null
  const shown = elements.show(planning, matte.element, time, true)
  problems.push(...shown.problems)
  if (!shown.step) return null
  const values = valuesAt(matteDescriptions.keyed.parameters, matte.parameters, time)
  if (!inLevels(matte, values as Levels, time, problems)) return null
  const { low, full, fullTo, high } = values
  const working = workingSpaces[planning.memo.read(planning, ({ shot }) => shot.workingSpace)]
  const row = channelWeights[matte.choices.by] ?? (lumaWeights(working) as unknown as Rgb)
  // Of straight light, and of coverage afterwards: both ramps together would count it twice.
  const straight = combine('alpha-of', [colour(shown.step, [{ do: 'unpremultiply' }]), one(around(planning))])
  const level =
    matte.choices.by === 'colour'
      ? distanceFrom(straight, values.colour as unknown as Rgb)
      : colour(straight, [{ do: 'matrix', rows: [row, row, row] }])
  const ramp = (from: number, to: number) => colour(level, rampBetween(from, to))
  const key = mix(zero(around(planning)), ramp(low[0], full[0]), ramp(high[0], fullTo[0]), 1)
  return mix(zero(around(planning)), key, alphaOf(shown.step), 1)
}
