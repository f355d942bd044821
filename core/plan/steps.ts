/** The graph of one frame: immutable steps, each with a content key. Equal key, equal pixels. */

import type { LandingKind } from '../set/landings'
import type { Claims } from '../shot'
import type { ParameterValues, TreatmentKind } from '../treatments'

/** Working scale: full, half or quarter. */
export type Scale = 1 | 2 | 4

/** A source frame to be brought in: which file, which of its channels, how to read it. */
export interface FrameRequest {
  readonly source: string
  readonly sourceName: string
  /** relative to the shot file, frame number filled in */
  readonly path: string
  /** null for a still */
  readonly frame: number | null
  readonly part: string | null
  readonly takes: 'rgba' | 'matte'
  readonly claims: Claims
  readonly scale: Scale
}

export type Step =
  | { readonly op: 'frame'; readonly key: string; readonly request: FrameRequest }
  | {
      readonly op: 'treat'
      readonly key: string
      readonly input: Step
      readonly kind: TreatmentKind
      readonly values: ParameterValues
    }
  | {
      readonly op: 'land'
      readonly key: string
      readonly behind: Step
      readonly element: Step
      /** the plate as it came in, for landings that show it again */
      readonly plate: Step
      readonly kind: LandingKind
      readonly values: ParameterValues
    }

/** @returns every frame the step needs, each once */
export function framesOf(step: Step): Extract<Step, { op: 'frame' }>[] {
  const found = new Map<string, Extract<Step, { op: 'frame' }>>()
  const visit = (one: Step): void => {
    if (one.op === 'frame') found.set(one.key, one)
    else if (one.op === 'treat') visit(one.input)
    else [one.behind, one.element, one.plate].forEach(visit)
  }
  visit(step)
  return [...found.values()]
}
