/** The playhead, and how frames follow one another while it plays. */

import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import { viewChanged, viewOpened } from './changed'
import type { PlayingState } from './state'

const initialState: PlayingState = { frame: 0, playing: false, range: null, every: 1, played: null }

const slice = createSlice({
  name: 'playing',
  initialState,
  reducers: {
    playToggled: (draft): PlayingState => {
      const state = draft as PlayingState
      return state.playing
        ? { ...state, playing: false }
        : { ...state, playing: true, played: { shown: 0, dropped: 0 } }
    },
    /** time has passed: `frame` is shown now unless null, `dropped` frames were not */
    played: (draft, { payload }: PayloadAction<{ frame: number | null; dropped: number }>): PlayingState => {
      const state = draft as PlayingState
      const { shown, dropped } = state.played ?? { shown: 0, dropped: 0 }
      const { frame } = payload
      const played = { shown: shown + (frame === null ? 0 : 1), dropped: dropped + payload.dropped }
      return { ...state, frame: frame ?? state.frame, played }
    },
  },
  extraReducers: (of) =>
    of
      .addCase(viewOpened, (_state, { payload }) => ({ ...initialState, frame: payload }))
      .addCase(viewChanged, (state, { payload }) => ({ ...(state as PlayingState), ...payload.playing })),
})

export const { playToggled, played } = slice.actions
export const playingReducer = slice.reducer
