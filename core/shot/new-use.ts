/** A treatment's use where the light path has it. */

import { treatmentKinds, type TreatmentKind } from '../treatments'
import { find, newId, rankBetween, usesOf } from './find'
import type { Arrangement, Use, UseOwner } from './types'

const placeOf = (kind: TreatmentKind) => treatmentKinds.indexOf(kind)

/** After those of its kind and of kinds before it. @param treatment whose settings it is a use of */
export function newUse(shot: Arrangement, owner: UseOwner, kind: TreatmentKind, treatment: string): Use {
  const uses = usesOf(shot, owner)
  const next = uses.findIndex(({ treatment: other }) => {
    const settings = find(shot.treatments, other)
    return settings !== undefined && placeOf(settings.kind) > placeOf(kind)
  })
  const at = next < 0 ? uses.length : next
  const rank = rankBetween(uses[at - 1]?.rank ?? null, uses[at]?.rank ?? null)
  return { id: newId(), rank, owner, treatment, on: true, limit: null }
}
