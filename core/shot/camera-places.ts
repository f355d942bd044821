/** What belongs into glass and sensor, and on which elements the glass acts. */

import { treatments, type TreatmentKind } from '../treatments'
import { allOf, find, usesOf } from './find'
import type { Arrangement, Element, UseOwner } from './types'

/** An element and the finish take any treatment; glass and sensor what belongs there. */
export function belongsTo(kind: TreatmentKind, { kind: owner }: UseOwner): boolean {
  return owner === 'element' || owner === 'finish' || treatments[kind].stations.includes(owner)
}

/**
 * Whether a treatment in the glass acts on an element: not on the plate, nor on one that is kept out of it, has a treatment of
 * the same kind itself, or shows another element, which has been through the glass.
 */
/** A lens by its numbers and one by its map do the same: what has one of them is not bent by the other. */
const bends = (kind: TreatmentKind) => {
  const treatment = treatments[kind]
  return treatment.side === 'mapping' && !treatment.apart
}

export function goesThroughGlass(shot: Arrangement, { id, ownGlass, inputs }: Element, kind: TreatmentKind): boolean {
  if (id === shot.plate || ownGlass || allOf(inputs).some((input) => input.kind === 'element')) return false
  return !usesOf(shot, { kind: 'element', id }).some(({ treatment }) => {
    const own = find(shot.treatments, treatment)?.kind
    return own === kind || (own !== undefined && bends(own) && bends(kind))
  })
}
