/** What server and browser say to each other about media that may become sources. Plain data. */

import type { FrameRange, MediaKind, Rational } from '../shot'
import type { EncodingName, PrimariesName } from '../colour'
import type { Candidate } from '../measure/plausibility'

/** Frames of one picture sequence, or a single file (`frames` null). */
export interface FileGroup {
  /** with a run of # for the frame number: `plate.####.exr` */
  readonly pattern: string
  readonly frames: FrameRange | null
  /** how many files there are; fewer than the range has where some are missing */
  readonly count: number
  /** the first numbers that are missing inside the range */
  readonly missing: readonly number[]
}

export interface MediaEntry extends FileGroup {
  readonly kind: MediaKind
}

export interface MediaFolder {
  /** relative to the media root; empty for the root itself */
  readonly folder: string
  readonly folders: readonly string[]
  readonly entries: readonly MediaEntry[]
}

export interface MovieSays {
  readonly width: number
  readonly height: number
  readonly rate: Rational
  /** as far as the movie knows */
  readonly frames: number | null
  readonly encoding: EncodingName | null
  readonly primaries: PrimariesName | null
  /** how luma and colour difference become red, green and blue; the usual one of its size where the movie does not say */
  readonly matrix: string
  readonly range: 'full' | 'limited'
  readonly pixelAspect: number
}

export interface MovieStatus {
  /** of the movie, relative to the media root */
  readonly path: string
  readonly state: 'decoding' | 'done' | 'failed' | 'stopped'
  readonly says: MovieSays
  readonly done: number
  readonly startedAt: string
  readonly elapsedMs: number
  /** pattern of the frames, relative to the media root; they are numbered from 1 */
  readonly pattern: string
  readonly sentence: string | null
}

/** A source's encodings, the most plausible first. */
export interface Wedge {
  readonly ranked: readonly Candidate[]
  /** what it was ranked beside, in words */
  readonly beside: string
}
