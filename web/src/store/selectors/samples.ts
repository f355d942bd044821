/** The samples of the document, where they lie on the frame that is looked at. */

import { createSelector } from '@reduxjs/toolkit'
import { find, inOrder, trackAt, type Followed, type Table, type Track } from '../../../../core/shot'
import type { RootState } from '../state'
import type { Point, Region } from '../view'
import { selectShownShot } from './document'

export interface PlacedSample extends Region {
  readonly id: string
  readonly name: string
  /** what it moves along with */
  readonly follows: Followed | null
}

const noSamples: readonly PlacedSample[] = []

export const selectSamples = createSelector(
  [
    (state: RootState) => selectShownShot(state)?.samples,
    (state: RootState) => selectShownShot(state)?.tracks,
    (state: RootState) => state.view.framing.followed,
    (state: RootState) => state.view.playing.frame,
  ],
  (samples, tracks, followed, frame): readonly PlacedSample[] =>
    samples === undefined || tracks === undefined || Object.keys(samples.byId).length === 0
      ? noSamples
      : inOrder(samples).map((sample) => {
          const { id, name, x, y, width, height, follows = null } = sample
          const by: Point | undefined =
            follows?.track === undefined ? followed[id] : movedWith(tracks, follows.track, follows.frame, frame)
          return {
            ...{ id, name, width, height, follows },
            x: x + Math.round(by?.x ?? 0),
            y: y + Math.round(by?.y ?? 0),
          }
        }),
)

/** How far a track has moved between two frames; nowhere where it is gone. */
function movedWith(tracks: Table<Track>, id: string, from: number, to: number): Point {
  const track = find(tracks, id)
  if (!track) return { x: 0, y: 0 }
  const [now, then] = [to, from].map((time) => trackAt(track, time))
  return { x: now[0] - then[0], y: now[1] - then[1] }
}

/** Regions, which a scope can show alone. */
export const selectRegions = createSelector([selectSamples], (samples) =>
  samples.filter(({ width, height }) => width > 1 || height > 1),
)

/** What the scope shows; null: the whole picture. */
export const selectScopedRegion = createSelector(
  [selectRegions, (state: RootState) => state.view.framing.scoped],
  (regions, id) => regions.find((one) => one.id === id) ?? null,
)
