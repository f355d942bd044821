/** How the shot is being looked at: a slice for each of looking, framing, comparing and playing, and one for the screen itself. */

import { combineReducers } from '@reduxjs/toolkit'
import { comparingReducer } from './comparing'
import { framingReducer } from './framing'
import { lookingReducer } from './looking'
import { playingReducer } from './playing'
import { screenReducer } from './screen'

export { viewChanged, viewOpened, type ViewChanges, type ViewState } from './changed'
export type { How, Other } from './comparing'
export { sampleKept, sampleRemoved, type Point, type Region, type Sample } from './framing'
export type { Scope, Shown, Units } from './looking'
export { played, playToggled } from './playing'
export type { ToolName } from './screen'

export const viewReducer = combineReducers({
  looking: lookingReducer,
  framing: framingReducer,
  comparing: comparingReducer,
  playing: playingReducer,
  screen: screenReducer,
})
