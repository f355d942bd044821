/** From a shot and a frame number to the graph of steps that makes its picture. */

import { valueAt } from '../motion/curve'
import { landings } from '../set/landings'
import {
  framePath,
  sourceFrame,
  type Element,
  type LandingSettings,
  type Parameters,
  type Shot,
  type Source,
} from '../shot'
import { treatments, type ParameterValues } from '../treatments'
import { contentKey } from './content-key'
import type { Scale, Step } from './steps'

/** Tells one state of a source's file from another; it goes into the content key, so a changed file is read again. */
export type Fingerprint = (source: Source, frame: number | null) => string

export interface FramePlan {
  readonly frame: number
  readonly scale: Scale
  readonly plate: Step
  /** treated elements that are seen at this frame, by element id, before they land */
  readonly elements: ReadonlyMap<string, Step>
  readonly composite: Step
}

/** The shot has no plate at the frame. */
export class NoPlateError extends Error {
  override readonly name = 'NoPlateError'
}

const decodeVersion = 1

/**
 * Pure: the same shot, frame, scale and fingerprints give the same keys.
 *
 * An element whose source does not reach the frame is absent there; a plate must reach it.
 */
export function planFrame(shot: Shot, frame: number, scale: Scale, fingerprint: Fingerprint): FramePlan {
  const [plateElement, ...others] = shot.elements
  const plate = plateElement && elementStep(shot, plateElement, frame, scale, fingerprint)
  if (!plate) {
    throw new NoPlateError(
      `${shot.name} has no plate at frame ${frame}. Its plate's source covers ${rangeOf(shot)}; choose a frame inside it.`,
    )
  }
  const elements = new Map<string, Step>()
  let composite: Step = treat(plate, plateElement, frame)
  elements.set(plateElement.id, composite)
  for (const element of others) {
    if (!element.visible) continue
    const raw = elementStep(shot, element, frame, scale, fingerprint)
    if (!raw) continue
    const treated = treat(raw, element, frame)
    elements.set(element.id, treated)
    composite = landStep(composite, treated, plate, element.landing, frame)
  }
  return { frame, scale, plate, elements, composite }
}

function rangeOf(shot: Shot): string {
  const source = shot.sources.find((s) => s.id === shot.elements[0]?.source)
  return source?.frames ? `frames ${source.frames.first} to ${source.frames.last}` : 'nothing'
}

function elementStep(shot: Shot, element: Element, frame: number, scale: Scale, fingerprint: Fingerprint): Step | null {
  const source = shot.sources.find((s) => s.id === element.source)
  if (!source) return null
  const from = sourceFrame(source, frame)
  if (from === undefined) return null
  const { takes } = landings[element.landing.kind]
  const path = framePath(source.path, from)
  const { claims } = source
  return {
    op: 'frame',
    key: contentKey('frame', decodeVersion, path, fingerprint(source, from), element.part, takes, claims, scale),
    request: {
      source: source.id,
      sourceName: source.name,
      path,
      frame: from,
      part: element.part,
      takes,
      claims,
      scale,
    },
  }
}

function treat(input: Step, element: Element, frame: number): Step {
  let step = input
  for (const { kind, enabled, parameters } of element.treatments) {
    if (!enabled) continue
    const values = valuesAt(parameters, frame)
    step = {
      op: 'treat',
      key: contentKey('treat', kind, treatments[kind].version, values, step.key),
      input: step,
      kind,
      values,
    }
  }
  return step
}

function landStep(
  behind: Step,
  element: Step,
  plate: Step,
  { kind, parameters }: LandingSettings,
  frame: number,
): Step {
  const values = valuesAt(parameters, frame)
  const key = contentKey('land', kind, landings[kind].version, values, behind.key, element.key, plate.key)
  return { op: 'land', key, behind, element, plate, kind, values }
}

function valuesAt(parameters: Parameters, frame: number): ParameterValues {
  return Object.fromEntries(
    Object.entries(parameters).map(([name, curves]) => [name, curves.map((curve) => valueAt(curve, frame))]),
  )
}
