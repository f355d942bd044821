/** What things of the document are made of: tables, ranks, parameters, pins. */

import type { Curve } from '../motion/curve'
import type { MotionModel } from '../motion/fitted-motion'

/** Things by their ids. Nothing is found by its place in a list; what has an order has a rank. */
export interface Table<T> {
  readonly byId: Readonly<Record<string, T>>
}

/** Things with an order are sorted by rank, as text; equal ranks by id. */
export interface Ranked {
  readonly id: string
  readonly rank: string
}

/** One curve for all channels, or one each for red, green and blue. */
export type Parameter = readonly Curve[]
export type Parameters = Readonly<Record<string, Parameter>>

/** What is chosen by name, by the description's names. */
export type Choices = Readonly<Record<string, string>>

/** What holds something to tracks: it moves as they do, from the frame on which it lies as it was placed. */
export interface Pin {
  /** ids of tracks, as many as the model takes or more */
  readonly tracks: readonly string[]
  /** on this frame it moves nothing */
  readonly frame: number
  /** how much of the tracks' motion it follows */
  readonly by: MotionModel
  /** where a track has ended; absent: as on its last frame */
  readonly beyond?: 'gone' | 'faded'
  /** frames over which it fades where a track has ended; absent: 8 */
  readonly fade?: number
  /** motions quicker than so many frames are evened out; on the first and last frame of the tracks it stays where it is */
  readonly smooth?: number
}
