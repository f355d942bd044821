/** The shot's handoffs, newest first. */

import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import type { HandoffStatus } from '../../../core/shot'

const slice = createSlice({
  name: 'handoffs',
  initialState: [] as HandoffStatus[],
  reducers: {
    handoffsRead: (_state, { payload }: PayloadAction<HandoffStatus[]>) => payload,
    handoffChanged: (state, { payload }: PayloadAction<HandoffStatus>) => {
      const index = state.findIndex((one) => one.id === payload.id)
      if (index < 0) state.unshift(payload as (typeof state)[number])
      else state[index] = payload as (typeof state)[number]
    },
  },
})

export const handoffActions = slice.actions
export const handoffReducer = slice.reducer
