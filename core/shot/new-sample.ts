/** A sample with a name that is free: the lowest number that no other has. */

import { allOf, inOrder, lastRank, newId } from './find'
import type { Sample, Shot } from './types'

/** @param region full-scale pixels */
export function newSample(shot: Shot, region: Pick<Sample, 'x' | 'y' | 'width' | 'height'>): Sample {
  const taken = new Set(allOf(shot.samples).map(({ name }) => name))
  let number = 1
  while (taken.has(String(number))) number++
  const { x, y, width, height } = region
  return { id: newId(), name: String(number), rank: lastRank(inOrder(shot.samples)), x, y, width, height }
}
