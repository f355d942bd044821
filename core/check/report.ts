/** What is found out about a source before it is judged: what its files say, and what their pixels say. */

import type { Carries, Claims } from '../graph/steps'
import type { EncodingName, PrimariesName } from '../colour'
import type { SampleType } from '../image/planes'
import type { Window } from '../image/window'
import type { AlphaKind } from '../measure/alpha-kind'
import type { OddValues } from '../measure/odd-values'
import type { Candidate } from '../measure/plausibility'
import type { Holes } from '../measure/map-faults'
import type { RunFindings } from '../measure/run-of-frames'
import type { StraightEdge } from '../measure/straight-edge'

export type FormatName = 'exr' | 'dpx' | 'png' | 'tiff' | 'jpeg'

/** A part of a file, or a layer of a part (`diffuse` of channels `diffuse.R`, …). */
export interface PicturePart {
  /** null for a file's only part, and for the channels without a layer */
  readonly name: string | null
  readonly channels: readonly { readonly name: string; readonly type: SampleType }[]
  readonly dataWindow: Window
  readonly displayWindow: Window
}

/** What a file says of itself; null where it says nothing. */
export interface FileSays {
  readonly encoding: EncodingName | null
  readonly primaries: PrimariesName | null
  readonly alpha: Claims['alpha']
  /** frames a second */
  readonly rate: number | null
  readonly pixelAspect: number | null
}

export interface PictureHeader {
  readonly format: FormatName
  readonly parts: readonly PicturePart[]
  readonly says: FileSays
  /** bits of a code value; null for floating point */
  readonly bits: number | null
}

/** A camera of a source that is one. */
export interface SourceCamera {
  readonly name: string
  /** height of what it sees as an angle, in degrees; null for one without perspective */
  readonly heightDegrees: number | null
  readonly moves: boolean
}

/** One way in which elements and treatments read a source. */
export interface WayOfReading {
  readonly part: string | null
  readonly takes: Exclude<Carries, 'bits'>
  /** of a matte: the value that does nothing */
  readonly neutral?: 0 | 1
}

export interface CutEdge extends StraightEdge {
  readonly part: string | null
  readonly frame: number | null
}

/** An edge of the data window that lies inside the frame while the picture goes on up to it. */
export interface CutWindow {
  readonly part: string | null
  readonly frame: number | null
  readonly sides: readonly ('left' | 'right' | 'upper' | 'lower')[]
}

/** What a lens map holds, green as it is written. */
export interface MapReport {
  /** of the first frame: the places that it names, as shares of width and height */
  readonly names: {
    readonly left: number
    readonly right: number
    readonly top: number
    readonly bottom: number
  }
  /** pixels of the display window for which it names no place, on the first of the frames read whole that has any */
  readonly holes: (Holes & { readonly frame: number | null }) | null
  /** of the first frame */
  readonly upsideDown: boolean
}

/** A picture of a movie that is shown longer or shorter than most of its pictures. */
export interface UnevenPicture {
  /** counted from 1, as the decoded frames are */
  readonly picture: number
  /** how long, in pictures of the usual length */
  readonly frames: number
}

/** What is known of the movie that a sequence was decoded from. */
export interface DecodedMovie {
  /** its name */
  readonly movie: string
  readonly uneven: readonly UnevenPicture[]
}

export interface SourceReport {
  readonly source: string
  /** numbers of its files that are there; null for a still that is there */
  readonly frames: readonly (number | null)[]
  /** numbers that its range has but the folder has not */
  readonly missing: readonly number[]
  readonly unreadable: readonly { readonly frame: number | null; readonly sentence: string }[]
  /** of the first file that could be read */
  readonly header: PictureHeader | null
  /** the extension of its name, where that is of another format */
  readonly misnamed: string | null
  /** frames whose size, windows or channels are others than the first's */
  readonly changes: readonly { readonly frame: number; readonly what: string }[]
  /** null for what is not a picture (mattes, maps), or could not be read */
  readonly encodings: readonly Candidate[] | null
  readonly alpha: AlphaKind | null
  readonly odd: readonly (OddValues & { readonly frame: number | null; readonly part: string | null })[]
  readonly run: RunFindings
  readonly edges: readonly CutEdge[]
  readonly cutWindows: readonly CutWindow[]
  /** of a lens map */
  readonly map: MapReport | null
  /** of a camera file */
  readonly cameras: readonly SourceCamera[] | null
  /** null for what was not decoded from a movie */
  readonly decoded: DecodedMovie | null
  /** 1st and 99.5th percentile of the code values of colour */
  readonly levels: readonly [number, number] | null
}
