/** What fills the picture, and how it is seen. */

import { createSlice } from '@reduxjs/toolkit'
import { plainLook, type Looking } from '../../../../core/look/looking'
import type { ScopeKind } from '../../../../core/measure/scopes'
import type { Node } from '../../../../core/plan/node'
import { viewChanged, viewOpened } from './changed'

/**
 * What fills the picture: everything, the plate as it came, the selected element by itself, everything but with the selected
 * element untreated, what the picture is compared with, or something on the way to it (`node`).
 */
export type Shown = 'composite' | 'plate' | 'element' | 'untreated' | 'other' | 'node'

/** What is drawn under the picture, or over it. */
export type Scope = 'none' | ScopeKind

/** In which values are printed. */
export type Units = 'light' | 'code' | 'view'

export interface LookingState extends Looking {
  readonly shown: Shown
  /** what is shown by itself, when `shown` says so */
  readonly node: Node | null
  /** source of a table that the picture is seen through; never in the data */
  readonly table: string | null
  readonly units: Units
  readonly scope: Scope
  /** the inspection board covers the picture */
  readonly board: boolean
}

const initialState: LookingState = {
  ...plainLook,
  shown: 'composite',
  node: null,
  table: null,
  units: 'light',
  scope: 'none',
  board: false,
}

export const lookingReducer = createSlice({
  name: 'looking',
  initialState,
  reducers: {},
  extraReducers: (of) =>
    of
      .addCase(viewOpened, () => initialState)
      .addCase(viewChanged, (state, { payload }) => ({ ...(state as LookingState), ...payload.looking })),
}).reducer
