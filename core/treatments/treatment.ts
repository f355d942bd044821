/** What every treatment is: its description, its station, and how it is built of steps. */

import type { FrameStep, ParameterValues, Place, Step } from '../graph/steps'
import type { Kernels } from '../kernels/kernels'
import type { Description } from './description'

/** Where on the light path a treatment belongs. */
export type Station = 'set' | 'air' | 'glass' | 'sensor' | 'finish'

export type { ParameterValues } from '../graph/steps'

/** What a treatment may need to know besides its parameters. */
export interface Surroundings {
  /** pixels of the document in one pixel of the graph: 1, 2 or 4 */
  readonly scale: number
  /** whether the input is opaque everywhere, as plates and composites are, or empty around its pixels */
  readonly opaque: boolean
  readonly place: Place
  readonly frameSize: { readonly width: number; readonly height: number }
  /** frames of the sources that the settings name, by the description's names */
  readonly sources: Readonly<Record<string, FrameStep>>
}

export interface Treatment<Name extends string = string> extends Description<Name> {
  readonly station: Station
  /**
   * Builds the treatment. Spatial parameters are in pixels at full scale: divide by `scale`.
   *
   * @param values every parameter of the description at the frame, one number a channel
   * @returns the input itself when the values change nothing
   */
  build(input: Step, values: ParameterValues, surroundings: Surroundings): Step
  /** The kernel of a `point` step that names this treatment: changes `count` pixels of a strip in place. */
  readonly run?: PointRun
}

/**
 * @param work a strip to work in
 * @param x place of the strip's first pixel in the frame, with `y`
 */
export type PointRun = (
  kernels: Kernels,
  strip: number,
  count: number,
  values: ParameterValues,
  place: Place,
  x: number,
  y: number,
  work: number,
) => void
