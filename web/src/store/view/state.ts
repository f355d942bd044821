/** How the shot is looked at, in five parts. Nothing here is ever in the data. */

import type { Scale } from '../../../../core/graph/steps'
import type { Looking } from '../../../../core/look/looking'
import type { ScopeKind } from '../../../../core/measure/scopes'
import type { Node } from '../../../../core/plan/node'
import type { KeyframeChoice, Pin, Shot, StrokeWay } from '../../../../core/shot'

/**
 * What fills the picture: everything, the plate as it came, the selected element by itself, everything but with the selected
 * element untreated, what the picture is compared with, or something on the way to it (`node`).
 */
export type Shown = 'composite' | 'plate' | 'element' | 'untreated' | 'other' | 'node'

/** What is drawn under the picture, or over it. */
export type Scope = 'none' | ScopeKind

/** In which values are printed. */
export type Units = 'light' | 'code' | 'view'

export interface LookingState extends Looking {
  /** how strongly the plate lies over what is shown, 0 to 1 */
  readonly ghost: number
  readonly shown: Shown
  /** what is shown by itself, when `shown` says so */
  readonly node: Node | null
  /** source of a table that the picture is seen through; never in the data */
  readonly table: string | null
  readonly units: Units
  readonly scope: Scope
  /** uses of treatments that are left out of what is seen, since they are slow; never of a delivery */
  readonly parked: readonly string[]
  /** the inspection board covers the picture */
  readonly board: boolean
}

export interface Point {
  readonly x: number
  readonly y: number
}

/** Full-scale pixels. */
export interface Region extends Point {
  readonly width: number
  readonly height: number
}

export interface FramingState {
  readonly scale: Scale
  /** screen pixels per picture pixel; null fits the picture into its place */
  readonly zoom: number | null
  /** picture point in the middle of its place, full-scale pixels; only with a zoom */
  readonly centre: Point
  /** the pixel under the pointer */
  readonly pointer: Point | null
  /** how far samples have moved with the elements that they follow, by their ids; full-scale pixels */
  readonly followed: Readonly<Record<string, Point>>
  /** the sample whose region the scope shows; null: the whole picture */
  readonly scoped: string | null
  /** the only part of the picture that is made; null: all of it */
  readonly area: Region | null
  /** the tracks that the picture is held still on, and from which frame; null: it moves as it was filmed */
  readonly held: Pin | null
  /** the scale while something is dragged, where the chosen one is too slow; null: the chosen one */
  readonly dragging: Scale | null
}

/** What the picture is compared with. */
export type Other =
  | { readonly kind: 'plate' | 'element' | 'untreated' }
  | { readonly kind: 'frame'; readonly frame: number }
  /** a source by itself, such as the edit's reference movie */
  | { readonly kind: 'source'; readonly id: string }
  /** the selected element without one of its treatments */
  | { readonly kind: 'without'; readonly use: string }
  /** the shot as it was */
  | { readonly kind: 'revision'; readonly revision: number; readonly shot: Shot }
  /** a kept try of the shot */
  | { readonly kind: 'try'; readonly id: string }

export type How =
  | { readonly way: 'not' }
  /** on the right of the line as it was drawn the other is seen; full-scale pixels */
  | { readonly way: 'split'; readonly from: Point; readonly to: Point }
  | { readonly way: 'difference'; readonly gain: number }

export interface ComparingState {
  readonly other: Other
  readonly how: How
  /** the pointer's neighbourhood enlarged, picture and other side by side */
  readonly loupe: boolean
}

export interface PlayingState {
  readonly frame: number
  readonly playing: boolean
  /** frames that are played round and round; null: all */
  readonly range: { readonly first: number; readonly last: number } | null
  /** only every so-manieth frame is played */
  readonly every: 1 | 2 | 4
  /** frames shown and left out since playing began; null when it never did */
  readonly played: { readonly shown: number; readonly dropped: number } | null
}

/** By name in shot/tools. */
export type ToolName =
  | 'look'
  | 'split'
  | 'area'
  | 'place'
  | 'corners'
  | 'note'
  | 'track'
  | 'line'
  | 'region'
  | 'outline'
  | 'points'
  | 'brush'
  | 'object'

export interface ScreenState {
  readonly tool: ToolName
  /** column, card and tally are folded away */
  readonly pictureOnly: boolean
  readonly shortcutsOpen: boolean
  /** what stands in the place of the selected thing's card */
  readonly instead: 'deliveries' | 'history' | 'matching' | null
  /** another shot whose gain is taken where this one is matched */
  readonly gainFrom: string | null
  /** columns that are folded to their edge */
  readonly folded: readonly ('column' | 'card')[]
  /** what is folded lies over the picture, while a key is held */
  readonly peek: boolean
  /** the tally has room for many rows */
  readonly tallyOpen: boolean
  /** the element whose card is kept below the first */
  readonly pinned: string | null
  /** the lens whose straight lines are seen and drawn, and on which picture: the plate (null) or another source */
  readonly lines: { readonly treatment: string; readonly source: string | null } | null
  /** parameters whose channels are changed together, by what they belong to and their name */
  readonly linked: readonly string[]
}

export interface OutliningState {
  /** the shape that is worked on; null: the first of the selected matte */
  readonly shape: string | null
  /** its points that are chosen */
  readonly points: readonly string[]
  /** what edits of points apply to */
  readonly keyframes: KeyframeChoice
  /** how far from the chosen points others go along, pixels of the frame */
  readonly reach: number
  /** outlines of the keyframes before and after are drawn too */
  readonly neighbours: boolean
  /** places that were pressed for a new outline, until it is closed; full-scale pixels of the frame */
  readonly pressed: readonly { readonly spot: readonly [number, number]; readonly corner: boolean }[]
  /** the pixel whose object is to be chosen or let go; null: none is waiting */
  readonly picked: Point | null
  /** a stroke that is being drawn */
  readonly stroke: readonly (readonly [number, number])[]
  /** with which mattes are painted: pixels of the frame; how hard its edge is, 0 to 1 */
  readonly brush: {
    readonly radius: number
    readonly hardness: number
    readonly how: StrokeWay
    /** strokes are there on the frame on which they are painted, and on no other */
    readonly onlyHere: boolean
  }
  /** what the selected matte covers is hatched */
  readonly hatched: boolean
  /** neither outlines nor handles are drawn */
  readonly hidden: boolean
}

export interface ViewState {
  readonly looking: LookingState
  readonly framing: FramingState
  readonly comparing: ComparingState
  readonly playing: PlayingState
  readonly screen: ScreenState
  readonly outlining: OutliningState
}
