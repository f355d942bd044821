/** The plate's mean light where a sample lies, at full scale. */

import { useStore } from 'react-redux'
import { useEngine } from '../../engine/engine-context'
import { planOf } from '../../store/plans'
import { selectCatalog, selectDocument, type PlacedSample } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'

/** @returns null, with a notice, where the plate cannot be read there */
export function useSampleLight(): (sample: PlacedSample) => Promise<readonly number[] | null> {
  const engine = useEngine()
  const store = useStore<RootState>()
  return async ({ name, x, y, width, height }) => {
    const state = store.getState()
    const shot = selectDocument(state)
    const plate = shot && planOf(shot, state.view.playing.frame, 1, selectCatalog(state)).plate
    if (!plate) return null
    try {
      const light = await engine.light(plate, { x, y, width, height })
      const count = width * height
      return [0, 1, 2].map((c) => light.filter((_, i) => i % 4 === c).reduce((sum, v) => sum + v, 0) / count)
    } catch (error) {
      const why = error instanceof Error ? error.message : String(error)
      store.dispatch(shotActions.noticed(`The plate could not be read under sample ${name}: ${why}`))
      return null
    }
  }
}
