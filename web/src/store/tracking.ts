/** What is being tracked: the pictures are read where the engine is, the positions go into the document as one edit. */

import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import type { TrackingWay } from '../../../core/shot'
import { shotActions } from './shot-slice'

/** `around`: as far as the frames that were set by hand on either side, after a place was corrected. */
export interface WantedTracking {
  readonly track: string
  readonly frame: number
  readonly way: TrackingWay | 'around'
}

export interface TrackingState {
  readonly wanted: WantedTracking | null
  /** frames found so far */
  readonly found: number
  /** why the last tracking could not begin, or broke off */
  readonly problem: { readonly track: string; readonly sentence: string } | null
}

const initialState: TrackingState = { wanted: null, found: 0, problem: null }

const slice = createSlice({
  name: 'tracking',
  initialState,
  reducers: {
    wanted: (_state, { payload }: PayloadAction<WantedTracking>): TrackingState => ({
      wanted: payload,
      found: 0,
      problem: null,
    }),
    found: (state, { payload }: PayloadAction<number>): TrackingState => ({ ...state, found: payload }),
    ended: (state, { payload }: PayloadAction<TrackingState['problem']>): TrackingState => ({
      ...state,
      wanted: null,
      problem: payload,
    }),
  },
  extraReducers: (of) =>
    of
      .addCase(shotActions.opened, () => initialState)
      .addCase(shotActions.closed, () => initialState)
      // A place that was set by hand is where its neighbours are found from.
      .addCase(shotActions.edited, (state, { payload }): TrackingState => {
        if (payload.kind !== 'set-track-points') return state
        const byHand = Object.entries(payload.points).filter(([, point]) => point && 'byHand' in point)
        if (byHand.length !== 1) return state
        const frame = Number(byHand[0][0])
        return { wanted: { track: payload.track, frame, way: 'around' }, found: 0, problem: null }
      }),
})

export const trackingActions = slice.actions
export const trackingReducer = slice.reducer
