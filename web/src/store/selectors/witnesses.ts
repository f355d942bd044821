/** Witnesses, what they read now, and whether they agree. */

import { createSelector } from '@reduxjs/toolkit'
import { judged, type Judged } from '../../../../core/match'
import { find, inOrder, type Witness } from '../../../../core/shot'
import type { RootState } from '../state'
import { selectShownShot } from './document'

const none: readonly Witness[] = []

export const selectWitnesses = createSelector(
  [(state: RootState) => selectShownShot(state)?.witnesses],
  (witnesses): readonly Witness[] => (witnesses ? inOrder(witnesses) : none),
)

export const selectWitness = createSelector(
  [(state: RootState) => selectShownShot(state)?.witnesses, (state: RootState) => state.shot.selection.primary],
  (witnesses, primary) => (witnesses && primary?.kind === 'witness' ? find(witnesses, primary.id) : undefined) ?? null,
)

/** By id; of those that were read on the frame that is looked at. */
export const selectVerdicts = createSelector(
  [selectWitnesses, (state: RootState) => state.readings, (state: RootState) => state.view.playing.frame],
  (witnesses, readings, frame): ReadonlyMap<string, Judged> =>
    new Map(
      witnesses.flatMap((witness) => {
        const read = readings[witness.id]
        return read?.frame === frame ? [[witness.id, judged(witness, read.reference, read.adjusted)] as const] : []
      }),
    ),
)
