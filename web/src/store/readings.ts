/** What the witnesses read on the frame that is looked at. */

import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import type { SideReading } from '../../../core/match'
import { shotActions } from './shot-slice'

export interface ReadingNow {
  readonly frame: number
  /** null where there is nothing to read */
  readonly reference: SideReading | null
  readonly adjusted: SideReading | null
}

export type ReadingsState = Readonly<Record<string, ReadingNow>>

const slice = createSlice({
  name: 'readings',
  initialState: {} as ReadingsState,
  reducers: {
    /** of all witnesses, by id */
    readNow: (_state, { payload }: PayloadAction<ReadingsState>) => payload,
  },
  extraReducers: (builder) => void builder.addCase(shotActions.closed, () => ({})),
})

export const { readNow } = slice.actions
export const readingsReducer = slice.reducer
