/** What the pointer does on the picture, and what of the screen is open. */

import { createSlice } from '@reduxjs/toolkit'
import { viewChanged, viewOpened } from './changed'
import type { ScreenState } from './state'

const initialState: ScreenState = { tool: 'look', pictureOnly: false, shortcutsOpen: false }

export const screenReducer = createSlice({
  name: 'screen',
  initialState,
  reducers: {},
  extraReducers: (of) =>
    of
      .addCase(viewOpened, () => initialState)
      .addCase(viewChanged, (state, { payload }) => ({ ...(state as ScreenState), ...payload.screen })),
}).reducer
