/** What the screen shows, worked out from the store; memoised. */

import { createSelector } from '@reduxjs/toolkit'
import { planFrame, type FramePlan, type Fingerprint } from '../../../core/plan/plan'
import type { Step } from '../../../core/graph/steps'
import { applyEdit, type Shot } from '../../../core/shot'
import type { Catalog } from '../api/client'
import type { RootState } from './state'

export const selectDocument = (state: RootState) => state.shot.shot

/** The document with the gesture under way applied. */
export const selectShownShot = createSelector(
  [selectDocument, (state: RootState) => state.shot.draft],
  (shot, draft): Shot | null => (shot && draft ? applyEdit(shot, draft).shot : shot),
)

export const selectElement = createSelector(
  [selectShownShot, (state: RootState) => state.shot.selected],
  (shot, id) => shot?.elements.find((e) => e.id === id) ?? null,
)

export function fingerprintOf(catalog: Catalog): Fingerprint {
  return (source, frame) => catalog[source.id]?.[frame === null ? 'still' : String(frame)] ?? 'absent'
}

const selectCatalog = (state: RootState) => state.shot.catalog

export const selectPlan = createSelector(
  [selectShownShot, selectCatalog, (state: RootState) => state.view.frame, (state: RootState) => state.view.scale],
  (shot, catalog, frame, scale): FramePlan | null =>
    shot ? planFrame(shot, frame, scale, fingerprintOf(catalog)) : null,
)

/** The step that fills the picture. */
export const selectShownStep = createSelector(
  [selectPlan, (state: RootState) => state.view.shown, (state: RootState) => state.shot.selected],
  (plan, shown, selected): Step | null => {
    if (!plan || shown === 'composite') return plan?.composite ?? null
    return shown === 'plate' ? plan.plate : (plan.elements.get(selected ?? '') ?? plan.composite)
  },
)

/** Frames whose plate exists, for the tally. */
export const selectReadyFrames = createSelector(
  [selectDocument, selectCatalog],
  (shot, catalog): ReadonlySet<number> => {
    const plate = shot?.elements[0].source
    return new Set(Object.keys((plate !== undefined && catalog[plate]) || {}).map(Number))
  },
)
