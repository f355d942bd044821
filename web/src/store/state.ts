/** The shape of the whole store. */

import type { Handoff } from '../api/client'
import type { ShotState } from './shot-slice'
import type { ViewState } from './view-slice'

export interface RootState {
  readonly shot: ShotState
  readonly view: ViewState
  readonly handoffs: Handoff[]
}
