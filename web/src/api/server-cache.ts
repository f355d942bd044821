/** What the server knows besides the document: one cache, kept fresh by the shot's event stream. */

import { createApi, fakeBaseQuery } from '@reduxjs/toolkit/query/react'
import type { SourceReport } from '../../../core/check'
import type { DeliveryStatus } from '../../../core/delivery'
import type { ComputedElement, MakingState, WorkStatus } from '../../../core/work'
import type { ShotMatching, ShotReadings } from '../../../core/witnesses'
import type { SolvedScene } from '../../../core/shot'
import {
  listComputed,
  listDeliveries,
  listShots,
  listWork,
  loadMaking,
  loadMatching,
  loadReadings,
  loadReports,
  loadSolvedScene,
  type ShotSummary,
} from './client'

const sentence = (error: unknown) => ({ error: error instanceof Error ? error.message : String(error) })

export const serverCache = createApi({
  reducerPath: 'server',
  baseQuery: fakeBaseQuery<string>(),
  endpoints: (build) => ({
    /** newest first */
    deliveries: build.query<DeliveryStatus[], string>({
      queryFn: (shot) => listDeliveries(shot).then((data) => ({ data }), sentence),
    }),
    /** all that the list of shots knows */
    shots: build.query<ShotSummary[], void>({
      queryFn: () => listShots().then(({ shots }) => ({ data: shots }), sentence),
    }),
    /** what is under way first, then newest first */
    work: build.query<WorkStatus[], string>({
      queryFn: (shot) => listWork(shot).then((data) => ({ data }), sentence),
    }),
    /** elements that are kept computed */
    computed: build.query<ComputedElement[], string>({
      queryFn: (shot) => listComputed(shot).then((data) => ({ data }), sentence),
    }),
    /** what the witnesses read on every frame */
    readings: build.query<ShotReadings, string>({
      queryFn: (shot) => loadReadings(shot).then((data) => ({ data }), sentence),
    }),
    /** how the making of sources stands */
    making: build.query<MakingState[], string>({
      queryFn: (shot) => loadMaking(shot).then((data) => ({ data }), sentence),
    }),
    /** what was found when the shot was matched */
    matching: build.query<ShotMatching, string>({
      queryFn: (shot) => loadMatching(shot).then((data) => ({ data }), sentence),
    }),
    /** what a camera file says of the shot's frames; `of` is what it depends on besides the source */
    scene: build.query<SolvedScene, { readonly shot: string; readonly source: string; readonly of: string }>({
      queryFn: ({ shot, source }) => loadSolvedScene(shot, source).then((data) => ({ data }), sentence),
    }),
    /** what was measured of the shot's sources */
    reports: build.query<SourceReport[], string>({
      queryFn: (shot) => loadReports(shot).then((data) => ({ data }), sentence),
    }),
  }),
})

/** A delivery that is new, or goes on. */
export function deliveryChanged(shot: string, delivery: DeliveryStatus) {
  return serverCache.util.updateQueryData('deliveries', shot, (known) => {
    const index = known.findIndex(({ id }) => id === delivery.id)
    if (index < 0) known.unshift(delivery as never)
    else known[index] = delivery as never
  })
}

/** Work that is new, or goes on. */
export function workChanged(shot: string, work: WorkStatus) {
  return serverCache.util.updateQueryData('work', shot, (known) => {
    const index = known.findIndex(({ id }) => id === work.id)
    if (index < 0) known.unshift(work as never)
    else known[index] = work as never
  })
}
