/** What the pointer does on the picture, and what of the screen is open. */

import { createSlice } from '@reduxjs/toolkit'
import { shotActions } from '../shot-slice'
import { viewChanged, viewOpened } from './changed'
import type { ScreenState } from './state'

const initialState: ScreenState = {
  tool: 'look',
  pictureOnly: false,
  shortcutsOpen: false,
  instead: null,
  gainFrom: null,
  folded: [],
  peek: false,
  tallyOpen: false,
  pinned: null,
  lines: null,
  linked: [],
}

const closed = (state: ScreenState): ScreenState => ({ ...state, instead: null })

export const screenReducer = createSlice({
  name: 'screen',
  initialState,
  reducers: {},
  extraReducers: (of) =>
    of
      .addCase(viewOpened, () => initialState)
      // What is selected has its card there.
      .addCase(shotActions.selected, closed)
      .addCase(shotActions.sourceSelected, closed)
      .addCase(shotActions.thingSelected, closed)
      .addCase(shotActions.elementsSelected, closed)
      .addCase(shotActions.shotWideSelected, closed)
      .addCase(viewChanged, (state, { payload }) => ({ ...(state as ScreenState), ...payload.screen })),
}).reducer
