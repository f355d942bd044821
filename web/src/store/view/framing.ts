/** At which scale the picture is made, where it lies on the screen, and which part of it counts. */

import { createSlice } from '@reduxjs/toolkit'
import { shotActions } from '../shot-slice'
import { viewChanged, viewOpened } from './changed'
import type { FramingState } from './state'

const initialState: FramingState = {
  scale: 1,
  zoom: null,
  centre: { x: 0, y: 0 },
  pointer: null,
  followed: {},
  scoped: null,
  area: null,
  held: null,
  dragging: null,
}

export const framingReducer = createSlice({
  name: 'framing',
  initialState,
  reducers: {},
  extraReducers: (of) =>
    of
      .addCase(viewOpened, () => initialState)
      // The scope shows the region that was drawn last.
      .addCase(shotActions.edited, (draft, { payload }) => {
        const state = draft as FramingState
        const isRegion = payload.kind === 'keep-sample' && (payload.sample.width > 1 || payload.sample.height > 1)
        return isRegion ? { ...state, scoped: payload.sample.id } : state
      })
      .addCase(viewChanged, (state, { payload }) => ({ ...(state as FramingState), ...payload.framing })),
}).reducer
