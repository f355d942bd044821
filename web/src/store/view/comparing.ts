/** What the picture is compared with, and how. */

import { createSlice } from '@reduxjs/toolkit'
import { viewChanged, viewOpened } from './changed'
import type { ComparingState } from './state'

const initialState: ComparingState = { other: { kind: 'plate' }, how: { way: 'not' }, loupe: false }

export const comparingReducer = createSlice({
  name: 'comparing',
  initialState,
  reducers: {},
  extraReducers: (of) =>
    of
      .addCase(viewOpened, () => initialState)
      .addCase(viewChanged, (state, { payload }) => ({ ...(state as ComparingState), ...payload.comparing })),
}).reducer
