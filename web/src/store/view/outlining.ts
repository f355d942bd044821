/** What of a drawn matte is being worked on: which shape and points, and what is being drawn anew. */

import { createSlice } from '@reduxjs/toolkit'
import { shotActions } from '../shot-slice'
import { viewChanged, viewOpened } from './changed'
import type { OutliningState } from './state'

const initialState: OutliningState = {
  shape: null,
  points: [],
  keyframes: 'this',
  reach: 0,
  neighbours: false,
  pressed: [],
  stroke: [],
  picked: null,
  brush: { radius: 20, hardness: 0.5, how: 'add', onlyHere: false },
  hatched: true,
  hidden: false,
}

export const outliningReducer = createSlice({
  name: 'outlining',
  initialState,
  reducers: {},
  extraReducers: (of) =>
    of
      .addCase(viewOpened, () => initialState)
      .addCase(shotActions.thingSelected, (state) => ({
        ...(state as OutliningState),
        ...{ shape: null, points: [], pressed: [], stroke: [], picked: null },
      }))
      .addCase(viewChanged, (state, { payload }) => {
        const next = { ...(state as OutliningState), ...payload.outlining }
        // What was begun with the tool is let go with it.
        return payload.screen?.tool === undefined ? next : { ...next, pressed: [], stroke: [] }
      }),
}).reducer
