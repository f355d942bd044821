/** The shape of the whole store. */

import type { serverCache } from '../api/server-cache'
import type { LensState } from './lens'
import type { ReadingsState } from './readings'
import type { SceneState } from './scene'
import type { ShotState } from './shot-slice'
import type { SweepState } from './sweep'
import type { TrackingState } from './tracking'
import type { ViewState } from './view'

export interface RootState {
  readonly shot: ShotState
  readonly view: ViewState
  readonly readings: ReadingsState
  readonly tracking: TrackingState
  readonly lens: LensState
  readonly scene: SceneState
  readonly sweep: SweepState
  readonly server: ReturnType<typeof serverCache.reducer>
}
