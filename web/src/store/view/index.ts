/** How the shot is being looked at: a slice for each of looking, framing, comparing and playing, and one for the screen itself. */

import { combineReducers } from '@reduxjs/toolkit'
import { comparingReducer } from './comparing'
import { framingReducer } from './framing'
import { lookingReducer } from './looking'
import { outliningReducer } from './outlining'
import { playingReducer } from './playing'
import { screenReducer } from './screen'

export { viewChanged, viewOpened, type ViewChanges } from './changed'
export { played, playToggled } from './playing'
export type { How, Other, Point, Region, Scope, Shown, ToolName, Units, ViewState } from './state'

export const viewReducer = combineReducers({
  looking: lookingReducer,
  framing: framingReducer,
  comparing: comparingReducer,
  playing: playingReducer,
  screen: screenReducer,
  outlining: outliningReducer,
})
