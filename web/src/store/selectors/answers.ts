/** What the server found out about the shot, and does for it. */

import { createSelector } from '@reduxjs/toolkit'
import { checkShot, type Finding, type SourceReport } from '../../../../core/check'
import type { DeliveryStatus } from '../../../../core/delivery'
import type { WorkStatus } from '../../../../core/work'
import { serverCache } from '../../api/server-cache'
import type { RootState } from '../state'
import { selectDocument } from './document'

/** What was measured of the sources; null until it is asked for. */
export const selectReports = (state: RootState): readonly SourceReport[] | null =>
  (state.shot.id === null ? undefined : serverCache.endpoints.reports.select(state.shot.id)(state).data) ?? null

/** Sources are being measured. */
export const selectMeasuring = (state: RootState): boolean =>
  state.shot.id !== null && serverCache.endpoints.reports.select(state.shot.id)(state).isLoading

const noDeliveries: readonly DeliveryStatus[] = []

/** Newest first. */
export const selectDeliveries = (state: RootState): readonly DeliveryStatus[] =>
  (state.shot.id === null ? undefined : serverCache.endpoints.deliveries.select(state.shot.id)(state).data) ??
  noDeliveries

const noWork: readonly WorkStatus[] = []

/** Of this shot and of none: what is under way first, then newest first. */
export const selectWork = (state: RootState): readonly WorkStatus[] =>
  (state.shot.id === null ? undefined : serverCache.endpoints.work.select(state.shot.id)(state).data) ?? noWork

/** What the claims check finds in the document as it stands; null until the sources were measured. */
export const selectFindings = createSelector([selectDocument, selectReports], (shot, reports): Finding[] | null =>
  shot && reports ? checkShot(shot, reports) : null,
)
