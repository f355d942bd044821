/** One action for every change of how the shot is looked at; each slice of the view takes its own part. */

import { createAction } from '@reduxjs/toolkit'
import type { ViewState } from './state'

export type ViewChanges = { readonly [slice in keyof ViewState]?: Partial<ViewState[slice]> }

/** A shot was opened: everything as at the start, the playhead at the frame. */
export const viewOpened = createAction<number>('view/opened')
export const viewChanged = createAction<ViewChanges>('view/changed')
