/** The veil and gain that a proposal is for, and what is kept of it. */

import { newId, type SingleChange } from '../../../../core/shot'
import { selectDocument } from '../../store/selectors'
import type { RootState } from '../../store/state'
import { additionOf } from '../card/treatment-sources'
import { veilAndGainOf } from './use-proposal'

export type ProposedName = 'veil' | 'gain'
export const proposedLabels: Readonly<Record<ProposedName, string>> = { veil: 'Veil', gain: 'Gain' }

/** The element's own, or one that is to be added first. */
export function treatmentFor(state: RootState, element: string) {
  const shot = selectDocument(state)
  const known = shot && veilAndGainOf(shot, element)
  if (!shot || known) return { addition: [], treatment: known?.settings.id ?? null }
  const added = additionOf('veil-and-gain', { kind: 'element', id: element }, shot, [])
  return added?.kind === 'add-treatment'
    ? { addition: [added as SingleChange], treatment: added.settings.id }
    : { addition: [], treatment: null }
}

/** What is there is kept as a try, so that both can be compared. */
export const keptTry = (settings: object | null, treatment: string): SingleChange[] =>
  settings ? [{ kind: 'keep-treatment-try', treatment, id: newId(), name: 'before the proposal' }] : []
