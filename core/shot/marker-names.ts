/** The name of the next marker: one more than the highest that has a number. */

import { allOf } from './find'
import type { Shot } from './types'

export function nextMarkerName({ markers }: Pick<Shot, 'markers'>): string {
  const numbers = allOf(markers).map(({ name }) => Number(/^Marker (\d+)$/.exec(name)?.[1] ?? 0))
  return `Marker ${1 + Math.max(0, ...numbers)}`
}
