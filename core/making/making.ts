/** What making a source needs, and gives. */

import type { Scale, Step } from '../graph/steps'
import { motionBlurred, type Neighbours } from '../flow'
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
  /** @param open frames that the shutter stands open */
  motionBlurred(frames: Neighbours, open: number, signal?: AbortSignal): Promise<Float32Array>
}

/** Right here. */
export const inPlace: HeavyWork = {
  joined: async (samples, noise) => joined(samples, noise),
  softMatte: async (filmed, signal) => softMatte(filmed, signal),
  motionBlurred: async (frames, open) => motionBlurred(frames, open),
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
  /** the frame, where pixels beyond it were made too */
  readonly display?: Window
  /** what there is to say of it */
  readonly says: string
}

/** What a source is to be made of does not allow it; the sentence says what to do. */
export class CannotBeMadeError extends Error {
  override readonly name = 'CannotBeMadeError'
}
