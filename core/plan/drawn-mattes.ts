/** Mattes that are drawn or painted, as steps. */

import { blur, colour, mix, outline, type Lens, type Lines, type Matrix3, type Step } from '../graph/steps'
import { intersect, isEmpty } from '../image/window'
import { valueAt } from '../motion/curve'
import { moved, type PlateMotion } from '../motion/plate-motion'
import { flattened, reachOf, strokesLine, type Outline } from '../outline'
import { shapeDescription } from '../set/owners'
import {
  faultOfMattePin,
  framesOfShape,
  inOrder,
  isGoneAt,
  isThere,
  matteMotion,
  outlineAt,
  type DrawnMatte,
  type PaintedMatte,
  type PaintStroke,
  type Shape,
} from '../shot'
import { around, together } from './matte-algebra'
import type { Planning } from './memo'
import type { Problem } from './problem'
import { valuesAt } from './values'

/** Whether what a matte is pinned to has ended and it is gone; a problem where the pin holds nothing. */
function isPinGone(planning: Planning, matte: DrawnMatte | PaintedMatte, time: number, problems: Problem[]): boolean {
  const { memo } = planning
  const { pin } = matte
  const fault = pin && memo.read(planning, ({ shot }) => faultOfMattePin(shot, pin))
  if (fault)
    problems.push({
      at: { kind: 'matte', id: matte.id },
      sentence: `Matte ${matte.name}: ${fault.sentence}.`,
      remedy: fault.remedy,
      missing: 'part',
    })
  return pin !== undefined && !('element' in pin) && memo.read(planning, ({ shot }) => isGoneAt(shot, pin, time))
}

/** Read as a list, so that a motion that is found anew and is the same plans nothing anew. */
function motionAt(planning: Planning, matte: DrawnMatte | PaintedMatte, time: number): PlateMotion | null {
  const listed = planning.memo.read(planning, ({ shot }) => {
    const motion = matteMotion(shot, matte, time)
    return motion && ([...motion.matrix, motion.lens?.from, motion.lens?.to] as const)
  })
  if (!listed) return null
  const [from, to] = [listed[9] as Lens | undefined, listed[10] as Lens | undefined]
  const matrix = listed.slice(0, 9) as unknown as Matrix3
  return from && to ? { matrix, lens: { from, to } } : { matrix }
}

/** Strokes that follow one another with the same brush are one step. */
export function painted(planning: Planning, matte: PaintedMatte, time: number, problems: Problem[]): Step | null {
  const { scale } = planning
  if (isPinGone(planning, matte, time, problems)) return null
  const motion = motionAt(planning, matte, time)
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
    const lines: Lines = { lines: [strokesLine(group, motion, scale)], grow: radius / scale, profile: 'smooth' }
    const window = intersect(reachOf(lines), around(planning))
    const drawnBy = ['painted', scale, motion, group.map(({ points, radius: r, hardness }) => [points, r, hardness])]
    const brushed = isEmpty(window) ? null : outline(lines, window, drawnBy)
    return how === 'soften' ? softened(before, brushed, radius / scale) : together(planning, before, how, brushed)
  }, null)
}

/** How much a brush softens what it goes over, as a share of its radius. */
const softening = 1 / 3

function softened(before: Step | null, brushed: Step | null, radius: number): Step | null {
  if (!before || !brushed) return before
  return mix(before, blur(before, radius * softening, radius * softening, 'empty'), brushed, 1)
}

export function drawn(planning: Planning, matte: DrawnMatte, time: number, problems: Problem[]): Step | null {
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
  readonly motion: ReturnType<typeof matteMotion>
}

function drawnShape(planning: Planning, matte: DrawnMatte, shape: Shape, time: number): Step | null {
  const { memo, scale } = planning
  const { grow, inside, outside, opacity } = valuesAt(shapeDescription.parameters, shape.parameters, time)
  const at = (when: number): Moment => ({
    time: when,
    outline: outlineAt(shape, when),
    motion: motionAt(planning, matte, when),
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
    .map(({ outline: points, motion }) => flattened(points, { motion, scale, ...softness }))
    .filter((line) => line.every(Number.isFinite))
  const lines: Lines = { lines: flat, grow: grow[0] / scale, profile: shape.profile ?? 'smooth' }
  const window = intersect(reachOf(lines), around(planning))
  if (flat.length === 0 || isEmpty(window)) return null
  const drawnBy = [lines.grow, lines.profile, softness, scale, moments.map((one) => [one.motion, one.time])]
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
const hardApart = 1
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

const placed = ({ outline: points, motion }: Moment): readonly (readonly [number, number])[] =>
  points.map(({ x, y }) => moved(motion, x, y) ?? [NaN, NaN])
