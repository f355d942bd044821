/** What fills the picture, and how it is seen. */

import { createSlice } from '@reduxjs/toolkit'
import { plainLook } from '../../../../core/look/looking'
import { viewChanged, viewOpened } from './changed'
import type { LookingState } from './state'

const initialState: LookingState = {
  ...plainLook,
  ghost: 0,
  shown: 'composite',
  node: null,
  table: null,
  units: 'light',
  scope: 'none',
  parked: [],
  board: false,
}

export const lookingReducer = createSlice({
  name: 'looking',
  initialState,
  reducers: {},
  extraReducers: (of) =>
    of
      .addCase(viewOpened, () => initialState)
      .addCase(viewChanged, (state, { payload }) => ({ ...(state as LookingState), ...payload.looking })),
}).reducer
