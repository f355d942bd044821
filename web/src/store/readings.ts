/** What the witnesses read on the frame that is looked at, and by what a reading of any frame is known to be of today. */

import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import type { WitnessReading } from '../../../core/witnesses'
import { shotActions } from './shot-slice'

export interface ReadingNow extends WitnessReading {
  readonly frame: number
}

type ByWitness<T> = Readonly<Record<string, T>>

export interface ReadingsState {
  readonly now: ByWitness<ReadingNow>
  /** keys that readings of the document as it is would have, by frame; those of a frame are absent until they are known */
  readonly keys: Readonly<Record<string, ByWitness<string>>>
  /** likewise of what the checks measure, by frame */
  readonly factKeys: Readonly<Record<string, string>>
}

const slice = createSlice({
  name: 'readings',
  initialState: { now: {}, keys: {}, factKeys: {} } as ReadingsState,
  reducers: {
    /** of all witnesses */
    readNow: (state, { payload }: PayloadAction<ReadingsState['now']>) => ({
      ...(state as ReadingsState),
      now: payload,
    }),
    /** of some frames */
    keysKnown: (state, { payload }: PayloadAction<Pick<ReadingsState, 'keys' | 'factKeys'>>) => {
      const { now, keys, factKeys } = state as ReadingsState
      return { now, keys: { ...keys, ...payload.keys }, factKeys: { ...factKeys, ...payload.factKeys } }
    },
  },
  extraReducers: (builder) => void builder.addCase(shotActions.closed, () => ({ now: {}, keys: {}, factKeys: {} })),
})

export const { readNow, keysKnown } = slice.actions
export const readingsReducer = slice.reducer
