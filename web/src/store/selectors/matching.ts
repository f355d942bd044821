/** What was found when the shot was matched. */

import { createSelector } from '@reduxjs/toolkit'
import { find } from '../../../../core/shot'
import type { LeftPart, MatchedPart, ShotMatching } from '../../../../core/witnesses'
import { serverCache } from '../../api/server-cache'
import type { RootState } from '../state'
import { selectDocument } from './document'

const nothing: ShotMatching = { work: null, state: null, problem: null, found: null }

export const selectMatching = (state: RootState): ShotMatching =>
  (state.shot.id === null ? undefined : serverCache.endpoints.matching.select(state.shot.id)(state).data) ?? nothing

export interface MatchedElement {
  readonly id: string
  readonly name: string
  readonly parts: readonly MatchedPart[]
  readonly left: readonly LeftPart[]
}

/** By element that is still there, in the order in which they were matched. */
export const selectMatchedElements = createSelector([selectDocument, selectMatching], (shot, { found }) => {
  if (!shot || !found) return []
  const { parts, left } = found.matching
  const ids = new Set([...parts, ...left].map(({ element }) => element))
  return [...ids].flatMap((id): MatchedElement[] => {
    const element = find(shot.elements, id)
    const own = <T extends { readonly element: string }>(all: readonly T[]) => all.filter((one) => one.element === id)
    return element ? [{ id, name: element.name, parts: own(parts), left: own(left) }] : []
  })
})
