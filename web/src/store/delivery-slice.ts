/** The shot's deliveries, newest first. */

import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import type { DeliveryStatus } from '../../../core/shot'

const slice = createSlice({
  name: 'deliveries',
  initialState: [] as DeliveryStatus[],
  reducers: {
    deliveriesRead: (_state, { payload }: PayloadAction<DeliveryStatus[]>) => payload,
    deliveryChanged: (state, { payload }: PayloadAction<DeliveryStatus>) => {
      const index = state.findIndex((one) => one.id === payload.id)
      if (index < 0) state.unshift(payload as (typeof state)[number])
      else state[index] = payload as (typeof state)[number]
    },
  },
})

export const deliveryActions = slice.actions
export const deliveryReducer = slice.reducer
