/** What matching finds: settings with how sure they are. */

import type { Scale } from '../graph/steps'
import type { Sure } from '../match'
import type { FramePlan } from '../plan/plan'
import type { Shot, Witness } from '../shot'

export type PlanOf = (shot: Shot, frame: number, scale: Scale) => FramePlan

export type Matched = 'softness' | 'veil' | 'gain' | 'plate veil' | 'shadow ratio' | 'occlusion strength'

/** A setting that was found. */
export interface MatchedPart {
  readonly element: string
  readonly what: Matched
  /** red, green, blue; of softness across, down */
  readonly values: readonly Sure[]
  /** sure enough to be used unseen */
  readonly sure: boolean
  /** names of what it rests on */
  readonly rests: readonly string[]
  /** what would make it surer, where it is not */
  readonly surer: string | null
  /** elements that share its settings */
  readonly sharedBy: readonly string[]
}

/** A setting that was not looked for, or not found. */
export interface LeftPart {
  readonly element: string
  readonly what: Matched
  /** the end of a sentence: "it is set by hand" */
  readonly why: string
}

export interface Matching {
  readonly parts: readonly MatchedPart[]
  readonly left: readonly LeftPart[]
  /** regions of what was shot for reference, of which some of it was found */
  readonly witnesses: readonly Witness[]
}
