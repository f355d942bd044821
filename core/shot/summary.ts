/** What a list of shots tells of each, without its document. */

import { plateSource } from './find'
import type { FrameRange, Rational, Shot } from './types'

export interface ShotOutline {
  readonly frames: FrameRange
  readonly rate: Rational
  readonly frameSize: Shot['frameSize']
  /** what the plate is read from; null where there is none */
  readonly plate: { readonly path: string; readonly frames: FrameRange | null } | null
}

export function outlineOf(shot: Shot): ShotOutline {
  const { frames, rate, frameSize } = shot
  const source = plateSource(shot)
  return { frames, rate, frameSize, plate: source ? { path: source.path, frames: source.frames } : null }
}

/** `quay-010` belongs to the sequence `quay`; a name without a dash is a sequence of its own. */
export function sequenceOf(name: string): string {
  const dash = name.lastIndexOf('-')
  return dash > 0 ? name.slice(0, dash) : name
}
