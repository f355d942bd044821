/** Elements that are kept computed, and whether what is kept is what is wanted. */

import { createSelector } from '@reduxjs/toolkit'
import type { ComputedElement } from '../../../../core/work'
import { serverCache } from '../../api/server-cache'
import type { RootState } from '../state'
import { selectPlan } from './picture'

const none: readonly ComputedElement[] = []

export const selectComputed = (state: RootState): readonly ComputedElement[] =>
  (state.shot.id === null ? undefined : serverCache.endpoints.computed.select(state.shot.id)(state).data) ?? none

/** Content keys of all pictures that can be read instead of made. */
export const selectComputedKeys = createSelector(
  [selectComputed],
  (all): ReadonlySet<string> => new Set(all.flatMap(({ keys }) => keys)),
)

/**
 * How an element stands on the frame that is looked at: it is read, it is made anew although something is kept of it, or
 * there is nothing to compute, since it is a file as it came, or not seen.
 */
export function selectComputedState(state: RootState, id: string): 'nothing' | 'kept' | 'stale' {
  const step = selectPlan(state)?.elements.get(id)
  if (!step || step.op === 'frame') return 'nothing'
  return selectComputedKeys(state).has(step.key) ? 'kept' : 'stale'
}

/** Of the elements that are kept, how many are read and how many are made anew on this frame. */
export const selectComputedCounts = createSelector(
  [selectComputed, selectComputedKeys, selectPlan],
  (all, keys, plan) => {
    const steps = all.flatMap(({ element }) => plan?.elements.get(element) ?? []).filter(({ op }) => op !== 'frame')
    const kept = steps.filter(({ key }) => keys.has(key)).length
    return { kept, stale: steps.length - kept }
  },
)
