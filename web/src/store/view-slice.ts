/** How the shot is being looked at. Nothing here is ever in the data. */

import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import { plainLook, type Looking } from '../../../core/look/looking'
import type { ScopeKind } from '../../../core/measure/scopes'
import type { Scale } from '../../../core/graph/steps'
import type { Node } from '../../../core/plan/node'

/**
 * What fills the picture: everything, the plate as it came, the selected element alone, everything but with the selected
 * element untreated, what the picture is compared with, or something on the way to it (`node`).
 */
export type Shown = 'composite' | 'plate' | 'element' | 'untreated' | 'other' | 'node'

/** What the picture is compared with. */
export type Other =
  | { readonly kind: 'plate' | 'element' | 'untreated' }
  | { readonly kind: 'frame'; readonly frame: number }
  /** the selected element without one of its treatments */
  | { readonly kind: 'without'; readonly use: string }
  /** a kept try of the shot */
  | { readonly kind: 'try'; readonly id: string }

export interface Point {
  readonly x: number
  readonly y: number
}

export type Comparing =
  | { readonly way: 'not' }
  /** on the right of the line as it was drawn the other is seen; full-scale pixels */
  | { readonly way: 'split'; readonly from: Point; readonly to: Point }
  | { readonly way: 'difference'; readonly gain: number }

/** What is drawn under the picture, or over it. */
export type Scope = 'none' | ScopeKind

/** A place or region whose values are kept in sight; full-scale pixels. */
export interface Sample {
  readonly id: number
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

/** In which values are printed. */
export type Units = 'light' | 'code' | 'view'

export interface ViewState extends Looking {
  readonly frame: number
  readonly scale: Scale
  readonly shown: Shown
  /** what is shown by itself, when `shown` says so */
  readonly node: Node | null
  /** screen pixels per picture pixel; null fits the picture into its place */
  readonly zoom: number | null
  /** picture point in the middle of its place, full-scale pixels; only with a zoom */
  readonly centre: { readonly x: number; readonly y: number }
  readonly pointer: { readonly x: number; readonly y: number } | null
  readonly samples: readonly Sample[]
  readonly units: Units
  readonly other: Other
  readonly comparing: Comparing
  /** the pointer's neighbourhood enlarged, picture and other side by side */
  readonly loupe: boolean
  readonly scope: Scope
  readonly board: boolean
  /** source of a table that the picture is seen through; never in the data */
  readonly table: string | null
  readonly shortcutsOpen: boolean
  readonly alone: boolean
  readonly playing: boolean
  /** frames that are played round and round; null: all */
  readonly playRange: { readonly first: number; readonly last: number } | null
  /** only every so-manieth frame is played */
  readonly every: 1 | 2 | 4
  /** frames shown and left out since playing began; null when it never did */
  readonly played: { readonly shown: number; readonly dropped: number } | null
}

const initialState: ViewState = {
  frame: 0,
  scale: 1,
  ...plainLook,
  shown: 'composite',
  node: null,
  zoom: null,
  centre: { x: 0, y: 0 },
  pointer: null,
  samples: [],
  units: 'light',
  other: { kind: 'plate' },
  comparing: { way: 'not' },
  loupe: false,
  scope: 'none',
  board: false,
  table: null,
  shortcutsOpen: false,
  alone: false,
  playing: false,
  playRange: null,
  every: 1,
  played: null,
}

const mostSamples = 4

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
    sampleKept: (draftState, { payload }: PayloadAction<Omit<Sample, 'id'>>): ViewState => {
      const state = draftState as ViewState
      const free = [1, 2, 3, 4].find((id) => !state.samples.some((k) => k.id === id))
      if (free !== undefined) return { ...state, samples: [...state.samples, { id: free, ...payload }] }
      const [oldest, ...rest] = state.samples
      return { ...state, samples: [...rest, { id: oldest.id, ...payload }].slice(-mostSamples) }
    },
    sampleRemoved: (state, { payload }: PayloadAction<number>): ViewState => ({
      ...(state as ViewState),
      samples: state.samples.filter((k) => k.id !== payload) as Sample[],
    }),
  },
})

export const viewActions = slice.actions
export const viewReducer = slice.reducer
