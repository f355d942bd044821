/** The shot document: plain JSON, the whole of what Enkrasis knows about a shot. Documented in docs/shot-file.md. */

import type { Curve } from '../motion/curve'
import type { WorkingSpace } from '../colour'
import type { Claims } from '../graph/steps'
import type { BlendKind } from '../set/blends'
import type { TreatmentKind } from '../treatments'

export const schemaVersion = 1

export interface Rational {
  readonly numerator: number
  readonly denominator: number
}

export interface FrameRange {
  readonly first: number
  readonly last: number
}

export interface Source {
  readonly id: string
  readonly name: string
  /** file path relative to the shot file; a run of # stands for the frame number */
  readonly path: string
  /** numbers of its files, first and last; null for a still, which serves every frame */
  readonly frames: FrameRange | null
  readonly claims: Claims
  /** frames a second; absent: the shot's */
  readonly rate?: Rational
  /** added to a file's number it gives the shot's frame; absent: 0 */
  readonly offset?: number
  /** what serves a frame whose file is not there: an error, the file before, or nothing; absent: an error */
  readonly missing?: 'stop' | 'repeat' | 'empty'
  /** width of a pixel over its height; absent: the shot's */
  readonly pixelAspect?: number
  /** how many pixels of the frame one of the file's stands for: 2 for half-size renders; absent: 1 */
  readonly enlarge?: 1 | 2 | 4
}

/** One curve for all channels, or one each for red, green and blue. */
export type Parameter = readonly Curve[]
export type Parameters = Readonly<Record<string, Parameter>>

export interface TreatmentSettings {
  readonly id: string
  readonly kind: TreatmentKind
  readonly enabled: boolean
  readonly parameters: Parameters
  /** ids of the sources that the treatment reads, by its description's names */
  readonly sources?: Readonly<Record<string, string>>
}

export interface BlendSettings {
  readonly kind: BlendKind
  readonly parameters: Parameters
}

export interface Element {
  readonly id: string
  readonly name: string
  /** id of its source */
  readonly source: string
  /** the part of a multi-part file; null for the first */
  readonly part: string | null
  /** parts whose light is added up and takes the place of `part`'s; alpha stays that of `part` */
  readonly rebuild?: readonly string[]
  readonly visible: boolean
  readonly blend: BlendSettings
  readonly treatments: readonly TreatmentSettings[]
}

/** A kept alternative: how everything stood, to compare with and to come back to. */
export interface Try {
  readonly id: string
  readonly name: string
  readonly elements: readonly Element[]
  readonly finish?: readonly TreatmentSettings[]
}

export interface Shot {
  readonly schema: typeof schemaVersion
  readonly name: string
  readonly frames: FrameRange
  readonly rate: Rational
  readonly frameSize: { readonly width: number; readonly height: number }
  readonly pixelAspect: number
  readonly workingSpace: WorkingSpace
  readonly sources: readonly Source[]
  /** far to near; the first is the plate */
  readonly elements: readonly Element[]
  /** treatments of the whole picture, after everything has landed */
  readonly finish?: readonly TreatmentSettings[]
  /** oldest first; nothing of them is in the picture */
  readonly tries?: readonly Try[]
}

export type { Claims } from '../graph/steps'
