/** Values that do not belong in a picture: not a number, infinite, negative. Counted, and the first of each placed. */

import type { Planes } from '../image/planes'
import { valuesOf } from './sample'

export interface OddValue {
  readonly count: number
  /** of the first, in the file's own pixels */
  readonly x: number
  readonly y: number
  readonly channel: string
}

export interface OddValues {
  readonly notNumbers: OddValue | null
  readonly infinite: OddValue | null
  /** below -0.001: less is the rounding and ringing of filters */
  readonly negative: OddValue | null
  /** share of all values */
  readonly negativeShare: number
}

const leastNegative = -0.001

export function oddValues({ dataWindow: { x, y, width }, planes }: Planes): OddValues {
  const found: Record<'notNumbers' | 'infinite' | 'negative', OddValue | null> = {
    notNumbers: null,
    infinite: null,
    negative: null,
  }
  let total = 0
  const note = (kind: keyof typeof found, channel: string, index: number) => {
    const before = found[kind]
    found[kind] = before
      ? { ...before, count: before.count + 1 }
      : { count: 1, channel, x: x + (index % width), y: y + Math.floor(index / width) }
  }
  for (const plane of planes) {
    const value = valuesOf(plane)
    total += plane.samples.length
    for (let i = 0; i < plane.samples.length; i++) {
      const v = value(i)
      if (v >= leastNegative && v < Infinity) continue
      note(Number.isNaN(v) ? 'notNumbers' : v < 0 && v > -Infinity ? 'negative' : 'infinite', plane.name, i)
    }
  }
  return { ...found, negativeShare: total === 0 ? 0 : (found.negative?.count ?? 0) / total }
}
