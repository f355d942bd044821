/** How the making of sources stands. */

import type { MakingState } from '../../../../core/work'
import { serverCache } from '../../api/server-cache'
import type { RootState } from '../state'

const nothing: readonly MakingState[] = []

export const selectMaking = (state: RootState): readonly MakingState[] =>
  (state.shot.id === null ? undefined : serverCache.endpoints.making.select(state.shot.id)(state).data) ?? nothing
