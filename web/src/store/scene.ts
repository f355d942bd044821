/** The scene of the camera file whose card is open: which camera sees it, and which of its points are chosen. */

import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import { shotActions } from './shot-slice'

export interface SceneState {
  /** by its place in the file */
  readonly camera: number
  /** points, by their places in the file */
  readonly chosen: readonly number[]
}

const initialState: SceneState = { camera: 0, chosen: [] }

const slice = createSlice({
  name: 'scene',
  initialState,
  reducers: {
    cameraChosen: (_state, { payload }: PayloadAction<number>): SceneState => ({ camera: payload, chosen: [] }),
    pointTurned: (state, { payload }: PayloadAction<number>): SceneState => ({
      ...state,
      chosen: state.chosen.includes(payload)
        ? state.chosen.filter((one) => one !== payload)
        : [...state.chosen, payload],
    }),
    cleared: (state): SceneState => ({ ...state, chosen: [] }),
  },
  extraReducers: (of) =>
    of
      .addCase(shotActions.opened, () => initialState)
      .addCase(shotActions.closed, () => initialState)
      .addCase(shotActions.sourceSelected, () => initialState),
})

export const sceneActions = slice.actions
export const sceneReducer = slice.reducer
