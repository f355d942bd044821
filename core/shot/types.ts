/** The shot document: plain JSON, the whole of what Enkrasis knows about a shot. Documented in docs/shot-file.md. */

import type { WorkingSpace } from '../colour'
import type { Claims } from '../graph/steps'
import type { Resampling } from '../kernels/kernels'
import type { WitnessPurpose } from '../match'
import type { BlendKind } from '../set/blends'
import type { TreatmentKind } from '../treatments'
import type { Choices, Parameters, Pin, Ranked, Table } from './basic-types'
import type { Matte } from './matte-types'
import type { Recipe } from './recipes'
import type { Track } from './track-types'

export * from './basic-types'
export * from './matte-types'
export * from './track-types'
export * from './recipes'

export const schemaVersion = 10

export interface Rational {
  readonly numerator: number
  readonly denominator: number
}

export interface FrameRange {
  readonly first: number
  readonly last: number
}

/** Size in bytes, and the first 32 digits of the SHA-256 of the first and last 64 KiB. */
export interface FirstFile {
  readonly size: number
  readonly hash: string
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
  /**
   * How the file lies in the frame: its display window centred on it, rounded to whole pixels; or `file`: pixel 0,0 of the
   * file is pixel 0,0 of the frame, whatever the display window says. Absent: centred.
   */
  readonly framing?: 'centred' | 'file'
  /** of a lens map: green grows from the bottom to the top; absent: from the top to the bottom */
  readonly greenUp?: true
  /** what its first file held when it was chosen, to tell files of the same name apart when they were moved */
  readonly firstFile?: FirstFile
  /** to compare with only, as the edit's reference movie is: nothing in the picture may be made of it */
  readonly forComparing?: true
  /** how its files are made here; absent: they came in */
  readonly made?: Recipe
}

/**
 * When a use of a source (or of another element) shows which frame:
 * `start + floor((frame - start) * speed + 0.5) + offset`, where `start` is the first frame it has.
 */
export interface Timing {
  /** frames; positive shows later ones */
  readonly offset?: number
  /** 1 is as shot, 0.5 half as fast, -1 backwards */
  readonly speed?: number
  /** shows this one frame all the time; offset and speed do not count then */
  readonly held?: number
  /** what is shown beyond its first and last frame; absent: nothing */
  readonly beyond?: 'nothing' | 'hold' | 'loop' | 'ping-pong'
  /** shot frames before and after which it shows nothing; absent: no bound */
  readonly from?: number
  readonly to?: number
}

/** One of the things that a description has points for: a point of a curve, a stop of a gradient, a pick. */
export interface Point {
  readonly id: string
  /** of the description's sets, where it has any */
  readonly set?: string
  readonly parameters: Parameters
}

interface InputBase extends Ranked {
  /** the input that this one is a part of; null for the root */
  readonly parent: string | null
  readonly parameters: Parameters
}

/** A pass of a source: one part of its files, with its own colour and exposure. */
export interface PassInput extends InputBase {
  readonly kind: 'pass'
  readonly source: string
  /** the part of a multi-part file; null for the first */
  readonly part: string | null
  /** names of the channels to take: one for a matte or a depth, three or four for a picture; absent: found by name */
  readonly channels?: readonly string[]
  readonly timing?: Timing
}
/** What the element shows by itself: mapped, not blended, in the frame. */
export interface ElementInput extends InputBase {
  readonly kind: 'element'
  readonly element: string
  readonly timing?: Timing
}
export interface ConstantInput extends InputBase {
  readonly kind: 'constant'
}
/** Colours along a line or round a middle; its points are the stops. */
export interface GradientInput extends InputBase {
  readonly kind: 'gradient'
  readonly choices: Choices
  readonly points: Table<Point>
}
export interface NoiseInput extends InputBase {
  readonly kind: 'noise'
}
/**
 * The light of its parts added up, or multiplied. Alpha is that of the part named by `alpha`; absent: of the first part.
 */
export interface CombinedInput extends InputBase {
  readonly kind: 'sum' | 'product'
  readonly alpha?: string
}
/** The elements that name this one as their parent, far to near: the element is a group. */
export interface GroupInput extends InputBase {
  readonly kind: 'group'
}
export type Input = PassInput | ElementInput | ConstantInput | GradientInput | NoiseInput | CombinedInput | GroupInput

export interface BlendSettings {
  readonly kind: BlendKind
  readonly parameters: Parameters
  /** of `reveal`: what shows where the matte is; absent: the plate as it is treated */
  readonly shows?: { readonly source: string; readonly part: string | null }
}

export interface Box {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

/** Where an element lies when it does not lie as it came. */
export interface Placing {
  readonly parameters: Parameters
  /** of the element's picture before it is placed, full-scale pixels of the frame: handles and corners belong to it */
  readonly box: Box
  /** the element it moves with; absent: the group it is in */
  readonly with?: string
  /** the tracks it moves with, on top of that */
  readonly pin?: Pin
  /** absent: Catmull-Rom */
  readonly filter?: Resampling
  /** whether motion blurs it: by the shutter of the shot (absent), by one of its own, or not */
  readonly shutter?: 'own' | 'closed'
}

export interface Element extends Ranked {
  readonly name: string
  /** the group it is in; null at the top */
  readonly parent: string | null
  /** a small tree; the root is the one without a parent */
  readonly inputs: Table<Input>
  readonly visible: boolean
  /** opacity */
  readonly parameters: Parameters
  readonly blend: BlendSettings
  /** what somebody wants to be remembered of it */
  readonly note?: string
  /** words to find it by */
  readonly tags?: readonly string[]
  readonly label?: LabelColour
  /** the shot's glass does not act on it: it was filmed, or has all of its own */
  readonly ownGlass?: true
  /** absent: it lies as it came */
  readonly placing?: Placing
}

/** To tell groups of elements apart in the light column. Muted, so that they do not colour the eye. */
export const labelColours = ['sand', 'moss', 'slate', 'plum', 'rust', 'mist'] as const
export type LabelColour = (typeof labelColours)[number]

/** Settings of a treatment; where it acts is said by its uses. Several uses share the settings. */
export interface TreatmentSettings {
  readonly id: string
  readonly kind: TreatmentKind
  readonly parameters: Parameters
  /** ids of the sources that the treatment reads, by its description's names */
  readonly sources?: Readonly<Record<string, string>>
  readonly choices?: Choices
  readonly points?: Table<Point>
  /** of a lens: lines that are straight in the world, from which it was measured */
  readonly lines?: Table<StraightLine>
  /** of what takes the motion of tracks: which, and the frame that stays as it is */
  readonly pin?: Pin
  /** kept alternatives of the settings; none of them is in the picture */
  readonly tries?: Table<TreatmentTry>
}

/** One of several kept settings of a treatment. */
export interface TreatmentTry extends Ranked {
  readonly name: string
  readonly parameters: Parameters
  readonly choices?: Choices
  readonly points?: Table<Point>
}

/** What limits: a matte of the shot, one channel of a source, or the alpha of an element as it shows by itself. */
export type MatteReference =
  | {
      readonly kind: 'source'
      readonly source: string
      readonly part: string | null
      readonly channel: string | null
      /** `element`: the matte lies in the element's own pixels and moves along; `frame`: it lies in the frame */
      readonly lies: 'element' | 'frame'
    }
  | { readonly kind: 'element'; readonly element: string }
  | { readonly kind: 'matte'; readonly matte: string }

/** How far a treatment counts where: at 0 the pixels stay as they were, bit for bit, at 1 they are the treatment's. */
export interface Limit {
  /** null: everywhere */
  readonly matte: MatteReference | null
  readonly inverted: boolean
  /** amount */
  readonly parameters: Parameters
}

/**
 * Where a treatment acts: on an element; on every element that has no treatment of the same kind of its own (glass); on the
 * whole picture where it is not the plate (sensor); or on everything, at the end of the light path (finish).
 */
export type UseOwner = { readonly kind: 'element'; readonly id: string } | { readonly kind: ShotWide }
export const shotWide = ['glass', 'sensor', 'finish'] as const
export type ShotWide = (typeof shotWide)[number]

export interface Use extends Ranked {
  readonly owner: UseOwner
  readonly treatment: string
  readonly on: boolean
  readonly limit: Limit | null
}

/** What of a shot a try keeps. */
export interface Arrangement {
  readonly plate: string
  readonly elements: Table<Element>
  readonly treatments: Table<TreatmentSettings>
  readonly uses: Table<Use>
}

/** A kept alternative: how everything was, to compare with and to come back to. */
export interface Try extends Arrangement, Ranked {
  readonly name: string
}

/** What a region moves with, and the frame on which it lies as it was drawn. */
export type Followed =
  | { readonly element: string; readonly track?: undefined; readonly frame: number }
  | { readonly track: string; readonly element?: undefined; readonly frame: number }

/** A place or region whose values are kept in sight; full-scale pixels of the frame. */
export interface Sample extends Ranked {
  readonly name: string
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
  /** it moves with an element's coverage, or with a track; it lies as it was drawn on this frame */
  readonly follows?: Followed
}

/** A frame that somebody wants to find again, with what was drawn on it. */
export interface Marker {
  readonly id: string
  readonly name: string
  readonly frame: number
  readonly strokes?: Table<Stroke>
}

/** A line drawn by hand. */
export interface Stroke {
  readonly id: string
  /** x and y of its points by turns, in full-scale pixels of the frame */
  readonly points: readonly number[]
}

/** Places along something that is straight in the world, as the plate or another picture by the same lens shows it. */
export interface StraightLine extends Stroke {
  readonly frame: number
  /** absent: the plate */
  readonly source?: string
}

/** A region of one side of a witness, in full-scale pixels of the frame. */
export interface WitnessSide {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
  /**
   * The frame on which it lies there; on others it follows: the plate's side what the plate shows there, the element's side the
   * middle of the element's coverage. Absent: it stays where it is in the frame.
   */
  readonly follows?: number
  /** a track that it goes along with instead */
  readonly along?: string
}

/** A pair of regions that ought to agree: the plate on one side, an element as it is treated on the other. */
export interface Witness extends Ranked {
  readonly name: string
  readonly purpose: WitnessPurpose
  /** where the plate is right */
  readonly reference: WitnessSide
  /** where the element ought to be like it */
  readonly adjusted: WitnessSide
  /** of one for shadow: where the plate shows the ground of its reference side in the light; it follows as that does */
  readonly lit?: Omit<WitnessSide, 'follows' | 'along'>
  readonly element: string
  /** the reference object that it is read on: its photograph for the plate, its render for the element's; absent: on the shot itself */
  readonly on?: string
  /** frames on which it counts; absent: all */
  readonly frames?: FrameRange
  /** scene-linear, or a share of the channels' ratio where it is for colour; absent: what is usual for the purpose */
  readonly tolerance?: number
}

/** A ball or chart that was photographed where a render is to stand, and the render of it by the same lights and camera. */
export interface ReferenceObject extends Ranked {
  readonly name: string
  /** source of its photographs, which take the plate's place */
  readonly photographed: string
  /** source of its render */
  readonly rendered: string
  /** the source whose place the render takes */
  readonly insteadOf: string
}

export interface Shot extends Arrangement {
  readonly schema: typeof schemaVersion
  readonly name: string
  /** what randomness is keyed by; stays when the shot is renamed */
  readonly seed: string
  readonly frames: FrameRange
  readonly rate: Rational
  readonly frameSize: { readonly width: number; readonly height: number }
  readonly pixelAspect: number
  readonly workingSpace: WorkingSpace
  readonly sources: Table<Source>
  /** the element that everything else is blended over */
  readonly plate: string
  /** nothing of them is in the picture */
  readonly tries: Table<Try>
  readonly samples: Table<Sample>
  readonly markers: Table<Marker>
  readonly witnesses: Table<Witness>
  readonly referenceObjects: Table<ReferenceObject>
  readonly tracks: Table<Track>
  readonly mattes: Table<Matte>
  /** by which what moves is blurred */
  readonly shutter: { readonly parameters: Parameters }
}

/** What has parameters, and by what it is found. */
export type Owner =
  | { readonly kind: 'element'; readonly id: string }
  | { readonly kind: 'blend'; readonly element: string }
  | { readonly kind: 'input'; readonly element: string; readonly id: string }
  | { readonly kind: 'treatment'; readonly id: string }
  | { readonly kind: 'limit'; readonly use: string }
  | { readonly kind: 'placing'; readonly element: string }
  | { readonly kind: 'shutter' }
  | { readonly kind: 'matte'; readonly id: string }
  | { readonly kind: 'shape'; readonly matte: string; readonly id: string }
  | { readonly kind: 'point'; readonly of: PointOwner; readonly id: string }

/** What has points. */
export type PointOwner =
  | { readonly kind: 'treatment'; readonly id: string }
  | { readonly kind: 'input'; readonly element: string; readonly id: string }

/** A parameter of its owner; `channel` null means all channels. */
export interface ParameterAddress {
  readonly owner: Owner
  readonly parameter: string
  readonly channel: number | null
}

export type { Claims } from '../graph/steps'
