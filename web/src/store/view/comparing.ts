/** What the picture is compared with, and how. */

import { createSlice } from '@reduxjs/toolkit'
import { viewChanged, viewOpened } from './changed'
import type { Point } from './framing'

/** What the picture is compared with. */
export type Other =
  | { readonly kind: 'plate' | 'element' | 'untreated' }
  | { readonly kind: 'frame'; readonly frame: number }
  /** the selected element without one of its treatments */
  | { readonly kind: 'without'; readonly use: string }
  /** a kept try of the shot */
  | { readonly kind: 'try'; readonly id: string }

export type How =
  | { readonly way: 'not' }
  /** on the right of the line as it was drawn the other is seen; full-scale pixels */
  | { readonly way: 'split'; readonly from: Point; readonly to: Point }
  | { readonly way: 'difference'; readonly gain: number }

export interface ComparingState {
  readonly other: Other
  readonly how: How
  /** the pointer's neighbourhood enlarged, picture and other side by side */
  readonly loupe: boolean
}

const initialState: ComparingState = { other: { kind: 'plate' }, how: { way: 'not' }, loupe: false }

export const comparingReducer = createSlice({
  name: 'comparing',
  initialState,
  reducers: {},
  extraReducers: (of) =>
    of
      .addCase(viewOpened, () => initialState)
      .addCase(viewChanged, (state, { payload }) => ({ ...(state as ComparingState), ...payload.comparing })),
}).reducer
