/** Which frames there are, and which come next. */

import { createSelector } from '@reduxjs/toolkit'
import type { RootState } from '../state'
import { selectCatalog, selectPlateSource } from './document'

/** Frames whose plate exists, for the tally. */
export const selectReadyFrames = createSelector(
  [selectPlateSource, selectCatalog],
  (plate, catalog): ReadonlySet<number> => {
    const files = plate && Object.hasOwn(catalog, plate.id) ? catalog[plate.id] : {}
    const offset = plate?.offset ?? 0
    return new Set(Object.keys(files).map((number) => Number(number) + offset))
  },
)

/** The frames that are played, in order, beginning at the playhead. */
export function framesPlayed({ shot: { shot }, view }: RootState): number[] {
  if (!shot) return []
  const { frame, range, every } = view.playing
  const { first, last } = range ?? shot.frames
  const all = Array.from({ length: Math.floor((last - first) / every) + 1 }, (_, i) => first + i * every)
  const next = all.findIndex((n) => n >= frame)
  return next < 0 ? all : [...all.slice(next), ...all.slice(0, next)]
}

/** How many frames on either side are made ready while nothing else is wanted. */
const neighbours = 4

/** The frames whose pictures will be wanted next: while playing all that follow, else this one and its neighbours. */
export function framesAhead(state: RootState): number[] {
  const { shot } = state.shot
  const { frame, playing } = state.view.playing
  if (!shot) return []
  if (playing) return framesPlayed(state)
  const { first, last } = shot.frames
  const offsets = Array.from({ length: neighbours }, (_, i) => [i + 1, -i - 1]).flat()
  return [0, ...offsets].map((offset) => frame + offset).filter((n) => n >= first && n <= last)
}
