/** One action for every change of how the shot is looked at; each slice of the view takes its own part. */

import { createAction } from '@reduxjs/toolkit'
import type { ComparingState } from './comparing'
import type { FramingState } from './framing'
import type { LookingState } from './looking'
import type { PlayingState } from './playing'
import type { ScreenState } from './screen'

/** Nothing here is ever in the data. */
export interface ViewState {
  readonly looking: LookingState
  readonly framing: FramingState
  readonly comparing: ComparingState
  readonly playing: PlayingState
  readonly screen: ScreenState
}

export type ViewChanges = { readonly [slice in keyof ViewState]?: Partial<ViewState[slice]> }

/** A shot was opened: everything as at the start, the playhead at the frame. */
export const viewOpened = createAction<number>('view/opened')
export const viewChanged = createAction<ViewChanges>('view/changed')
