/** The tracks of the document, and the one that is selected. */

import { createSelector } from '@reduxjs/toolkit'
import { find, inOrder, type Track } from '../../../../core/shot'
import type { RootState } from '../state'
import { selectShownShot } from './document'

const noTracks: readonly Track[] = []

export const selectTracks = createSelector([(state: RootState) => selectShownShot(state)?.tracks], (tracks) =>
  tracks ? inOrder(tracks) : noTracks,
)

export const selectTrackId = (state: RootState): string | null => {
  const { primary } = state.shot.selection
  return primary?.kind === 'track' ? primary.id : null
}

export const selectTrack = createSelector(
  [selectShownShot, selectTrackId],
  (shot, id) => (shot && id !== null ? find(shot.tracks, id) : undefined) ?? null,
)
