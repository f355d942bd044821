/** What making a source needs, and gives. */

import type { Scale, Step } from '../graph/steps'
import type { Window } from '../image/window'
import type { Planning } from '../plan/memo'
import { joined, type Joined, type Samples } from '../repair/joined'
import type { NoiseByLight } from '../repair/noise-over-frames'
import type { Shot } from '../shot'
import { softMatte, type Filmed, type SoftMatte } from '../soft-matte/soft-matte'

/** What takes seconds of a processor: a server has it done on threads of their own. */
export interface HeavyWork {
  joined(samples: Samples, noise: readonly NoiseByLight[], signal?: AbortSignal): Promise<Joined>
  /** @throws NothingToGoByError */
  softMatte(filmed: Filmed, signal?: AbortSignal): Promise<SoftMatte>
}

/** Right here. */
export const inPlace: HeavyWork = {
  joined: async (samples, noise) => joined(samples, noise),
  softMatte: async (filmed, signal) => softMatte(filmed, signal),
}

export interface Making {
  readonly shot: Shot
  planning(scale: Scale): Planning
  /** scene-linear RGBA of a window of a step */
  light(step: Step, window: Window): Promise<Float32Array>
  readonly heavy: HeavyWork
  readonly signal?: AbortSignal
  /** 0 to 1 */
  readonly progress?: (share: number) => void
}

/** A picture that was made: scene-linear, premultiplied. */
export interface Made {
  readonly light: Float32Array
  readonly window: Window
  /** what there is to say of it */
  readonly says: string
}

/** What a source is to be made of does not allow it; the sentence says what to do. */
export class CannotBeMadeError extends Error {
  override readonly name = 'CannotBeMadeError'
}
