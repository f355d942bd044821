/**
 * Object ids of renders. In ranked passes every pixel holds pairs of an id and how much of the pixel that object covers, the largest
 * first; ids are the bits of 32-bit floats. In plain passes a pixel holds one whole number.
 */

import type { Plane } from './planes'

export interface WantedIds {
  /** as whole numbers: of ranked passes the bits of their floats, unsigned */
  readonly ids: readonly number[]
  /** planes are an id and its coverage by turns; else the one plane holds whole numbers */
  readonly ranked: boolean
}

const bits = new Uint32Array(1)
const float = new Float32Array(bits.buffer)

/** The whole number that names an object, from a sample of an id. */
export function idOf(sample: number, ranked: boolean): number {
  if (!ranked) return Math.round(sample)
  float[0] = sample
  return bits[0]
}

const floatsOf = ({ samples }: Plane, half: Float32Array): ArrayLike<number> =>
  samples instanceof Uint16Array ? Float32Array.from(samples, (one) => half[one]) : samples

/** How much of each pixel the wanted objects cover, as one plane. @param half light of every half, by its bits */
export function coverageOfIds(planes: readonly Plane[], { ids, ranked }: WantedIds, half: Float32Array): Plane {
  const wanted = new Set(ids)
  const out = new Float32Array(planes[0].samples.length)
  for (let p = 0; p < planes.length; p += ranked ? 2 : 1) {
    const named = floatsOf(planes[p], half)
    const covered = ranked && p + 1 < planes.length ? floatsOf(planes[p + 1], half) : null
    for (let i = 0; i < out.length; i++) if (wanted.has(idOf(named[i], ranked))) out[i] += covered ? covered[i] : 1
  }
  for (let i = 0; i < out.length; i++) out[i] = Math.min(1, Math.max(0, out[i]))
  return { name: 'coverage', type: 'float', samples: out }
}
