/** A frame as a file holds it: one plane of samples per channel, over a data window. */

import type { Window } from './window'

export type SampleType = 'half' | 'float' | 'uint'

export type Samples = Uint16Array | Float32Array | Uint32Array

export interface Plane {
  /** full channel name, for example `R` or `diffuse.R` */
  readonly name: string
  readonly type: SampleType
  /** `dataWindow.width * dataWindow.height` samples, row by row; halves as their 16 bits */
  readonly samples: Samples
}

export interface Planes {
  readonly dataWindow: Window
  readonly displayWindow: Window
  readonly planes: readonly Plane[]
}

export const bytesPerSample: Readonly<Record<SampleType, number>> = { half: 2, float: 4, uint: 4 }

/** @returns a zeroed sample array of the type */
export function allocateSamples(type: SampleType, count: number): Samples {
  if (type === 'half') return new Uint16Array(count)
  return type === 'float' ? new Float32Array(count) : new Uint32Array(count)
}
