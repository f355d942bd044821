/** From a shot and a time to the graph of steps that makes its picture: the way of the light. */

import { blend, colour, constant, type ParameterValues, type Scale, type Step } from '../graph/steps'
import { emptyWindow } from '../image/window'
import { blends } from '../set/blends'
import {
  childrenOf,
  find,
  isGroup,
  isIsolated,
  isolationFault,
  limitsOfHead,
  plateSource,
  shotFramesOf,
  type BlendSettings,
  type Element,
  type Parameters,
  type Shot,
} from '../shot'
import type { Files } from './catalog'
import { beforeBehind, elementAt, frameWindow } from './element'
import { unmovedByFinish } from './held-still'
import { PlanMemo, type Planning } from './memo'
import { sourceNode } from './source-node'
import { valuesAt } from './values'
import { hasSensor, movedFinish, recorded, treatedFinish } from './whole'
import type { Problem } from './problem'

export interface FramePlan {
  readonly frame: number
  readonly scale: Scale
  /** the plate as it came in; null where there is none at this frame */
  readonly plate: Step | null
  /** the plate as it is treated, which what stands in front of it ought to agree with */
  readonly reference: Step | null
  /** what each element that is seen at this frame shows by itself, by element id */
  readonly elements: ReadonlyMap<string, Step>
  /** null where a problem leaves nothing to show */
  readonly composite: Step | null
  /** how the finish moves the whole picture; whoever shows or delivers a part of it alone moves it alike. Null: not at all */
  readonly moved: ((picture: Step) => Step) | null
  readonly problems: readonly Problem[]
}

/**
 * Pure: the same shot, frame, scale and files give the same keys. Never throws: what is in the way is among the problems.
 *
 * An element whose source does not reach the frame is absent there.
 *
 * @param memo remembers what was planned before; without one everything is planned
 */
export function planFrame(
  shot: Shot,
  frame: number,
  scale: Scale,
  files: Files,
  memo: PlanMemo = new PlanMemo(),
): FramePlan {
  const planning: Planning = { shot, scale, files, memo }
  const faults = limitsOfHead(shot)
  const nothing = {
    ...{ frame, scale, plate: null, reference: null },
    ...{ elements: new Map<string, Step>(), composite: null, moved: null },
  }
  if (faults.length > 0) {
    const sentence = `${shot.name} cannot be shown: ${faults[0]}.`
    const problem: Problem = { at: { kind: 'shot' }, sentence, remedy: 'Correct the shot file.', missing: 'nothing' }
    return { ...nothing, problems: [problem] }
  }
  const problems: Problem[] = []
  const elements = new Map<string, Step>()
  const base = plateAt(planning, frame, problems)
  if (!base) return { ...nothing, problems }
  elements.set(shot.plate, base.treated)
  const isolation = isolationFault(shot)
  if (isolation)
    problems.push({
      at: { kind: 'shot' },
      sentence: isolation,
      remedy: 'Or make the group pass through.',
      missing: 'part',
    })
  const composing: Composing = { planning, frame, base: base.treated, elements, problems }
  const together = compose(composing, null, base.treated)
  const moved = movedFinish(planning, frame, problems)
  const whole = moved ? moved(together) : together
  const sensed = hasSensor(planning) ? throughSensor(composing, whole, moved) : whole
  const composite = treatedFinish(planning, sensed, frame, problems)
  return { frame, scale, plate: base.untreated, reference: base.treated, elements, composite, moved, problems }
}

/**
 * The same before the finish moves the whole picture: everything lies where the plate has it. Witnesses and checks are read there, so
 * that stabilising and reframing change no reading.
 */
export function planInPlate(shot: Shot, frame: number, scale: Scale, files: Files, memo?: PlanMemo): FramePlan {
  return planFrame(unmovedByFinish(shot), frame, scale, files, memo)
}

/**
 * Some elements blended with each other, everything else out of the way: over the plate where it is one of them, else over
 * nothing. What is in a group that is chosen comes with it.
 *
 * @returns null where none of them shows anything
 */
export function togetherAt(planning: Planning, ids: readonly string[], frame: number): Step | null {
  const { shot } = planning
  const problems: Problem[] = []
  const plate = plateAt(planning, frame, problems)
  const base = plate?.treated ?? constant([0, 0, 0, 1], frameWindow(planning))
  const behind = ids.includes(shot.plate) ? base : constant([0, 0, 0, 0], emptyWindow)
  const elements = new Map<string, Step>()
  const composing: Composing = { planning, frame, base, elements, problems, only: new Set(ids) }
  const step = compose(composing, null, behind)
  return elements.size > 0 || ids.includes(shot.plate) ? step : null
}

/**
 * The picture as the sensor would have recorded it, where it is not the plate.
 *
 * @param moved how the finish moved the whole picture, and so the plate
 */
function throughSensor(composing: Composing, composite: Step, moved: ((picture: Step) => Step) | null): Step {
  const { planning, frame, base, problems } = composing
  const white = constant([1, 1, 1, 1], frameWindow(planning))
  const left: Composing = { ...composing, base: white, left: true, elements: new Map(), problems: [] }
  const share = compose(left, null, white)
  return recorded(planning, composite, moved ? moved(base) : base, moved ? moved(share) : share, frame, problems)
}

interface Composing {
  readonly planning: Planning
  readonly frame: number
  /** the plate as treated: what `reveal` shows */
  readonly base: Step
  readonly elements: Map<string, Step>
  readonly problems: Problem[]
  /** these elements, and what is in them, and nothing else */
  readonly only?: ReadonlySet<string>
  /** over white, with what adds no light of its own: how much of the plate's light is left */
  readonly left?: true
}

/** Blends that change what is behind by a factor; of all others only the coverage counts for what is left of it. */
const factors: ReadonlySet<string> = new Set(['shadow', 'occlusion', 'multiply', 'reveal', 'destination-out'])
const black = [0, 0, 0] as const

/** An element as it counts for what is left of the plate's light. */
function taking(step: Step, element: Element): Step {
  return factors.has(element.blend.kind) ? step : colour(step, [{ do: 'affine', gain: black, veil: black }])
}

/** A veil is light that is added: it takes nothing away. */
const withoutVeil = (values: ParameterValues): ParameterValues =>
  values.veil ? { ...values, veil: values.veil.map(() => 0) } : values

function plateAt(planning: Planning, frame: number, problems: Problem[]) {
  const { shot } = planning
  const element = find(shot.elements, shot.plate)
  const at = element ? elementAt(planning, element.id, frame) : null
  problems.push(...(at?.problems ?? []))
  if (at?.step) return { treated: at.step, untreated: at.untreated ?? at.step }
  if (problems.some(({ missing }) => missing === 'nothing')) return null
  const source = plateSource(shot)
  const range = source && shotFramesOf(source)
  problems.push({
    at: source ? { kind: 'source', id: source.id } : { kind: 'element', id: shot.plate },
    sentence: `${shot.name} has no plate at frame ${frame}. ${source ? (range ? `${source.name} covers frames ${range.first} to ${range.last}.` : `${source.name} does not show there.`) : 'Its source is gone.'}`,
    remedy: source
      ? 'Choose a frame inside it, or correct its range or offset.'
      : 'Choose another source for the plate.',
    missing: 'nothing',
  })
  return null
}

/** Blends the elements of a group, or of the top, over what is behind, far to near. */
function compose(composing: Composing, parent: string | null, behind: Step): Step {
  const { planning, frame, elements, problems, only, left } = composing
  const { shot, memo } = planning
  for (const element of childrenOf(shot, parent)) {
    if (element.id === shot.plate || !element.visible) continue
    const wanted = !only || only.has(element.id)
    if (isGroup(element)) {
      behind = composeGroup(wanted ? { ...composing, only: undefined } : composing, element, behind)
      continue
    }
    if (!wanted) continue
    const at = elementAt(planning, element.id, frame)
    problems.push(...at.problems)
    const shown = at.step && shownBy(composing, element)
    if (!at.step || !shown) continue
    const step = left
      ? taking(at.step, element)
      : (beforeBehind(planning, element.id, at, behind, frame, problems) ?? at.step)
    elements.set(element.id, step)
    behind = blended(memo, behind, step, shown, element, frame, left)
  }
  return behind
}

/** What a reveal shows: the plate as it is treated, or a source. @returns null, with a problem, where there is nothing */
function shownBy({ planning, frame, base, problems, left }: Composing, { id, name, blend }: Element): Step | null {
  const { shows } = blend
  if (!shows) return base
  // Nothing of the plate is left there.
  if (left) return constant([0, 0, 0, 1], frameWindow(planning))
  const source = find(planning.shot.sources, shows.source)
  const step = source && !source.forComparing ? sourceNode(planning, source.id, shows.part, undefined, frame) : null
  if (!step)
    problems.push({
      at: { kind: 'element', id },
      sentence: `${name} reveals ${source ? source.name : 'a source that is gone'}, which shows nothing at frame ${frame}.`,
      remedy: 'Let it reveal the plate, or a source that reaches the frame and is not for comparing only.',
      missing: 'part',
    })
  return step
}

function composeGroup(composing: Composing, group: Element, behind: Step): Step {
  const { planning, frame, base, elements, problems, left } = composing
  if (!isIsolated(planning.shot, group)) return compose(composing, group.id, behind)
  const inside = compose(composing, group.id, constant([0, 0, 0, 0], emptyWindow))
  const at = elementAt(planning, group.id, frame, inside)
  problems.push(...at.problems)
  if (!at.step) return behind
  const step = left
    ? taking(at.step, group)
    : (beforeBehind(planning, group.id, at, behind, frame, problems) ?? at.step)
  elements.set(group.id, step)
  return blended(planning.memo, behind, step, base, group, frame, left)
}

/** Steps that were made of the same things are the same step: hashing them again would be most of planning. */
interface Blended {
  readonly behind: Step
  readonly element: Step
  readonly base: Step
  readonly settings: BlendSettings
  readonly frame: number
  readonly step: Step
}
const lastBlended = new WeakMap<PlanMemo, Map<string, Blended[]>>()
const mostBlended = 8

function blended(
  memo: PlanMemo,
  behind: Step,
  step: Step,
  base: Step,
  element: Element,
  frame: number,
  left?: true,
): Step {
  const { id, blend: settings } = element
  let known = lastBlended.get(memo)
  if (!known) lastBlended.set(memo, (known = new Map()))
  const before = known.get(id) ?? []
  const found = before.find(
    (one) =>
      one.behind === behind &&
      one.element === step &&
      one.base === base &&
      one.settings === settings &&
      (one.frame === frame || isSteady(settings.parameters)),
  )
  if (found) return found.step
  const { kind } = settings
  const values = valuesAt(blends[kind].parameters, settings.parameters, frame)
  const made = blend(behind, step, base, kind, blends[kind].version, left ? withoutVeil(values) : values)
  known.set(id, [{ behind, element: step, base, settings, frame, step: made }, ...before].slice(0, mostBlended))
  return made
}

const isSteady = (parameters: Parameters) =>
  Object.values(parameters).every((curves) => curves.every((curve) => typeof curve === 'number'))
