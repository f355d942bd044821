/** The next of a treatment's tries, round and round; settings that are not kept are kept first. */

import {
  inOrder,
  newId,
  nextTreatmentTryName,
  usedTry,
  type SingleChange,
  type TreatmentSettings,
} from '../../../../core/shot'

/** @returns null where there is no other try to go to */
export function stepTry(settings: TreatmentSettings, by: 1 | -1): SingleChange | null {
  const tries = settings.tries ? inOrder(settings.tries) : []
  const used = usedTry(settings)
  const at = used ? tries.indexOf(used) : by === 1 ? -1 : 0
  const next = tries[(at + by + tries.length) % tries.length]
  if (!next || next === used) return null
  return {
    kind: 'use-treatment-try',
    treatment: settings.id,
    id: next.id,
    keepAs: { id: newId(), name: nextTreatmentTryName(settings) },
  }
}
