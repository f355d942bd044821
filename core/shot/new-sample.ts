/** Samples and witnesses with names that are free: the lowest number that no other has. */

import { allOf, inOrder, lastRank, newId } from './find'
import type { Sample, Shot, Table, Witness, WitnessSide } from './types'

/** @param region full-scale pixels */
export function newSample(shot: Shot, region: Pick<Sample, 'x' | 'y' | 'width' | 'height'>): Sample {
  const { x, y, width, height } = region
  return { id: newId(), name: freeNumber(shot.samples), rank: lastRank(inOrder(shot.samples)), x, y, width, height }
}

/** A place alone says little where there is grain. */
const leastSide = 8

/** @param reference of the plate @param adjusted of the element; single places become small regions */
export function newWitness(shot: Shot, reference: WitnessSide, adjusted: WitnessSide, element: string): Witness {
  const side = ({ x, y, width, height }: WitnessSide): WitnessSide => {
    const [wide, high] = [Math.max(leastSide, width), Math.max(leastSide, height)]
    return {
      x: x - Math.floor((wide - width) / 2),
      y: y - Math.floor((high - height) / 2),
      ...{ width: wide, height: high },
    }
  }
  return {
    ...{
      id: newId(),
      name: freeNumber(shot.witnesses),
      rank: lastRank(inOrder(shot.witnesses)),
      purpose: 'black',
      element,
    },
    ...{ reference: side(reference), adjusted: side(adjusted) },
  }
}

function freeNumber(table: Table<{ readonly name: string }>): string {
  const taken = new Set(allOf(table).map(({ name }) => name))
  let number = 1
  while (taken.has(String(number))) number++
  return String(number)
}
