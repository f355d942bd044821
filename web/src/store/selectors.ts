/** What the screen shows, worked out from the store; memoised. */

import { createSelector } from '@reduxjs/toolkit'
import { absent, planFrame, type FramePlan, type Fingerprint } from '../../../core/plan/plan'
import type { Step } from '../../../core/graph/steps'
import { checkShot, type Finding } from '../../../core/check'
import { applyEdit, type Shot } from '../../../core/shot'
import type { Catalog } from '../api/client'
import type { ViewSettings } from '../../../core/kernels/kernels'
import type { RootState } from './state'
import type { Shown } from './view-slice'

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

export const selectSource = createSelector(
  [selectShownShot, (state: RootState) => state.shot.selectedSource],
  (shot, id) => shot?.sources.find((source) => source.id === id) ?? null,
)

/** What the claims check finds in the document as it stands; null until the sources were measured. */
export const selectFindings = createSelector(
  [selectDocument, (state: RootState) => state.shot.reports],
  (shot, reports): Finding[] | null => (shot && reports ? checkShot(shot, reports) : null),
)

export function fingerprintOf(catalog: Catalog): Fingerprint {
  return (source, frame) => catalog[source.id]?.[frame === null ? 'still' : String(frame)] ?? absent
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
  (plan, shown, selected): Step | null => plan && shownOf(plan, shown, selected),
)

function shownOf(plan: FramePlan, shown: Shown, selected: string | null): Step {
  if (shown === 'composite') return plan.composite
  return shown === 'plate' ? plan.plate : (plan.elements.get(selected ?? '') ?? plan.composite)
}

/** Plans are pure, and playing asks for the same ones over and over. */
const plans = new WeakMap<Shot, Map<string, FramePlan>>()

/** The step that would fill the picture at another frame, as it is being looked at now; null where nothing can be planned. */
export function shownStepAt(state: RootState, frame: number): Step | null {
  const shot = selectShownShot(state)
  if (!shot || !selectReadyFrames(state).has(frame)) return null
  const { scale, shown } = state.view
  let known = plans.get(shot)
  if (!known) plans.set(shot, (known = new Map()))
  const fingerprint = fingerprintOf(state.shot.catalog)
  const name = `${frame} ${scale} ${shot.sources.map((source) => fingerprint(source, source.frames ? frame : null)).join()}`
  let plan = known.get(name)
  if (!plan) {
    plan = planFrame(shot, frame, scale, fingerprint)
    known.set(name, plan)
  }
  return shownOf(plan, shown, state.shot.selected)
}

/** Size of the picture as it is made. */
export const selectPictureSize = createSelector(
  [selectDocument, (state: RootState) => state.view.scale],
  (shot, scale) =>
    shot && { width: Math.ceil(shot.frameSize.width / scale), height: Math.ceil(shot.frameSize.height / scale) },
)

export const selectViewSettings = createSelector(
  [(state: RootState) => state.view.exposure, (state: RootState) => state.view.channel],
  (exposure, channel): ViewSettings => ({ exposure: 2 ** exposure, channel, encoding: 'srgb' }),
)

/** How many frames on either side are made ready while nothing else is wanted. */
const neighbours = 4

/** The frames whose pictures will be wanted next: while playing all that follow, else this one and its neighbours. */
export function framesAhead({ shot: { shot }, view: { frame, playing } }: RootState): number[] {
  if (!shot) return []
  const { first, last } = shot.frames
  const count = last - first + 1
  if (playing) return Array.from({ length: count }, (_, i) => first + ((frame - first + i) % count))
  const offsets = Array.from({ length: neighbours }, (_, i) => [i + 1, -i - 1]).flat()
  return [0, ...offsets].map((offset) => frame + offset).filter((n) => n >= first && n <= last)
}

/** Frames whose plate exists, for the tally. */
export const selectReadyFrames = createSelector(
  [selectDocument, selectCatalog],
  (shot, catalog): ReadonlySet<number> => {
    const plate = shot?.elements[0].source
    return new Set(Object.keys((plate !== undefined && catalog[plate]) || {}).map(Number))
  },
)
