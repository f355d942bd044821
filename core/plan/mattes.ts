/** Mattes of the shot as steps: one channel from 0 to 1, which lies in the frame. */

import { lumaWeights, workingSpaces } from '../colour'
import { blur, colour, constant, mix, outline, resample, type Lines, type Step } from '../graph/steps'
import { dilate, intersect, isEmpty, reduceWindow, type Window } from '../image/window'
import type { ColourStep, Rgb } from '../kernels/colour-program'
import { valueAt } from '../motion/curve'
import { flattened, reachOf, strokesLine, type Outline } from '../outline'
import { matteDescriptions, shapeDescription } from '../set/owners'
import {
  faultOfPin,
  find,
  framesOfShape,
  inOrder,
  isGoneAt,
  isThere,
  matteIsInItself,
  matteMatrix,
  outlineAt,
  type AlphaMatte,
  type ChannelMatte,
  type CombinedMatte,
  type DrawnMatte,
  type KeyedMatte,
  type MatteWay,
  type PaintedMatte,
  type PaintStroke,
  type Shape,
} from '../shot'
import { alphaOf } from './alpha'
import type { Planning } from './memo'
import type { Problem } from './problem'
import { mappingOf, sourceStep } from './source'
import { valuesAt } from './values'

/** What an element shows by itself; `asItCame`: before its treatments. */
export type ShowForMatte = (
  planning: Planning,
  element: string,
  time: number,
  asItCame: boolean,
) => { readonly step: Step | null; readonly problems: readonly Problem[] }

interface MatteAt {
  readonly step: Step | null
  readonly problems: readonly Problem[]
}

/** @returns null where it covers nothing at that time, or cannot be made */
export function matteStep(planning: Planning, id: string, time: number, show: ShowForMatte): MatteAt {
  const { memo, scale } = planning
  return memo.remember(planning, `matte ${id} ${time} ${scale}`, () => planMatte(planning, id, time, show))
}

function planMatte(planning: Planning, id: string, time: number, show: ShowForMatte): MatteAt {
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
        return channel(planning, matte, time, problems)
      case 'alpha': {
        if (isWithoutElement(planning, matte, problems)) return null
        const shown = show(planning, matte.element, time, false)
        problems.push(...shown.problems)
        return shown.step && alphaOf(shown.step)
      }
      case 'keyed':
        return keyed(planning, matte, time, problems, show)
      case 'combined':
        return combined(planning, matte, time, problems, show)
    }
  })()
  const { soften, opacity } = valuesAt(matteDescriptions[matte.kind].parameters, matte.parameters, time)
  const soft = made && blur(made, soften[0] / scale, soften[0] / scale, 'empty')
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

/** Everything that can be asked of a matte: the frame and as much again on each side of it. */
function around(planning: Planning): Window {
  const frameSize = planning.memo.read(planning, ({ shot }) => shot.frameSize)
  const frame = reduceWindow({ x: 0, y: 0, ...frameSize }, planning.scale)
  return dilate(frame, frame.width, frame.height)
}

const zero = (window: Window) => constant([0, 0, 0, 0], window)
const one = (window: Window) => constant([1, 1, 1, 1], window)

const inverse = (planning: Planning, step: Step | null): Step =>
  step ? mix(one(around(planning)), zero(around(planning)), step, 1) : one(around(planning))

/** Coverages that know nothing of each other: a + b - ab, a (1 - b), ab. */
function together(planning: Planning, before: Step | null, how: MatteWay, next: Step | null): Step | null {
  const all = around(planning)
  if (how === 'add') return before && next ? mix(before, one(all), next, 1) : (before ?? next)
  if (!before) return null
  if (how === 'subtract') return next ? mix(before, zero(all), next, 1) : before
  return next && mix(zero(all), before, next, 1)
}

function combined(
  planning: Planning,
  { id, name, parts }: CombinedMatte,
  time: number,
  problems: Problem[],
  show: ShowForMatte,
): Step | null {
  let step: Step | null = null
  for (const { matte, how, inverted } of inOrder(parts)) {
    if (!planning.memo.read(planning, ({ shot }) => find(shot.mattes, matte)))
      problems.push(goneOf(id, `Matte ${name} is made of a matte that is gone.`))
    const next = matteStep(planning, matte, time, show)
    problems.push(...next.problems)
    step = together(planning, step, how, inverted ? inverse(planning, next.step) : next.step)
  }
  return step
}

function channel(planning: Planning, matte: ChannelMatte, time: number, problems: Problem[]): Step | null {
  const { memo } = planning
  const source = memo.read(planning, ({ shot }) => find(shot.sources, matte.source))
  const channels = matte.channel === null ? null : [matte.channel]
  const usable = source && !source.forComparing
  const step = usable ? sourceStep(planning, source.id, matte.part, channels, 'scalar', time) : null
  if (!source || !step) {
    problems.push({
      at: { kind: 'matte', id: matte.id },
      sentence: `Matte ${matte.name} has no ${source?.name ?? 'source'} at frame ${time}.`,
      remedy: 'Choose a source that reaches it and is not for comparing only.',
      missing: 'part',
    })
    return null
  }
  const mapping = mappingOf(planning, source)
  return colour(mapping ? resample(step, mapping, 'catmull-rom') : step, [held])
}

const held: ColourStep = { do: 'clamp', least: 0, most: 1 }
const channelWeights: Readonly<Record<string, Rgb>> = { red: [1, 0, 0], green: [0, 1, 0], blue: [0, 0, 1] }

function keyed(
  planning: Planning,
  matte: KeyedMatte,
  time: number,
  problems: Problem[],
  show: ShowForMatte,
): Step | null {
  if (isWithoutElement(planning, matte, problems)) return null
  const shown = show(planning, matte.element, time, true)
  problems.push(...shown.problems)
  if (!shown.step) return null
  const values = valuesAt(matteDescriptions.keyed.parameters, matte.parameters, time)
  const { low, full, fullTo, high } = values
  if (!(low[0] < full[0] && full[0] <= fullTo[0] && fullTo[0] < high[0])) {
    problems.push({
      at: { kind: 'matte', id: matte.id },
      sentence: `Matte ${matte.name}: where it starts, is full and ends are not in order at frame ${time}.`,
      remedy: 'Let each of the four levels be above the one before.',
      missing: 'part',
    })
    return null
  }
  const working = workingSpaces[planning.memo.read(planning, ({ shot }) => shot.workingSpace)]
  const row = channelWeights[matte.choices.by] ?? (lumaWeights(working) as unknown as Rgb)
  const level = colour(shown.step, [{ do: 'matrix', rows: [row, row, row] }])
  const ramp = (from: number, to: number) => {
    const gain = 1 / (to - from)
    const veil = -from * gain
    return colour(level, [{ do: 'affine', gain: [gain, gain, gain], veil: [veil, veil, veil] }, held])
  }
  return mix(zero(around(planning)), ramp(low[0], full[0]), ramp(high[0], fullTo[0]), 1)
}

/** Whether what a matte is pinned to has ended and it is gone; a problem where the pin holds nothing. */
function isPinGone(planning: Planning, matte: DrawnMatte | PaintedMatte, time: number, problems: Problem[]): boolean {
  const { memo } = planning
  const { pin } = matte
  const fault = pin && memo.read(planning, ({ shot }) => faultOfPin(shot, pin))
  if (fault)
    problems.push({
      at: { kind: 'matte', id: matte.id },
      sentence: `Matte ${matte.name}: ${fault.sentence}.`,
      remedy: fault.remedy,
      missing: 'part',
    })
  return pin !== undefined && memo.read(planning, ({ shot }) => isGoneAt(shot, pin, time))
}

/** Strokes that follow one another with the same brush are one step. */
function painted(planning: Planning, matte: PaintedMatte, time: number, problems: Problem[]): Step | null {
  const { memo, scale } = planning
  if (isPinGone(planning, matte, time, problems)) return null
  const matrix = memo.read(planning, ({ shot }) => matteMatrix(shot, matte, time))
  const groups: PaintStroke[][] = []
  for (const stroke of inOrder(matte.strokes)) {
    if (stroke.frame !== undefined && stroke.frame !== Math.round(time)) continue
    const last = groups.at(-1)
    const same =
      last && last[0].how === stroke.how && last[0].radius === stroke.radius && last[0].hardness === stroke.hardness
    if (same) last.push(stroke)
    else groups.push([stroke])
  }
  return groups.reduce<Step | null>((before, group) => {
    const [{ how, radius }] = group
    const lines: Lines = { lines: [strokesLine(group, matrix, scale)], grow: radius / scale, profile: 'smooth' }
    const window = intersect(reachOf(lines), around(planning))
    const drawnBy = ['painted', scale, matrix, group.map(({ points, radius: r, hardness }) => [points, r, hardness])]
    return together(planning, before, how, isEmpty(window) ? null : outline(lines, window, drawnBy))
  }, null)
}

function drawn(planning: Planning, matte: DrawnMatte, time: number, problems: Problem[]): Step | null {
  if (isPinGone(planning, matte, time, problems)) return null
  let step: Step | null = null
  for (const shape of inOrder(matte.shapes)) {
    if (!isThere(shape, time)) continue
    step = together(planning, step, shape.how, drawnShape(planning, matte, shape, time))
  }
  return step
}

interface Moment {
  readonly time: number
  readonly outline: Outline
  readonly matrix: ReturnType<typeof matteMatrix>
}

function drawnShape(planning: Planning, matte: DrawnMatte, shape: Shape, time: number): Step | null {
  const { memo, scale } = planning
  const { grow, inside, outside, opacity } = valuesAt(shapeDescription.parameters, shape.parameters, time)
  const at = (when: number): Moment => ({
    time: when,
    outline: outlineAt(shape, when),
    matrix: memo.read(planning, ({ shot }) => matteMatrix(shot, matte, when)),
  })
  const times = memo.read(planning, ({ shot }) =>
    matte.shutter === 'closed' || (framesOfShape(shape).length < 2 && !matte.pin)
      ? still
      : openTimes(shot.shutter, time),
  )
  const softness = { inside: inside[0], outside: outside[0] }
  const moments = momentsOf(at, time, times, softness.inside + softness.outside, scale).map(at)
  // An outline that lies behind the eye covers nothing.
  const flat = moments
    .map(({ outline: points, matrix }) => flattened(points, { matrix, scale, ...softness }))
    .filter((line) => line.every(Number.isFinite))
  const lines: Lines = { lines: flat, grow: grow[0] / scale, profile: shape.profile ?? 'smooth' }
  const window = intersect(reachOf(lines), around(planning))
  if (flat.length === 0 || isEmpty(window)) return null
  const drawnBy = [lines.grow, lines.profile, softness, scale, moments.map((one) => [one.matrix, one.time])]
  const step = outline(lines, window, [...drawnBy, keyframesBetween(shape, moments)])
  return opacity[0] === 1 ? step : colour(step, [{ do: 'fade', amount: opacity[0] }])
}

/** Where the points lie on the keyframes that some moments lie between, in their order. */
function keyframesBetween(shape: Shape, moments: readonly Moment[]): readonly Outline[] {
  const frames = framesOfShape(shape)
  const first = frames.findLast((frame) => frame <= moments[0].time) ?? frames[0]
  const last = frames.find((frame) => frame >= moments[moments.length - 1].time) ?? frames[frames.length - 1]
  return frames.filter((frame) => frame >= first && frame <= last).map((frame) => outlineAt(shape, frame))
}

/** While the shutter is open: when it opens, and for how many frames; and no more samples than so many. */
interface Open {
  readonly from: number
  readonly to: number
  readonly most: number
}
const still: Open = { from: 0, to: 0, most: 1 }

function openTimes(
  { parameters }: { readonly parameters: Readonly<Record<string, readonly Parameters<typeof valueAt>[0][]>> },
  time: number,
): Open {
  const [angle, opens, most] = ['angle', 'opens', 'samples'].map((name) => valueAt(parameters[name]?.[0] ?? 0, time))
  return { from: time + opens / 360, to: time + (opens + angle) / 360, most: Math.round(most) }
}

/** Outlines are so many pixels of the graph apart where they are hard; where they are soft, such a share of their width. */
const hardApart = 0.9
const softApart = 0.5

/** Times of as many outlines as motion and softness need: within 2/255 of any more (bench, group mattes). */
function momentsOf(
  at: (time: number) => Moment,
  time: number,
  { from, to, most }: Open,
  softness: number,
  scale: number,
): readonly number[] {
  if (!(to > from)) return [time]
  const looks = [0, 0.5, 1].map((share) => placed(at(from + (to - from) * share)))
  const way = looks[0].reduce(
    (longest, [x, y], i) =>
      Math.max(
        longest,
        Math.hypot(looks[1][i][0] - x, looks[1][i][1] - y) +
          Math.hypot(looks[2][i][0] - looks[1][i][0], looks[2][i][1] - looks[1][i][1]),
      ),
    0,
  )
  if (!(way / scale > 0.02)) return [time]
  const apart = Math.max(hardApart, (softness / scale) * softApart)
  const count = Math.max(2, Math.min(most, Math.ceil(way / scale / apart) + 1))
  return Array.from({ length: count }, (_, i) => from + ((to - from) * (i + 0.5)) / count)
}

function placed({ outline: points, matrix }: Moment): readonly (readonly [number, number])[] {
  return points.map(({ x, y }) => {
    if (!matrix) return [x, y]
    const w = matrix[6] * x + matrix[7] * y + matrix[8]
    return [(matrix[0] * x + matrix[1] * y + matrix[2]) / w, (matrix[3] * x + matrix[4] * y + matrix[5]) / w]
  })
}
