/** Tracks of the document: points of the plate that are followed, alone or as the corners of a region. */

import type { PatternModel, RegionWay } from '../track/pattern-models'
import type { Ranked } from './basic-types'

/** Where a track is on a frame: a pixel's middle lies at its half. Plate pixels, as measured. */
export type TrackPoint =
  | { readonly x: number; readonly y: number; readonly byHand: true }
  /** by a camera that is known: where a place of the scene is seen */
  | { readonly x: number; readonly y: number; readonly solved: true }
  | {
      readonly x: number
      readonly y: number
      /** standard errors, in pixels */
      readonly across: number
      readonly down: number
      /** -1 to 1: how like the pattern is what was found */
      readonly likeness: number
    }

/** A point of the plate that is followed from frame to frame. */
export interface Track extends Ranked {
  readonly name: string
  /** how its pattern may change */
  readonly model: PatternModel
  /** pixels of the pattern on either side of the point */
  readonly radius: number
  /** it is looked for so many pixels around where it is expected */
  readonly search: number
  /** neither of these was chosen: they are measured where it is followed first */
  readonly unsized?: true
  /** by frame; what was set by hand is where the others are found from */
  readonly points: Readonly<Record<string, TrackPoint>>
  /** why it was not found on a frame, by frame: the end of a sentence */
  readonly lost?: Readonly<Record<string, string>>
  /** it is a corner of a region that is followed as a whole; corners have one id and one model, and are counted from 0 around it */
  readonly region?: {
    readonly id: string
    readonly corner: number
    readonly model: RegionWay
    /** `points`: it moves as the camera does, told by many points all over the frame; absent: as what lies in it does */
    readonly by?: 'points'
    /** a drawn matte: what it covers on the frame where the region was outlined is no part of it */
    readonly leavesOut?: string
    /** what is known of it as a flat rectangle of the scene */
    readonly plane?: PlaneShape
  }
}

/** A rectangle of the scene, and a grid of squares on it. */
export interface PlaneShape {
  /** width over height; absent: as its perspective tells */
  readonly ratio?: number
  /** metres from its lower to its upper edge; absent: 1 */
  readonly height?: number
  /** squares of its grid across it; absent: no grid is shown */
  readonly squares?: number
  /** degrees that the grid, and what is laid on it as it is, are turned to the right; absent: 0 */
  readonly turn?: number
}
