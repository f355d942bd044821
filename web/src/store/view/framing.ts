/** At which scale the picture is made, where it lies on the screen, and which places of it are pointed at. */

import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import type { Scale } from '../../../../core/graph/steps'
import { viewChanged, viewOpened } from './changed'

export interface Point {
  readonly x: number
  readonly y: number
}

/** Full-scale pixels. */
export interface Region extends Point {
  readonly width: number
  readonly height: number
}

/** A place or region whose values are kept in sight. */
export interface Sample extends Region {
  readonly id: number
}

export interface FramingState {
  readonly scale: Scale
  /** screen pixels per picture pixel; null fits the picture into its place */
  readonly zoom: number | null
  /** picture point in the middle of its place, full-scale pixels; only with a zoom */
  readonly centre: Point
  /** the pixel under the pointer */
  readonly pointer: Point | null
  readonly samples: readonly Sample[]
}

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
