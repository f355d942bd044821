/** Where on the plate elements pass, as it was last looked for: for one matte, over the frames of the shot. */

import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import type { Passing } from '../../../core/measure/swept-area'
import { shotActions } from './shot-slice'

export interface SweepState {
  /** the matte that it is looked for; null: it is not looked at */
  readonly matte: string | null
  /** frames that have been looked at */
  readonly done: number
  /** the frame's edges of what is passed over, as closed rings in full-scale pixels */
  readonly rings: readonly (readonly (readonly [number, number])[])[]
  readonly passings: readonly Passing[]
  readonly problem: string | null
}

const initialState: SweepState = { matte: null, done: 0, rings: [], passings: [], problem: null }

const slice = createSlice({
  name: 'sweep',
  initialState,
  reducers: {
    wanted: (_state, { payload }: PayloadAction<string | null>): SweepState => ({ ...initialState, matte: payload }),
    looked: (state, { payload }: PayloadAction<Partial<SweepState>>): SweepState =>
      state.matte === null ? (state as SweepState) : { ...(state as SweepState), ...payload },
  },
  extraReducers: (of) =>
    of
      .addCase(shotActions.opened, () => initialState)
      .addCase(shotActions.closed, () => initialState)
      // What is looked at belongs to the card that is open.
      .addCase(shotActions.thingSelected, () => initialState),
})

export const sweepActions = slice.actions
export const sweepReducer = slice.reducer
