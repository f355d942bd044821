/** At which scale the picture is made, where it lies on the screen, and which places of it are pointed at. */

import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import { viewChanged, viewOpened } from './changed'
import type { Region, FramingState } from './state'

const initialState: FramingState = { scale: 1, zoom: null, centre: { x: 0, y: 0 }, pointer: null, samples: [] }

const numbers = [1, 2, 3, 4]

const slice = createSlice({
  name: 'framing',
  initialState,
  reducers: {
    /** A fifth takes the place of the oldest. */
    sampleKept: (draft, { payload }: PayloadAction<Region>): FramingState => {
      const state = draft as FramingState
      const free = numbers.find((id) => !state.samples.some((one) => one.id === id))
      const [oldest, ...newer] = state.samples
      return free === undefined
        ? { ...state, samples: [...newer, { ...payload, id: oldest.id }] }
        : { ...state, samples: [...state.samples, { ...payload, id: free }] }
    },
    sampleRemoved: (draft, { payload }: PayloadAction<number>): FramingState => {
      const state = draft as FramingState
      return { ...state, samples: state.samples.filter(({ id }) => id !== payload) }
    },
  },
  extraReducers: (of) =>
    of
      .addCase(viewOpened, () => initialState)
      .addCase(viewChanged, (state, { payload }) => ({ ...(state as FramingState), ...payload.framing })),
})

export const { sampleKept, sampleRemoved } = slice.actions
export const framingReducer = slice.reducer
