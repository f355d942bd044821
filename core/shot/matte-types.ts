/** Mattes of the document: coverage that limits, holdouts and other mattes use, each by one way of making it. */

import type { Profile } from '../graph/steps'
import type { PointPlace } from '../outline/place'
import type { Choices, Parameters, Pin, Ranked, Table } from './basic-types'

/** How a shape meets those before it, or a matte those before it: the algebra of coverages that know nothing of each other. */
export const matteWays = ['add', 'subtract', 'intersect'] as const
export type MatteWay = (typeof matteWays)[number]

/** One of the points of a shape; where it lies is said by keyframes. */
export interface ShapePoint extends Ranked {
  /** its handles move apart; absent: they stay in one line, and the outline is smooth there */
  readonly corner?: true
}

/** Where every point lies on one frame, by the points' ids. Plate pixels; of a pinned matte, as it is on the pin's frame. */
export type Places = Readonly<Record<string, PointPlace>>

/** A closed outline. */
export interface Shape extends Ranked {
  readonly name: string
  readonly how: MatteWay
  /** in order round the outline */
  readonly points: Table<ShapePoint>
  /** by frame; a keyframe holds all points */
  readonly keyframes: Readonly<Record<string, Places>>
  readonly parameters: Parameters
  /** absent: smooth */
  readonly profile?: Exclude<Profile, 'smooth'>
  /** shot frames before and after which it is not there; absent: no bound */
  readonly from?: number
  readonly to?: number
}

interface MatteBase extends Ranked {
  readonly name: string
  readonly inverted?: true
  readonly parameters: Parameters
}

/** Moves with an element as it is placed, pinned and carried; nothing is moved on the frame. */
export interface ElementPin {
  readonly element: string
  readonly frame: number
}

/** What drawn and painted mattes move with. */
export type MattePin = Pin | ElementPin

/** Drawn outlines, which lie in the frame. */
export interface DrawnMatte extends MatteBase {
  readonly kind: 'drawn'
  readonly shapes: Table<Shape>
  /** tracks, or the element, that they move with */
  readonly pin?: MattePin
  /** motion does not blur them; absent: it does, by the shutter of the shot */
  readonly shutter?: 'closed'
}

/** What a stroke does to what was painted before it. */
export const strokeWays = ['add', 'subtract', 'soften'] as const
export type StrokeWay = (typeof strokeWays)[number]

/** A line painted with a round brush. */
export interface PaintStroke extends Ranked {
  /** x and y of its points by turns, in plate pixels; of a pinned matte, as on the pin's frame */
  readonly points: readonly number[]
  /** pixels */
  readonly radius: number
  /** 1: a hard edge; 0: it falls from the middle on */
  readonly hardness: number
  readonly how: StrokeWay
  /** the only frame on which it is there; absent: on all */
  readonly frame?: number
}

/** Painted by hand, stroke over stroke. */
export interface PaintedMatte extends MatteBase {
  readonly kind: 'painted'
  readonly strokes: Table<PaintStroke>
  readonly pin?: MattePin
}

/** What is made of a source's own pixels. */
interface OfSource extends MatteBase {
  /** the element in whose own picture it lies, so that it is moved and bent as that is; absent: it lies in the frame */
  readonly lies?: string
}

/** One channel of a source's files: a matte that came in, a depth. */
export interface ChannelMatte extends OfSource {
  readonly kind: 'channel'
  readonly source: string
  readonly part: string | null
  /** null: the first there is */
  readonly channel: string | null
}

/** What lies between two depths, by a depth pass. */
export interface DepthMatte extends OfSource {
  readonly kind: 'depth'
  readonly source: string
  readonly part: string | null
  /** null: the first there is */
  readonly channel: string | null
}

/** Objects of a render, by a pass of ids. */
export interface ObjectsMatte extends OfSource {
  readonly kind: 'objects'
  readonly source: string
  /** layers that hold ranks of ids and coverage, in order; or the one part and channel of plain ids */
  readonly layers: readonly { readonly part: string | null; readonly channels: readonly string[] }[]
  /** whether they are ranked; else whole numbers */
  readonly ranked: boolean
  /** of the objects that are covered: ids as whole numbers, by what they are called */
  readonly objects: Readonly<Record<string, number>>
}

/** What lies near the edge of another matte. */
export interface BandMatte extends MatteBase {
  readonly kind: 'band'
  readonly matte: string
}

/** The coverage of an element, as it shows by itself. */
export interface AlphaMatte extends MatteBase {
  readonly kind: 'alpha'
  readonly element: string
}

/** By how bright an element is, or a channel of it. */
export interface KeyedMatte extends MatteBase {
  readonly kind: 'keyed'
  readonly element: string
  readonly choices: Choices
}

/** Other mattes, one after the other. */
export interface CombinedMatte extends MatteBase {
  readonly kind: 'combined'
  readonly parts: Table<MattePart>
}

export interface MattePart extends Ranked {
  readonly matte: string
  readonly how: MatteWay
  readonly inverted?: true
}

export type Matte =
  | DrawnMatte
  | PaintedMatte
  | ChannelMatte
  | DepthMatte
  | ObjectsMatte
  | AlphaMatte
  | KeyedMatte
  | BandMatte
  | CombinedMatte
export type MatteKind = Matte['kind']
