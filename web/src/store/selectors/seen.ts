/** How pictures are seen, and how their values are read. */

import { createSelector } from '@reduxjs/toolkit'
import { workingSpaces } from '../../../../core/colour'
import type { FrameStep, Step } from '../../../../core/graph/steps'
import {
  inspectionBoard,
  lookAt,
  readAsCodes,
  readAsLight,
  readAsShown,
  type AsRead,
  type BoardPicture,
  type Looked,
  type Looking,
} from '../../../../core/look/looking'
import { filesIn } from '../../../../core/plan/catalog'
import { tableStep } from '../../../../core/plan/source'
import { find, plateSource } from '../../../../core/shot'
import type { RootState } from '../state'
import type { Units } from '../view'
import { selectCatalog, selectDocument, selectWorkingSpace } from './document'
import { selectReadyFrames } from './frames'
import { remembered, selectFrame, selectOtherStep, selectScale, selectShownStep, stepShownAt } from './picture'

/** The same object while the way of looking is the same, whatever else of the view changes. */
export const selectLooking = createSelector(
  [
    (state: RootState) => state.view.looking.exposure,
    (state: RootState) => state.view.looking.gamma,
    (state: RootState) => state.view.looking.saturation,
    (state: RootState) => state.view.looking.crank,
    (state: RootState) => state.view.looking.channel,
    (state: RootState) => state.view.looking.screen,
    (state: RootState) => state.view.looking.marks,
  ],
  (exposure, gamma, saturation, crank, channel, screen, marks): Looking => ({
    exposure,
    gamma,
    saturation,
    crank,
    channel,
    screen,
    marks,
  }),
)

/** The table that the picture is seen through; the same object while it is the same. */
const selectViewTable = createSelector(
  [selectDocument, selectCatalog, (state: RootState) => state.view.looking.table],
  (shot, catalog, id): FrameStep | null => {
    const source = shot && id !== null ? find(shot.sources, id) : undefined
    return shot && source ? tableStep(shot, source, filesIn(catalog)) : null
  },
)

const lookedAt = (picture: Step | null, state: RootState): Looked | null =>
  picture && lookAt(picture, selectLooking(state), selectWorkingSpace(state), selectViewTable(state))

export const selectLooked = remembered(
  (state) => lookedAt(selectShownStep(state), state),
  [selectLooking, selectViewTable],
)

export const selectOtherLooked = remembered(
  (state) => lookedAt(selectOtherStep(state), state),
  [selectLooking, selectViewTable],
)

/** What would fill the picture at another frame, as it is being looked at now; null where nothing can be planned. */
export function lookedAtFrame(state: RootState, frame: number): Looked | null {
  return selectReadyFrames(state).has(frame) ? lookedAt(stepShownAt(state, frame, selectScale(state)), state) : null
}

/** How values are read in each of the units; the same while the way of looking is the same. */
const selectReadings = createSelector(
  [selectDocument, selectLooking, selectViewTable],
  (shot, looking, table): Readonly<Record<Units, AsRead>> => {
    const working = workingSpaces[shot?.workingSpace ?? 'linear-rec709']
    const plate = shot && plateSource(shot)
    return {
      light: readAsLight,
      code: plate ? readAsCodes(plate.claims.encoding, plate.claims.primaries, working) : readAsLight,
      view: readAsShown(looking, working, table),
    }
  },
)

export const selectAsRead = (state: RootState, units: Units): AsRead => selectReadings(state)[units]

/** The board's pictures are small. */
export const boardScale = 4

export const selectBoard = remembered(
  (state): BoardPicture[] | null => {
    const picture = stepShownAt(state, selectFrame(state), boardScale)
    return picture && inspectionBoard(picture, selectLooking(state), selectWorkingSpace(state))
  },
  [selectLooking],
)
