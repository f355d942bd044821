/** The shot on screen: its document, what is selected, what can be undone, and how saving stands. */

import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import type { SourceReport } from '../../../core/check'
import { applyEdit, describeEdit, type Edit, type Patch, type Shot } from '../../../core/shot'
import type { Catalog } from '../../../core/plan/catalog'
import type { LoadedShot } from '../api/client'

/** One step of undo: how to take the change back, how to make it again. */
export interface Change {
  readonly label: string
  readonly patches: readonly Patch[]
  readonly inverse: readonly Patch[]
}

export type Saving = 'saved' | 'saving' | 'unreachable'

export interface ShotState {
  readonly shot: Shot | null
  /** the server's newest known revision */
  readonly revision: number
  readonly catalog: Catalog
  /** an element */
  readonly selected: string | null
  /** its card is open instead of the element's */
  readonly selectedSource: string | null
  /** what was measured of the sources; null until it is asked for */
  readonly reports: readonly SourceReport[] | null
  /** a gesture under way; seen in the picture, not in the document */
  readonly draft: Edit | null
  readonly past: readonly Change[]
  readonly future: readonly Change[]
  /** made here, not yet acknowledged by the server; the first is on its way */
  readonly unsaved: readonly Edit[]
  readonly saving: Saving
  /** an edit the server refused because another tab was first */
  readonly conflict: { readonly message: string; readonly edit: Edit } | null
}

const initialState: ShotState = {
  shot: null,
  revision: 0,
  catalog: {},
  selected: null,
  selectedSource: null,
  reports: null,
  draft: null,
  past: [],
  future: [],
  unsaved: [],
  saving: 'saved',
  conflict: null,
}

const mostUndo = 500

/** What an artist turns to first: an element whose black and colour are to be matched, else any that covers, else the plate. */
function firstToMatch({ elements }: Shot): string {
  const found =
    elements.find((e) => e.treatments.some((t) => t.kind === 'veil-and-gain')) ??
    elements.find((e) => e.blend.kind === 'over')
  return (found ?? elements[0]).id
}

const slice = createSlice({
  name: 'shot',
  initialState,
  reducers: {
    opened: (_state, { payload }: PayloadAction<LoadedShot>): ShotState => ({
      ...initialState,
      ...payload,
      selected: firstToMatch(payload.shot),
    }),
    closed: (): ShotState => initialState,
    catalogRead: (draftState, { payload }: PayloadAction<Catalog>): ShotState => {
      const state = draftState as ShotState
      // The same files again must not make anything anew.
      return JSON.stringify(state.catalog) === JSON.stringify(payload) ? state : { ...state, catalog: payload }
    },
    selected: (state, { payload }: PayloadAction<string>): ShotState => ({
      ...(state as ShotState),
      selected: payload,
      selectedSource: null,
    }),
    sourceSelected: (state, { payload }: PayloadAction<string | null>): ShotState => ({
      ...(state as ShotState),
      selectedSource: payload,
    }),
    reportsRead: (state, { payload }: PayloadAction<readonly SourceReport[]>): ShotState => ({
      ...(state as ShotState),
      reports: payload,
    }),
    drafted: (state, { payload }: PayloadAction<Edit | null>): ShotState => ({
      ...(state as ShotState),
      draft: payload,
    }),
    /** changes the document at once; saving follows */
    edited: (draftState, { payload: edit }: PayloadAction<Edit>): ShotState => {
      const state = draftState as ShotState
      if (!state.shot) return state
      const { shot, patches, inverse } = applyEdit(state.shot, edit)
      if (patches.length === 0) return { ...state, draft: null }
      const change = { label: describeEdit(state.shot, edit), patches, inverse }
      return {
        ...state,
        shot,
        draft: null,
        past: [...state.past, change].slice(-mostUndo),
        future: [],
        unsaved: [...state.unsaved, edit],
      }
    },
    undone: (draftState): ShotState => {
      const state = draftState as ShotState
      const change = state.past.at(-1)
      if (!state.shot || !change) return state
      const edit: Edit = { kind: 'restore', what: `Undo: ${change.label}`, patches: change.inverse }
      const { shot } = applyEdit(state.shot, edit)
      return {
        ...state,
        shot,
        past: state.past.slice(0, -1),
        future: [change, ...state.future],
        unsaved: [...state.unsaved, edit],
      }
    },
    redone: (draftState): ShotState => {
      const state = draftState as ShotState
      const [change] = state.future
      if (!state.shot || !change) return state
      const edit: Edit = { kind: 'restore', what: `Redo: ${change.label}`, patches: change.patches }
      const { shot } = applyEdit(state.shot, edit)
      return {
        ...state,
        shot,
        past: [...state.past, change],
        future: state.future.slice(1),
        unsaved: [...state.unsaved, edit],
      }
    },
    savingChanged: (state, { payload }: PayloadAction<Saving>): ShotState => ({
      ...(state as ShotState),
      saving: payload,
    }),
    /** the server has the first unsaved edit, and perhaps other tabs' edits with it */
    acknowledged: (draftState, { payload }: PayloadAction<{ shot: Shot; revision: number }>): ShotState => {
      const state = draftState as ShotState
      const unsaved = state.unsaved.slice(1)
      const shot = unsaved.reduce((now, edit) => applyEdit(now, edit).shot, payload.shot)
      return { ...state, unsaved, revision: payload.revision, shot, saving: unsaved.length > 0 ? 'saving' : 'saved' }
    },
    /** another tab was first: its document counts, and what was refused is offered again */
    refused: (
      draftState,
      { payload }: PayloadAction<{ message: string; edit: Edit; shot: Shot; revision: number }>,
    ): ShotState => {
      const state = draftState as ShotState
      const { message, edit, shot, revision } = payload
      return {
        ...state,
        shot,
        revision,
        unsaved: [],
        past: [],
        future: [],
        saving: 'saved',
        conflict: { message, edit },
      }
    },
    conflictSettled: (state): ShotState => ({ ...(state as ShotState), conflict: null }),
    /** another tab's edits, brought in while nothing of ours was on its way */
    caughtUp: (draftState, { payload }: PayloadAction<{ shot: Shot; revision: number }>): ShotState => {
      const state = draftState as ShotState
      return state.unsaved.length > 0 || payload.revision <= state.revision ? state : { ...state, ...payload }
    },
  },
})

export const shotActions = slice.actions
export const shotReducer = slice.reducer
