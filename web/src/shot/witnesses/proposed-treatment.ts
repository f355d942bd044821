/** The veil and gain that a proposal is for, and what is kept of it. */

import { newId, type SingleChange } from '../../../../core/shot'
import { ownUse } from '../../../../core/witnesses'
import { selectDocument } from '../../store/selectors'
import type { RootState } from '../../store/state'
import { additionOf } from '../card/treatment-sources'

export type ProposedName = 'veil' | 'gain' | 'gamma'
export const proposedLabels: Readonly<Record<ProposedName, string>> = {
  ...{ veil: 'Veil', gain: 'Gain', gamma: 'Gamma' },
}

/** The element's own, or one that is to be added first. */
export function treatmentFor(state: RootState, element: string) {
  const shot = selectDocument(state)
  const known = shot && ownUse(shot, element, 'veil-and-gain')
  if (!shot || known) return { addition: [], treatment: known?.settings.id ?? null }
  const added = additionOf('veil-and-gain', { kind: 'element', id: element }, shot, [])
  return added?.kind === 'add-treatment'
    ? { addition: [added as SingleChange], treatment: added.settings.id }
    : { addition: [], treatment: null }
}

/** What is there is kept as a try, so that both can be compared. */
export const keptTry = (settings: object | null, treatment: string): SingleChange[] =>
  settings ? [{ kind: 'keep-treatment-try', treatment, id: newId(), name: 'before the proposal' }] : []
