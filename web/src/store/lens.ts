/** The lens that is being measured: what was asked of the server, and what it found. Lines stand in the document; a chart's corners are found anew. */

import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import type { LensFromLines } from '../../../core/lens'
import type { LensOfChart } from '../api/client'
import { shotActions } from './shot-slice'

/** Lines are found or drawn on one picture: the plate (null) or another source, on one frame. */
interface OnPicture {
  readonly treatment: string
  readonly source: string | null
  readonly frame: number
}
export type WantedOfLens =
  | ({ readonly act: 'find' } & OnPicture)
  | ({ readonly act: 'draw'; readonly stroke: readonly number[] } & OnPicture)
  | ({ readonly act: 'chart'; readonly tangential: boolean } & OnPicture)
  | { readonly act: 'measure'; readonly treatment: string; readonly frame: number; readonly tangential: boolean }

export interface LensState {
  readonly wanted: WantedOfLens | null
  readonly problem: { readonly treatment: string; readonly sentence: string } | null
  /** what the last measurement found, and of which lines */
  readonly found: {
    readonly treatment: string
    readonly lines: readonly string[]
    readonly result: LensFromLines
  } | null
  /** the chart that it was measured from last, by which source */
  readonly chart: { readonly treatment: string; readonly source: string | null; readonly result: LensOfChart } | null
  /** the line that is pointed at on the card */
  readonly pointed: string | null
}

const initialState: LensState = { wanted: null, problem: null, found: null, chart: null, pointed: null }

const slice = createSlice({
  name: 'lens',
  initialState,
  reducers: {
    wanted: (state, { payload }: PayloadAction<WantedOfLens>): LensState => ({
      ...state,
      wanted: payload,
      problem: null,
    }),
    measured: (state, { payload }: PayloadAction<LensState['found']>): LensState => ({
      ...state,
      found: payload,
      chart: null,
    }),
    measuredOfChart: (state, { payload }: PayloadAction<LensState['chart']>): LensState => ({
      ...state,
      found: null,
      chart: payload,
    }),
    pointed: (state, { payload }: PayloadAction<string | null>): LensState => ({ ...state, pointed: payload }),
    ended: (state, { payload }: PayloadAction<LensState['problem']>): LensState => ({
      ...state,
      wanted: null,
      problem: payload,
    }),
  },
  extraReducers: (of) =>
    of.addCase(shotActions.opened, () => initialState).addCase(shotActions.closed, () => initialState),
})

export const lensActions = slice.actions
export const lensReducer = slice.reducer
