/** The samples of the document, where they lie on the frame that is looked at. */

import { createSelector } from '@reduxjs/toolkit'
import { inOrder } from '../../../../core/shot'
import type { RootState } from '../state'
import type { Region } from '../view'
import { selectShownShot } from './document'

export interface PlacedSample extends Region {
  readonly id: string
  readonly name: string
  /** the element that it moves along with */
  readonly follows: string | null
}

const noSamples: readonly PlacedSample[] = []

export const selectSamples = createSelector(
  [(state: RootState) => selectShownShot(state)?.samples, (state: RootState) => state.view.framing.followed],
  (samples, followed): readonly PlacedSample[] =>
    samples === undefined || Object.keys(samples.byId).length === 0
      ? noSamples
      : inOrder(samples).map(({ id, name, x, y, width, height, follows }) => {
          const by = follows ? followed[id] : undefined
          return {
            ...{ id, name, width, height },
            x: x + Math.round(by?.x ?? 0),
            y: y + Math.round(by?.y ?? 0),
            follows: follows?.element ?? null,
          }
        }),
)

/** Regions, which a scope can show alone. */
export const selectRegions = createSelector([selectSamples], (samples) =>
  samples.filter(({ width, height }) => width > 1 || height > 1),
)

/** What the scope shows; null: the whole picture. */
export const selectScopedRegion = createSelector(
  [selectRegions, (state: RootState) => state.view.framing.scoped],
  (regions, id) => regions.find((one) => one.id === id) ?? null,
)
