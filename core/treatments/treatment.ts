/** What every treatment is: its description, its reach, and a function over premultiplied RGBA pixels in the kernels' memory. */

import type { Kernels } from '../kernels/kernels'
import type { Description } from './description'

/** Where on the light path a treatment belongs. */
export type Station = 'set' | 'air' | 'glass' | 'sensor' | 'finish'

export type ParameterValues = Readonly<Record<string, readonly number[]>>

export interface Treatment<Name extends string = string> extends Description<Name> {
  /** part of every content key: raise it when the same parameters give other pixels */
  readonly version: number
  readonly station: Station
  /** `point`: a pixel depends on the same pixel only */
  readonly reach: 'point'
  /**
   * @param pixels byte address of `count` premultiplied RGBA float pixels, changed in place
   * @param values every parameter of the description at the frame, one number a channel
   */
  apply(kernels: Kernels, pixels: number, count: number, values: ParameterValues): void
}
