/** The mattes of the document, the one that is selected, and the shape of it that is worked on. */

import { createSelector } from '@reduxjs/toolkit'
import type { Scale, Step } from '../../../../core/graph/steps'
import { matteOf } from '../../../../core/plan/element'
import type { Problem } from '../../../../core/plan/problem'
import { find, inOrder, mattesOf, type Matte, type Shape, type ShapeNow, type Shot } from '../../../../core/shot'
import { planningOf } from '../plans'
import type { RootState } from '../state'
import { selectCatalog, selectDocument, selectSeenShot, selectShownShot } from './document'
import { selectFrame } from './picture'

const noMattes: readonly Matte[] = []

export const selectMattes = createSelector([selectShownShot], (shot) => (shot ? mattesOf(shot) : noMattes))
export const selectDrawnMattes = createSelector([selectMattes], (mattes) =>
  mattes.filter(({ kind }) => kind === 'drawn'),
)

export const selectMatteId = (state: RootState): string | null => {
  const { primary } = state.shot.selection
  return primary?.kind === 'matte' ? primary.id : null
}

export const selectMatte = createSelector(
  [selectShownShot, selectMatteId],
  (shot, id) => (shot && id !== null ? find(shot.mattes, id) : undefined) ?? null,
)

/** The shape that was chosen, else the first. */
export function shapeOf(matte: Matte | null, chosen: string | null): Shape | null {
  if (matte?.kind !== 'drawn') return null
  return (chosen === null ? undefined : find(matte.shapes, chosen)) ?? inOrder(matte.shapes).at(0) ?? null
}

const shapeNow = (shot: (state: RootState) => Shot | null) =>
  createSelector(
    [shot, selectMatteId, (state: RootState) => state.view.outlining.shape, selectFrame],
    (document, id, chosen, frame): ShapeNow | null => {
      const matte = document && id !== null ? find(document.mattes, id) : undefined
      const shape = shapeOf(matte ?? null, chosen)
      return document && matte?.kind === 'drawn' && shape ? { shot: document, matte, shape, frame } : null
    },
  )

/** The shape that is worked on, as it is drawn. */
export const selectShapeNow = shapeNow(selectShownShot)
/** The same in the document: edits begin there. */
export const selectShapeInDocument = shapeNow(selectDocument)

/** What the selected matte covers is looked at in fewer pixels, in fewer still while it is being changed. */
export const selectMarksScale = (state: RootState): Scale => (state.shot.draft ? 4 : 2)

/** The selected matte as a picture, for its marks, with what is in its way. */
const selectMatteMade = createSelector(
  [selectSeenShot, selectMatteId, selectFrame, selectMarksScale, selectCatalog],
  (shot, id, frame, scale, catalog) =>
    shot && id !== null ? matteOf(planningOf(shot, scale, catalog), id, frame) : null,
)

export const selectMatteStep = (state: RootState): Step | null => selectMatteMade(state)?.step ?? null

const noProblems: readonly Problem[] = []
export const selectMatteProblems = (state: RootState): readonly Problem[] =>
  selectMatteMade(state)?.problems ?? noProblems
