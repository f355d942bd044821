/** How the shot is being looked at. Nothing here is ever in the data. */

import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import type { ChannelView } from '../../../core/kernels/kernels'
import type { Scale } from '../../../core/graph/steps'

/** What fills the picture: everything, the plate as it came, or the selected element alone. */
export type Shown = 'composite' | 'plate' | 'element'

export interface KeptReading {
  readonly id: number
  /** full-scale pixel */
  readonly x: number
  readonly y: number
}

export interface ViewState {
  readonly frame: number
  readonly scale: Scale
  /** stops */
  readonly exposure: number
  readonly channel: ChannelView
  readonly shown: Shown
  /** screen pixels per picture pixel; null fits the picture into its place */
  readonly zoom: number | null
  /** picture point in the middle of its place, full-scale pixels; only with a zoom */
  readonly centre: { readonly x: number; readonly y: number }
  readonly pointer: { readonly x: number; readonly y: number } | null
  readonly kept: readonly KeptReading[]
  readonly alone: boolean
  readonly playing: boolean
  /** frames shown and left out since playing began; null when it never did */
  readonly played: { readonly shown: number; readonly dropped: number } | null
}

const initialState: ViewState = {
  frame: 0,
  scale: 1,
  exposure: 0,
  channel: 'all',
  shown: 'composite',
  zoom: null,
  centre: { x: 0, y: 0 },
  pointer: null,
  kept: [],
  alone: false,
  playing: false,
  played: null,
}

const mostKept = 4

const slice = createSlice({
  name: 'view',
  initialState,
  reducers: {
    viewOpened: (_state, { payload }: PayloadAction<number>): ViewState => ({ ...initialState, frame: payload }),
    viewChanged: (state, { payload }: PayloadAction<Partial<ViewState>>): ViewState => ({
      ...(state as ViewState),
      ...payload,
    }),
    playToggled: (draftState): ViewState => {
      const state = draftState as ViewState
      return state.playing
        ? { ...state, playing: false }
        : { ...state, playing: true, played: { shown: 0, dropped: 0 } }
    },
    /** time has passed: `frame` is shown now unless null, `dropped` frames were not */
    played: (draftState, { payload }: PayloadAction<{ frame: number | null; dropped: number }>): ViewState => {
      const state = draftState as ViewState
      const { shown, dropped } = state.played ?? { shown: 0, dropped: 0 }
      const { frame } = payload
      const played = { shown: shown + (frame === null ? 0 : 1), dropped: dropped + payload.dropped }
      return { ...state, frame: frame ?? state.frame, played }
    },
    readingKept: (draftState, { payload }: PayloadAction<{ x: number; y: number }>): ViewState => {
      const state = draftState as ViewState
      const free = [1, 2, 3, 4].find((id) => !state.kept.some((k) => k.id === id))
      if (free !== undefined) return { ...state, kept: [...state.kept, { id: free, ...payload }] }
      const [oldest, ...rest] = state.kept
      return { ...state, kept: [...rest, { id: oldest.id, ...payload }].slice(-mostKept) }
    },
    readingDropped: (state, { payload }: PayloadAction<number>): ViewState => ({
      ...(state as ViewState),
      kept: state.kept.filter((k) => k.id !== payload) as KeptReading[],
    }),
  },
})

export const viewActions = slice.actions
export const viewReducer = slice.reducer
