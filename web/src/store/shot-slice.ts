/** The shot on screen: its document, what is selected, what can be undone, and how saving stands. */

import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import { sameIfEqual, type Catalog } from '../../../core/plan/catalog'
import {
  applyEdit,
  mostUndo,
  elementsInOrder,
  find,
  takeBack,
  usesOf,
  type Change,
  type Edit,
  type Made,
  type Shot,
  type ShotWide,
  type TabEdit,
} from '../../../core/shot'
import type { LoadedShot } from '../api/client'

export type Saving = 'saved' | 'saving' | 'unreachable'

/** An edit made here that the server has not acknowledged. */
export interface Pending {
  /** random; by it the server knows an edit that is sent twice */
  readonly id: string
  readonly edit: Edit
  /** what it did to the document as it is here */
  readonly made: Made
  /** what the edit did that it takes back, if it is an undo */
  readonly of: Made | null
}

/** An edit that could not be made: kept with its values, and nothing waits for it. */
export interface Impossible {
  readonly id: string
  readonly edit: Edit
  readonly sentence: string
  /** another tab changed the same thing first: it can be made again over that */
  readonly rival: boolean
}

export interface Selected {
  /** glass, sensor and finish have no id of their own: it is their kind */
  readonly kind: 'element' | 'source' | 'witness' | 'track' | 'matte' | ShotWide
  readonly id: string
}

export interface ShotState {
  /** of the shot, in addresses */
  readonly id: string | null
  /** as the server has it at `revision` */
  readonly base: Shot | null
  /** the base with what is unsaved */
  readonly shot: Shot | null
  readonly revision: number
  readonly catalog: Catalog
  readonly selection: { readonly primary: Selected | null; readonly also: readonly Selected[] }
  /** a gesture under way; seen in the picture, not in the document */
  readonly draft: Change | null
  readonly past: readonly TabEdit[]
  readonly future: readonly TabEdit[]
  /** the first is on its way */
  readonly unsaved: readonly Pending[]
  readonly saving: Saving
  readonly impossible: readonly Impossible[]
  /** why the last undo or redo was not made */
  readonly notice: string | null
}

const initialState: ShotState = {
  id: null,
  base: null,
  shot: null,
  revision: 0,
  catalog: {},
  selection: { primary: null, also: [] },
  draft: null,
  past: [],
  future: [],
  unsaved: [],
  saving: 'saved',
  impossible: [],
  notice: null,
}

/** What an artist turns to first: an element whose black and colour are to be matched, else any that covers, else the plate. */
function firstToMatch(shot: Shot): Selected {
  const all = elementsInOrder(shot).map(({ element }) => element)
  const matched = (id: string) =>
    usesOf(shot, { kind: 'element', id }).some(
      ({ treatment }) => find(shot.treatments, treatment)?.kind === 'veil-and-gain',
    )
  const covers = all.filter(({ id, blend }) => id !== shot.plate && blend.kind === 'over')
  // A reflection is matched as well, by the gain of what it mirrors.
  const found = [...covers, ...all].find(({ id }) => matched(id)) ?? covers.at(0)
  return { kind: 'element', id: found?.id ?? shot.plate }
}

const messageOf = (error: unknown) => (error instanceof Error ? error.message : String(error))

/** The edit on a document; an undo takes back what `of` says. @throws ImpossibleEditError */
function made(shot: Shot, edit: Edit, of: Made | null) {
  if (edit.kind !== 'undo') return applyEdit(shot, edit)
  if (!of) throw new Error('What an undo takes back must be known.')
  return takeBack(shot, of)
}

/** The same edits again on a newer document; those that have become impossible stand aside. */
function rebased(state: ShotState, base: Shot, revision: number, unsaved: readonly Pending[]): ShotState {
  let shot = base
  const pending: Pending[] = []
  const impossible: Impossible[] = []
  for (const { id, edit, of } of unsaved) {
    try {
      const next = made(shot, edit, of)
      shot = next.shot
      pending.push({ id, edit, of, made: { label: next.label, patches: next.patches, inverse: next.inverse } })
    } catch (error) {
      impossible.push({ id, edit, sentence: messageOf(error), rival: false })
    }
  }
  const now = new Map(pending.map((one) => [one.id, one.made]))
  const lost = new Set(impossible.map(({ id }) => id))
  const again = (edits: readonly TabEdit[]) =>
    edits.filter(({ edit }) => !lost.has(edit)).map((one) => ({ ...one, ...now.get(one.edit) }))
  return {
    ...state,
    base,
    shot,
    revision,
    unsaved: pending,
    past: again(state.past),
    future: again(state.future),
    impossible: [...state.impossible, ...impossible],
    saving: pending.length > 0 ? 'saving' : 'saved',
  }
}

function without(edits: readonly TabEdit[], id: string): readonly TabEdit[] {
  return edits.some(({ edit }) => edit === id) ? edits.filter(({ edit }) => edit !== id) : edits
}

/** Undo and redo are the same: what was done is taken back, and that can be taken back in turn. */
function tookBack(state: ShotState, from: 'past' | 'future', id: string): ShotState {
  const entry = from === 'past' ? state.past.at(-1) : state.future[0]
  if (!state.shot || !entry) return state
  const rest = { ...state, [from]: without(state[from], entry.edit) }
  const edit: Edit = { kind: 'undo', edit: entry.edit }
  try {
    const { shot, label, patches, inverse } = takeBack(state.shot, entry)
    const done: Made = { label, patches, inverse }
    const back: TabEdit = { ...done, edit: id, undoes: entry.edit }
    const unsaved = [...state.unsaved, { id, edit, made: done, of: entry }]
    return from === 'past'
      ? { ...rest, shot, unsaved, draft: null, notice: null, future: [back, ...state.future] }
      : { ...rest, shot, unsaved, draft: null, notice: null, past: [...state.past, back] }
  } catch (error) {
    // It does not stand in the way of what was done before it.
    return { ...rest, notice: messageOf(error) }
  }
}

const withId = <T>(payload: T) => ({ payload, meta: { id: crypto.randomUUID() as string } })
type WithId<T> = PayloadAction<T, string, { id: string }>

const slice = createSlice({
  name: 'shot',
  initialState,
  reducers: {
    opened: (
      _state,
      { payload }: PayloadAction<LoadedShot & { past?: readonly TabEdit[]; future?: readonly TabEdit[] }>,
    ): ShotState => ({
      ...initialState,
      ...payload,
      base: payload.shot,
      selection: { primary: firstToMatch(payload.shot), also: [] },
    }),
    closed: (): ShotState => initialState,
    catalogRead: (draftState, { payload }: PayloadAction<Catalog>): ShotState => {
      const state = draftState as ShotState
      // The same files again must not make anything anew.
      const catalog = sameIfEqual(state.catalog, payload)
      return catalog === state.catalog ? state : { ...state, catalog }
    },
    /** what the server has of this tab, read while nothing was on its way: see undo-reading.ts */
    undoRead: (
      draftState,
      { payload }: PayloadAction<{ past: readonly TabEdit[]; future: readonly TabEdit[] }>,
    ): ShotState => {
      const state = draftState as ShotState
      return { ...state, past: payload.past, future: payload.future }
    },
    selected: (draftState, { payload }: PayloadAction<string>): ShotState => ({
      ...(draftState as ShotState),
      selection: { primary: { kind: 'element', id: payload }, also: [] },
    }),
    /** several at once, the one whose card is opened first */
    elementsSelected: (draftState, { payload }: PayloadAction<readonly string[]>): ShotState => {
      const [primary = null, ...also] = payload.map((id): Selected => ({ kind: 'element', id }))
      return { ...(draftState as ShotState), selection: { primary, also } }
    },
    shotWideSelected: (draftState, { payload: kind }: PayloadAction<ShotWide>): ShotState => ({
      ...(draftState as ShotState),
      selection: { primary: { kind, id: kind }, also: [] },
    }),
    /** one more, or one fewer */
    alsoSelected: (draftState, { payload }: PayloadAction<Selected>): ShotState => {
      const state = draftState as ShotState
      const { primary, also } = state.selection
      const isIt = (one: Selected) => one.kind === payload.kind && one.id === payload.id
      if (primary && isIt(primary)) {
        const [next = null, ...rest] = also
        return { ...state, selection: { primary: next, also: rest } }
      }
      const rest = also.some(isIt) ? also.filter((one) => !isIt(one)) : [...also, ...(primary ? [primary] : [])]
      return { ...state, selection: also.some(isIt) ? { primary, also: rest } : { primary: payload, also: rest } }
    },
    /** its card is opened, or closed again; the element that was selected comes back then */
    sourceSelected: (draftState, { payload }: PayloadAction<string | null>): ShotState => {
      const state = draftState as ShotState
      const { primary, also } = state.selection
      const elements = [...(primary ? [primary] : []), ...also].filter(({ kind }) => kind === 'element')
      if (payload !== null) return { ...state, selection: { primary: { kind: 'source', id: payload }, also: elements } }
      const [first = null, ...rest] = elements
      return { ...state, selection: { primary: first, also: rest } }
    },
    /** what is no element: the elements that were selected stay beside it */
    thingSelected: (
      draftState,
      { payload }: PayloadAction<{ readonly kind: 'witness' | 'track' | 'matte'; readonly id: string }>,
    ): ShotState => {
      const state = draftState as ShotState
      const { primary, also } = state.selection
      const elements = [...(primary ? [primary] : []), ...also].filter(({ kind }) => kind === 'element')
      return { ...state, selection: { primary: payload, also: elements } }
    },
    drafted: (draftState, { payload }: PayloadAction<Change | null>): ShotState => ({
      ...(draftState as ShotState),
      draft: payload,
    }),
    edited: {
      /** @param id of an edit that the server made; absent: a new one */
      prepare: (edit: Change, id?: string) => (id === undefined ? withId(edit) : { payload: edit, meta: { id } }),
      reducer: (draftState, { payload: edit, meta: { id } }: WithId<Change>): ShotState => {
        const state = draftState as ShotState
        if (!state.shot) return state
        try {
          const { shot, label, patches, inverse } = applyEdit(state.shot, edit)
          if (patches.length === 0) return { ...state, draft: null }
          const did: Made = { label, patches, inverse }
          return {
            ...state,
            shot,
            draft: null,
            notice: null,
            past: [...state.past, { ...did, edit: id, undoes: null }].slice(-mostUndo),
            future: [],
            unsaved: [...state.unsaved, { id, edit, made: did, of: null }],
          }
        } catch (error) {
          return {
            ...state,
            draft: null,
            impossible: [...state.impossible, { id, edit, sentence: messageOf(error), rival: false }],
          }
        }
      },
    },
    undone: {
      prepare: () => withId(null),
      reducer: (draftState, { meta }: WithId<null>): ShotState => tookBack(draftState as ShotState, 'past', meta.id),
    },
    redone: {
      prepare: () => withId(null),
      reducer: (draftState, { meta }: WithId<null>): ShotState => tookBack(draftState as ShotState, 'future', meta.id),
    },
    savingChanged: (state, { payload }: PayloadAction<Saving>): ShotState => ({
      ...(state as ShotState),
      saving: payload,
    }),
    /** the server has an edit of ours, and perhaps other tabs' with it; `made` is what it did there */
    acknowledged: (
      draftState,
      { payload }: PayloadAction<{ id: string; shot: Shot; revision: number; made: Made | null }>,
    ): ShotState => {
      const state = draftState as ShotState
      const { id, made: did } = payload
      const settle = (edits: readonly TabEdit[]) =>
        did ? edits.map((one) => (one.edit === id ? { ...one, ...did } : one)) : without(edits, id)
      const unsaved = state.unsaved.filter((one) => one.id !== id)
      const settled = { ...state, past: settle(state.past), future: settle(state.future) }
      return rebased(settled, payload.shot, payload.revision, unsaved)
    },
    /** the server cannot make an edit of ours: it stands aside, and what was made after it goes on */
    refused: (
      draftState,
      { payload }: PayloadAction<{ id: string; sentence: string; rival: boolean; shot: Shot; revision: number }>,
    ): ShotState => {
      const state = draftState as ShotState
      const { id, sentence, rival, shot, revision } = payload
      const refused = state.unsaved.find((one) => one.id === id)
      const rest = state.unsaved.filter((one) => one.id !== id)
      const aside = refused ? [{ id, edit: refused.edit, sentence, rival }] : []
      const stacks = { past: without(state.past, id), future: without(state.future, id) }
      return rebased({ ...state, ...stacks, impossible: [...state.impossible, ...aside] }, shot, revision, rest)
    },
    /** an impossible edit is let go, or made again by an edit of its own */
    impossibleSettled: (draftState, { payload }: PayloadAction<string>): ShotState => {
      const state = draftState as ShotState
      return { ...state, impossible: state.impossible.filter(({ id }) => id !== payload) }
    },
    noticed: (draftState, { payload }: PayloadAction<string>): ShotState => ({
      ...(draftState as ShotState),
      notice: payload,
    }),
    noticeRead: (draftState): ShotState => ({ ...(draftState as ShotState), notice: null }),
    /** another tab's edits, while nothing of ours is on its way */
    caughtUp: (draftState, { payload }: PayloadAction<{ shot: Shot; revision: number }>): ShotState => {
      const state = draftState as ShotState
      if (state.unsaved.length > 0 || payload.revision <= state.revision) return state
      return { ...state, base: payload.shot, shot: payload.shot, revision: payload.revision }
    },
  },
})

export const shotActions = slice.actions
export const shotReducer = slice.reducer
