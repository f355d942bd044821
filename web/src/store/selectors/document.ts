/** The document, with what is being changed by hand applied, and what of it is selected. */

import { createSelector } from '@reduxjs/toolkit'
import { mediaKind } from '../../../../core/check'
import { workingSpaces } from '../../../../core/colour'
import { applyEdit, find, plateSource, sourcesByName, type Shot, type Source } from '../../../../core/shot'
import { withoutParked } from '../plans'
import type { Selected } from '../shot-slice'
import type { RootState } from '../state'

export const selectDocument = (state: RootState) => state.shot.shot

/** The document with the gesture under way applied; as it is where the gesture has become impossible. */
export const selectShownShot = createSelector(
  [selectDocument, (state: RootState) => state.shot.draft],
  (shot, draft): Shot | null => {
    if (!shot || !draft) return shot
    try {
      return applyEdit(shot, draft).shot
    } catch {
      return shot
    }
  },
)

const noUsesParked: readonly string[] = []

/** As it is seen: without the treatments that are parked. */
export const selectSeenShot = createSelector(
  [selectShownShot, (state: RootState) => state.view.looking.parked],
  (shot, parked): Shot | null => (shot && parked.length > 0 ? withoutParked(shot, parked) : shot),
)

/** Those of the parked treatments that are there and on. */
export const selectParked = createSelector(
  [(state: RootState) => selectShownShot(state)?.uses, (state: RootState) => state.view.looking.parked],
  (uses, parked) => (uses && parked.length > 0 ? parked.filter((id) => find(uses, id)?.on === true) : noUsesParked),
)

/** The element that is selected; while a source's card is open, the one that was selected before. */
export const selectElementId = (state: RootState): string | null => {
  const { primary, also } = state.shot.selection
  return [...(primary ? [primary] : []), ...also].find(({ kind }) => kind === 'element')?.id ?? null
}

/** What is drawn on the picture: a witness, a track or a matte, else the element that is selected, else whatever is. */
export const selectDrawn = createSelector(
  [selectElementId, (state: RootState) => state.shot.selection.primary],
  (element, primary): Selected | null =>
    element === null || primary?.kind === 'witness' || primary?.kind === 'track' || primary?.kind === 'matte'
      ? primary
      : { kind: 'element', id: element },
)

/** Every element that is selected, the one that was chosen last first. */
export const selectElementIds = createSelector([(state: RootState) => state.shot.selection], ({ primary, also }) =>
  [...(primary ? [primary] : []), ...also].filter(({ kind }) => kind === 'element').map(({ id }) => id),
)

export const selectSourceId = (state: RootState): string | null => {
  const { primary } = state.shot.selection
  return primary?.kind === 'source' ? primary.id : null
}

export const selectElement = createSelector(
  [selectShownShot, selectElementId],
  (shot, id) => (shot && id !== null ? find(shot.elements, id) : undefined) ?? null,
)

/** The element whose card is kept below the first. */
export const selectPinned = createSelector(
  [selectShownShot, (state: RootState) => state.view.screen.pinned],
  (shot, id) => (shot && id !== null ? find(shot.elements, id) : undefined) ?? null,
)

export const selectElementName = (state: RootState) => selectElement(state)?.name ?? null

export const selectSource = createSelector(
  [selectShownShot, selectSourceId],
  (shot, id) => (shot && id !== null ? find(shot.sources, id) : undefined) ?? null,
)

const noSources: readonly Source[] = []

export const selectSources = createSelector([(state: RootState) => selectDocument(state)?.sources], (sources) =>
  sources ? sourcesByName({ sources }) : noSources,
)

/** Sources that are colour tables. */
export const selectTables = createSelector([selectSources], (sources) =>
  sources.filter(({ path }) => mediaKind(path) === 'table'),
)

export const selectPlateSource = createSelector([selectDocument], (shot) => shot && (plateSource(shot) ?? null))

export const selectWorkingSpace = (state: RootState) =>
  workingSpaces[selectDocument(state)?.workingSpace ?? 'linear-rec709']

/** Which files there are. */
export const selectCatalog = (state: RootState) => state.shot.catalog
