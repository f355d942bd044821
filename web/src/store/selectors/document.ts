/** The document, with what is being changed by hand applied, and what of it is selected. */

import { createSelector } from '@reduxjs/toolkit'
import {
  applyEdit,
  cornersOfRegion,
  find,
  mediaKind,
  type Pin,
  pinRestingOn,
  plateSource,
  type Shot,
  type Source,
  sourcesByName,
} from '../../../../core/shot'
import { workingSpaces } from '../../../../core/colour'
import { heldStill } from '../../../../core/plan/held-still'
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

/** As it is seen: without the treatments that are parked, and held still where that is asked for. */
export const selectSeenShot = createSelector(
  [selectShownShot, (state: RootState) => state.view.looking.parked, (state: RootState) => selectHeld(state)],
  (shot, parked, held): Shot | null => {
    const left = shot && parked.length > 0 ? withoutParked(shot, parked) : shot
    return left && held ? heldStill(left, held) : left
  },
)

/** What the picture is held still on: those of the tracks that are still there, if they tell enough. */
export const selectHeld = createSelector(
  [(state: RootState) => selectDocument(state)?.tracks, (state: RootState) => state.view.framing.held],
  (tracks, held): Pin | null => (tracks && held?.tracks.every((id) => find(tracks, id)) === true ? held : null),
)

/**
 * What the picture would be held still on: the selected track or its region, else what the selected matte or element moves with, as it is on
 * the frame that is looked at.
 */
export const selectHolding = createSelector(
  [selectDocument, (state: RootState) => state.shot.selection.primary, (state: RootState) => state.view.playing.frame],
  (shot, primary, frame): Pin | null => {
    if (!shot || !primary) return null
    const on = (pin: Pin | undefined) => (pin ? pinRestingOn(shot, pin, frame) : null)
    if (primary.kind === 'track') {
      const track = find(shot.tracks, primary.id)
      const corners = track?.region && cornersOfRegion(shot, track.region.id)
      if (corners) return on({ tracks: corners.map(({ id }) => id), frame, by: 'homography' })
      return track ? on({ tracks: [track.id], frame, by: 'position' }) : null
    }
    return on(primary.kind === 'matte' ? pinOfMatte(shot, primary.id) : find(shot.elements, primary.id)?.placing?.pin)
  },
)

function pinOfMatte(shot: Shot, id: string): Pin | undefined {
  const matte = find(shot.mattes, id)
  const pin = matte && 'pin' in matte ? matte.pin : undefined
  return pin && 'tracks' in pin ? pin : undefined
}

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
