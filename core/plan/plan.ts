/** From a shot and a frame number to the graph of steps that makes its picture. */

import { workingSpaces } from '../colour'
import {
  colour,
  frameStep,
  blend,
  type FrameStep,
  type ParameterValues,
  type Scale,
  type Step,
  type Takes,
} from '../graph/steps'
import { valueAt } from '../motion/curve'
import { blends } from '../set/blends'
import {
  framePath,
  servingFrame,
  type Element,
  type BlendSettings,
  type Parameters,
  type Shot,
  type Source,
  type TreatmentSettings,
} from '../shot'
import { treatments } from '../treatments'

/**
 * Tells one state of a source's file from another; it goes into the content key, so a changed file is read again. A file
 * that is not there has `absent`.
 */
export type Fingerprint = (source: Source, frame: number | null) => string

/** What a fingerprint says of a file that is not there. */
export const absent = 'absent'

export interface FramePlan {
  readonly frame: number
  readonly scale: Scale
  readonly plate: Step
  /** treated elements that are seen at this frame, by element id, before they are blended */
  readonly elements: ReadonlyMap<string, Step>
  readonly composite: Step
}

/** The shot has no plate at the frame. */
export class NoPlateError extends Error {
  override readonly name = 'NoPlateError'
}

/** A treatment reads a source that does not reach the frame. */
export class NoSuchFrameError extends Error {
  override readonly name = 'NoSuchFrameError'
}

interface Planning {
  readonly shot: Shot
  readonly frame: number
  readonly scale: Scale
  readonly fingerprint: Fingerprint
}

/**
 * Pure: the same shot, frame, scale and fingerprints give the same keys.
 *
 * An element whose source does not reach the frame is absent there; a plate must reach it.
 */
export function planFrame(shot: Shot, frame: number, scale: Scale, fingerprint: Fingerprint): FramePlan {
  const planning: Planning = { shot, frame, scale, fingerprint }
  const [plateElement, ...others] = shot.elements
  const plate = plateElement && elementStep(planning, plateElement)
  if (!plate) {
    throw new NoPlateError(
      `${shot.name} has no plate at frame ${frame}. Its plate's source covers ${rangeOf(shot)}; choose a frame inside it.`,
    )
  }
  const elements = new Map<string, Step>()
  let composite: Step = treat(planning, plate, plateElement.treatments, true)
  elements.set(plateElement.id, composite)
  for (const element of others) {
    if (!element.visible) continue
    const raw = elementStep(planning, element)
    if (!raw) continue
    const treated = treatElement(planning, raw, element)
    elements.set(element.id, treated)
    composite = blendOver(composite, treated, plate, element.blend, frame)
  }
  composite = treat(planning, composite, shot.finish ?? [], true)
  return { frame, scale, plate, elements, composite }
}

function rangeOf(shot: Shot): string {
  const source = shot.sources.find((s) => s.id === shot.elements[0]?.source)
  return source?.frames ? `frames ${source.frames.first} to ${source.frames.last}` : 'nothing'
}

function elementStep(planning: Planning, element: Element): Step | null {
  const { takes } = blends[element.blend.kind]
  const partStep = (part: string | null) => sourceStep(planning, element.source, part, takes)
  const whole = partStep(element.part)
  if (!whole || !element.rebuild) return whole
  // Only alpha is kept of the part itself; the light comes from the passes.
  const empty = colour(whole, [{ do: 'matrix', rows: [none, none, none] }])
  return element.rebuild.reduce<Step>((sum, part) => {
    const pass = partStep(part)
    return pass ? blend(sum, pass, sum, 'plus-lighter', 1, { amount: [1, 1, 1] }) : sum
  }, empty)
}

const none = [0, 0, 0] as const

/** @returns null where the source does not reach the frame */
function sourceStep(
  { shot, frame, scale, fingerprint }: Planning,
  id: string,
  part: string | null,
  takes: Takes,
): FrameStep | null {
  const source = shot.sources.find((s) => s.id === id)
  const from = source && servingFrame(source, frame, (number) => fingerprint(source, number) !== absent)
  if (!source || from === undefined) return null
  return frameOfSource({ shot, frame, scale, fingerprint }, source, from, part, takes)
}

function frameOfSource(
  { shot, scale, fingerprint }: Planning,
  source: Source,
  from: number | null,
  part: string | null,
  takes: Takes,
): FrameStep {
  const { id, claims, name, enlarge = 1 } = source
  return frameStep(
    {
      source: id,
      sourceName: name,
      path: framePath(source.path, from),
      frame: from,
      part,
      takes,
      claims,
      working: workingSpaces[shot.workingSpace],
      enlarge,
      scale,
    },
    fingerprint(source, from),
  )
}

/** The frame of a colour table, to look through. */
export function tableStep(shot: Shot, source: Source, fingerprint: Fingerprint): FrameStep {
  return frameOfSource({ shot, frame: shot.frames.first, scale: 1, fingerprint }, source, null, null, 'table')
}

/**
 * Blurs and warps take what lies beyond a picture as 0. A matte that is 1 where it changes nothing is treated as its
 * complement, or its edges would darken.
 */
function treatElement(planning: Planning, raw: Step, { blend, treatments: settings }: Element): Step {
  if (blends[blend.kind].neutral !== 1 || !settings.some((t) => t.enabled)) return treat(planning, raw, settings, false)
  const complement = [{ do: 'complement' }] as const
  return colour(treat(planning, colour(raw, complement), settings, false), complement)
}

function treat(planning: Planning, input: Step, settings: readonly TreatmentSettings[], opaque: boolean): Step {
  const { shot, frame, scale } = planning
  return settings.reduce((step, { kind, enabled, parameters, sources: named = {} }) => {
    if (!enabled) return step
    const { label, build, sources = [] } = treatments[kind]
    const frames = sources.map(({ name, takes }) => {
      const found = sourceStep(planning, named[name], null, takes)
      if (!found)
        throw new NoSuchFrameError(`${label} has no ${name} at frame ${frame}. Choose a source that reaches it.`)
      return [name, found] as const
    })
    return build(step, valuesAt(parameters, frame), {
      scale,
      opaque,
      place: { shot: shot.name, frame },
      frameSize: shot.frameSize,
      sources: Object.fromEntries(frames),
    })
  }, input)
}

function blendOver(behind: Step, element: Step, plate: Step, { kind, parameters }: BlendSettings, frame: number): Step {
  return blend(behind, element, plate, kind, blends[kind].version, valuesAt(parameters, frame))
}

function valuesAt(parameters: Parameters, frame: number): ParameterValues {
  return Object.fromEntries(
    Object.entries(parameters).map(([name, curves]) => [name, curves.map((curve) => valueAt(curve, frame))]),
  )
}
